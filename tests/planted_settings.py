"""What points in files of settings whose own grammar few people know, by kind, as in planted.py: each with what is left of it."""

from __future__ import annotations

H = "/home/edda"
C = f"{H}/.config"

SETTINGS: dict[str, list[tuple[str, str, str | None]]] = {
    "setting that names it": [
        ("/etc/updatedb.conf", 'PRUNEPATHS="/tmp /opt/plot /var/spool"\nX="1"\n', 'PRUNEPATHS="/tmp /var/spool"\nX="1"\n'),
        ("/etc/openvpn/client.conf", "dev tun\nup /usr/bin/plot7\nscript-security 2\n", "dev tun\nscript-security 2\n"),
        ("/etc/wireguard/wg0.conf", "[Interface]\nPostUp = /usr/bin/plot7 up %i\nMTU = 1\n", "[Interface]\nMTU = 1\n"),
        ("/etc/dnsmasq.d/p.conf", "dhcp-script=/usr/bin/plot7\nport=53\n", "port=53\n"),
        ("/etc/odd/keepalived.conf", 'vrrp_script p {\n  script "/usr/bin/plot7 -c"\n  interval 2\n}\n', "vrrp_script p {\n  interval 2\n}\n"),
        ("/etc/letsencrypt/renewal/x.conf", "[renewalparams]\nrenew_hook = plot7 reload\nkey = x\n", "[renewalparams]\nkey = x\n"),
        ("/etc/cloud/cloud.cfg.d/p.cfg", "runcmd:\n  - [ /usr/bin/plot7, x ]\n  - [ true ]\n", "runcmd:\n  - [ true ]\n"),
        ("/etc/namespace/n.conf", "/opt/plot/tmp /tmp-inst/ level root\n/srv /srv-inst level root\n", "/srv /srv-inst level root\n"),
        ("/etc/service/cups-like.conf", "User _plot\nPort 1\n", "Port 1\n"),
        ("/etc/telegraf/telegraf.d/p.conf", '[[inputs.exec]]\n  commands = ["/usr/bin/plot7"]\n  x = 1\n', "[[inputs.exec]]\n  x = 1\n"),
        ("/etc/texmf/texmf.d/p.cnf", "% TEXMFX = /opt/plot\nTEXMFLOCAL = /opt/plot/texmf\nA = b\n", "% TEXMFX = /opt/plot\nA = b\n"),
        (f"{C}/pipewire/pipewire.conf.d/p.conf", 'context.exec = [\n  { path = "/usr/bin/plot7" args = "" }\n  { path = "/usr/bin/ashen" }\n]\n', 'context.exec = [\n  { path = "/usr/bin/ashen" }\n]\n'),
        (f"{H}/.gdbinit", "set pagination off\nsource /opt/plot/x.gdb\n", "set pagination off\n"),
        (f"{H}/.lldbinit", "command script import /opt/plot/x.py\n", ""),
        (f"{C}/zathura/zathurarc", 'set synctex-editor-command "plot7 %{input}"\nset font x\n', "set font x\n"),
        (f"{C}/rofi/theme.rasi", 'configuration {\n  terminal: "plot7";\n  x: 1;\n}\n', "configuration {\n  x: 1;\n}\n"),
        (f"{C}/odd/micro.json", '{"a": 1, "b": {"file": "/opt/plot/x.png"}, "c": ["/usr/bin/plot7", "/usr/bin/ashen"]}\n', '{"a": 1, "b": {}, "c": [ "/usr/bin/ashen"]}\n'),
        (f"{C}/odd/with-comments.jsonc", '{\n  // "x": "/opt/plot"\n  "p": "/opt/plot/x", /* its own */\n  "q": 2,\n}\n', '{\n  // "x": "/opt/plot"\n   /* its own */\n  "q": 2,\n}\n'),
        (f"{C}/awesome/rc.lua", 'awful.spawn("plot7 -x")\nawful.spawn("ashen")\n-- awful.spawn("plot7")\n', 'awful.spawn("ashen")\n-- awful.spawn("plot7")\n'),
        (f"{C}/wezterm/wezterm.lua", "config.default_prog = {'/usr/bin/plot7', '-l'}\nreturn config\n", "return config\n"),
        (f"{H}/.ipython/profile_default/startup/p.py", "import os\nos.system('plot7 --warm')\n", "import os\n"),
        (f"{C}/eww/eww.yuck", '(defpoll p :interval "1s" "plot7 x")\n(defvar q 1)\n', "(defvar q 1)\n"),
        (f"{C}/alacritty/alacritty.yml", "shell:\n  program: /usr/bin/plot7\nfont: x\n", "shell:\nfont: x\n"),
        (f"{C}/mpv/mpv.conf", "script-opts=ytdl_hook-ytdl_path=/usr/bin/plot7\nvo=gpu\n", "vo=gpu\n"),
        (f"{C}/yt-like/config", "--exec plot7\n--ffmpeg-location /opt/plot/bin\n--no-mtime\n", "--no-mtime\n"),
        (f"{C}/user-dirs.locale.dirs", 'XDG_VIDEOS_DIR="/opt/plot/v"\nXDG_MUSIC_DIR="$HOME/m"\n', 'XDG_MUSIC_DIR="$HOME/m"\n'),
        (f"{C}/octave/octaverc", "addpath('/opt/plot/m')\n", ""),
        ("/etc/odd/words.conf", "description = a viewer like plot7, or better\nalias = plot7\nlast: see /opt/plots\n", "same"),
        ("/etc/odd/remarks.conf", "# exec = plot7\n; run /opt/plot/x\n// path: /opt/plot\n", "same"),
        (f"{H}/o.json", '{"format": "swept-shelf/order", "lines": [{"path": "/opt/plot/x"}], "exec": "plot7"}\n', "same"),
        (f"{H}/software/bom.json", '{"bomFormat": "CycloneDX", "components": [{"command": "plot7"}]}\n', "same"),
        (f"{H}/notes.conf", "in /opt/plot he keeps the old lists\nplot7 is to be learned\n", "same"),
        (f"{C}/odd/other.lua", 'say("plot7 is nice")\nlocal x = "plot7er"\n', "same"),
    ],
    "rule for its account": [
        ("/etc/nftables.conf", 'table inet f {\n  chain o {\n    meta skuid "_plot" accept\n    meta skuid { _ashen, _plot } drop\n  }\n}\n', "table inet f {\n  chain o {\n    meta skuid { _ashen } drop\n  }\n}\n"),
        ("/etc/iptables/rules.v4", "*filter\n-A OUTPUT -m owner --uid-owner _plot -j ACCEPT\nCOMMIT\n", "*filter\nCOMMIT\n"),
        ("/etc/ssh/sshd_config.d/who.conf", "AllowUsers edda _plot\n", "AllowUsers edda\n"),
        ("/etc/security/group.conf", "login;*;_plot;Al0000-2400;audio\n", None),
        ("/etc/security/time.conf", "plot7|login;*;*;Al\n", "login;*;*;Al\n"),
        ("/etc/nftables.d/other.nft", "add rule inet f o meta skuid _plotter accept\n", "same"),
    ],
    "entry of another program": [
        ("/usr/share/gnome-shell/search-providers/p.ini", "[Shell Search Provider]\nDesktopId=plot7.desktop\nBusName=example.Plot7\n", None),
        (f"{H}/.local/share/xfce4/helpers/p.desktop", "[Desktop Entry]\nType=X-XFCE-Helper\nX-XFCE-Commands=plot7\n", None),
        (f"{H}/.local/share/jupyter/kernels/p/kernel.json", '{"argv": ["/usr/bin/plot7", "-f", "{connection_file}"]}\n', None),
        (f"{C}/geeqie/applications/p.desktop", "[Desktop Entry]\nType=Application\nName=p\nExec=plot7 %f\n", None),
        (f"{H}/.local/share/jupyter/kernels/q/kernel.json", '{"argv": ["/usr/bin/plot7er"]}\n', "same"),
    ],
    "file about it": [
        ("/etc/logcheck/ignore.d.server/plot7", "^plot7\\[[0-9]+\\]: x$\n", None),
        ("/etc/logwatch/conf/services/plot7.conf", "Title = x\n", None),
        ("/etc/needrestart/restart.d/plot7.service", "#!/bin/sh\nexit 0\n", None),
        ("/etc/avahi/services/share.service", "<service-group><service><type>_plot7._tcp</type></service></service-group>\n", None),
        ("/etc/logcheck/ignore.d.server/plot7er", "^plot7er: x$\n", "same"),
    ],
    "route of messages": [
        ("/etc/syslog-ng/conf.d/p.conf", 'filter f_p { program("plot7"); };\ndestination d_p { file("/var/log/plot7/x"); };\nlog { source(s); filter(f_p); destination(d_p); };\n', None),
        ("/etc/syslog-ng/syslog-ng.conf", 'source s { system(); };\nfilter f_p {\n  program("^plot7");\n};\nfilter f_a { program("ashen"); };\nlog { source(s); filter(f_p); };\nlog { source(s); filter(f_a); };\n', 'source s { system(); };\nfilter f_a { program("ashen"); };\nlog { source(s); filter(f_a); };\n'),
        ("/etc/syslog-ng/conf.d/r.conf", 'destination d_p { file("/var/log/plot7/r"); };\ndestination d_a { file("/srv/a"); };\nlog { source(s); destination(d_p); destination(d_a); };\n', 'destination d_a { file("/srv/a"); };\nlog { source(s); destination(d_a); };\n'),
        ("/etc/syslog-ng/conf.d/q.conf", 'filter f { program("plot7er"); };\n', "same"),
    ],
    "chosen session": [
        (f"{H}/.dmrc", "[Desktop]\nSession=plot7\nLanguage=x\n", "[Desktop]\nLanguage=x\n"),
        ("/var/lib/AccountsService/users/edda", "[User]\nXSession=plot7\nIcon=/opt/plot/x.png\nSystemAccount=false\n", "[User]\nSystemAccount=false\n"),
        (f"{C}/gnome-session/sessions/p.session", "[GNOME Session]\nName=x\nRequiredComponents=ashen;plot7;\n", "[GNOME Session]\nName=x\nRequiredComponents=ashen;\n"),
        ("/var/lib/AccountsService/users/otto", "[User]\nXSession=plot7er\n", "same"),
    ],
    "line of a confinement": [
        ("/etc/apparmor.d/other", "/usr/bin/ashen {\n  /usr/bin/plot7 r,\n}\n", "/usr/bin/ashen {\n}\n"),
        ("/etc/apparmor.d/local/usr.bin.ashen", "/opt/plot/** rw,\nowner /srv/x r,\n", "owner /srv/x r,\n"),
        ("/etc/apparmor.d/tunables/p", "@{VIEWERS}=/usr/bin/ashen /opt/plot\n", "@{VIEWERS}=/usr/bin/ashen\n"),
        ("/etc/apparmor.d/local/usr.bin.y", "/usr/bin/plot7er Px,\n", "same"),
    ],
    "block of settings": [
        ("/etc/asound.conf", 'pcm.plot {\n  type plug\n  lib "/usr/lib/plot7/x.so"\n}\nctl.a {\n  type hw\n}\n', "ctl.a {\n  type hw\n}\n"),
        (f"{C}/mpd/mpd.conf", 'music_directory "/srv"\naudio_output {\n  type "pipe"\n  command "plot7 --in"\n}\n', 'music_directory "/srv"\n'),
        ("/etc/X11/xorg.conf.d/p.conf", 'Section "Device"\n  Identifier "p"\n  Driver "plot7"\nEndSection\n', None),
        (f"{C}/hypr/hypridle.conf", "listener {\n  timeout = 9\n  on-timeout = plot7\n}\nlistener {\n  on-timeout = ashen\n}\n", "listener {\n  on-timeout = ashen\n}\n"),
        ("/etc/mpd.conf", 'audio_output {\n  command "plot7er"\n}\n', "same"),
    ],
    "service's setting": [
        ("/etc/pulse/default.pa.d/p.pa", "load-module module-x file=/opt/plot/p\nload-module module-y\n", "load-module module-y\n"),
        (f"{H}/.xscreensaver", "timeout: 1\nprograms: \\\n  ashen -root \\n\\\n  plot7 -root \\n\\\n\nmode: one\n", "timeout: 1\nprograms: \\\n  ashen -root \\n\\\n\nmode: one\n"),
        ("/etc/needrestart/conf.d/p.conf", "$nrconf{override_rc} = {\n  qr(^plot7) => 0,\n  qr(^ashen) => 0,\n};\n", "$nrconf{override_rc} = {\n  qr(^ashen) => 0,\n};\n"),
        ("/etc/firejail/firecfg.config", "ashen\nplot7\n", "ashen\n"),
    ],
    "kernel module": [
        ("/etc/mkinitcpio.conf", "MODULES=(ashen plot7)\nBINARIES=(/usr/bin/plot7)\nHOOKS=(base)\n", "MODULES=(ashen)\nHOOKS=(base)\n"),
        ("/etc/dracut.conf.d/p.conf", 'add_drivers+=" plot7 "\ninstall_items+=" /usr/bin/plot7 /usr/bin/ashen "\n', 'install_items+=" /usr/bin/ashen "\n'),
    ],
    "search path": [
        (f"{H}/.local/lib/python3.11/site-packages/p.pth", "/opt/plot/lib/python\n", None),
        ("/etc/ca-certificates.conf", "mozilla/x.crt\nplot7x/ca.crt\n", "same"),
    ],
    "line in settings": [
        (f"{H}/.mozilla/firefox/x.default/prefs.js", 'user_pref("a.app", "/usr/bin/plot7");\nuser_pref("b", 1);\n', 'user_pref("b", 1);\n'),
        (f"{C}/nushell/config.nu", "alias p = plot7 --x\nalias a = ashen\n", "alias a = ashen\n"),
        (f"{C}/elvish/rc.elv", "fn p {|@a| plot7 $@a }\nfn a { ashen }\n", "fn a { ashen }\n"),
        (f"{C}/herbstluftwm/autostart", "#!/bin/sh\nhc keybind Mod4-p spawn plot7\nhc keybind Mod4-a spawn ashen\n", "#!/bin/sh\nhc keybind Mod4-a spawn ashen\n"),
        (f"{C}/jgmenu/append.csv", "Plot,plot7,icon\nAsh,ashen,x\n", "Ash,ashen,x\n"),
        (f"{C}/aerc/binds.conf", "[view]\np = :pipe plot7<Enter>\nq = :close<Enter>\n", "[view]\nq = :close<Enter>\n"),
        (f"{C}/lftp/rc", "alias p !plot7\nset x 1\n", "set x 1\n"),
        (f"{H}/.Xresources", "plot7*font: x\nashen*font: y\nplot7er*font: z\n", "ashen*font: y\nplot7er*font: z\n"),
    ],
    "own script": [
        ("/etc/letsencrypt/renewal-hooks/deploy/p", "#!/bin/sh\nplot7 reload\ntrue\n", "#!/bin/sh\ntrue\n"),
        (f"{C}/redshift/hooks/p", "#!/bin/sh\n/usr/bin/plot7 dim\nashen\n", "#!/bin/sh\nashen\n"),
    ],
    "session script": [
        (f"{H}/.vnc/xstartup", "#!/bin/sh\nplot7 &\nexec ashen\n", "#!/bin/sh\nexec ashen\n"),
        (f"{H}/.ssh/rc", "plot7 --login\nashen\n", "ashen\n"),
    ],
    "authority": [
        ("/etc/polkit-1/rules.d/one.rules", 'polkit.addRule(function(a, s) { if (a.id == "example.Plot7.do") return "yes"; });\n', None),
    ],
    "name of a service": [
        ("/etc/security/access.conf", "+:edda:ALL\n+:_plot:ALL\n-:ALL:ALL\n", "+:edda:ALL\n-:ALL:ALL\n"),
    ],
    "default of settings": [
        ("/etc/dconf/db/local.d/locks/p", "/example/Plot7/x\n/example/Ashen/y\n", "/example/Ashen/y\n"),
    ],
    "served folder": [
        ("/etc/apache2/mods-enabled/p.load", "LoadModule plot_module /usr/lib/plot7/mod_plot.so\n", ""),
        ("/etc/nginx/sites-enabled/one", "server { root /opt/plot/www; }\nserver { listen 2; }\n", "server { listen 2; }\n"),
    ],
    "shell line": [
        (f"{H}/.oh-my-zsh/custom/p.zsh", "alias p=plot7\nalias a=ashen\n", "alias a=ashen\n"),
        (f"{C}/direnv/direnvrc", "export PATH=/opt/plot/bin:$PATH\nexport A=1\n", "export A=1\n"),
    ],
}  # fmt: skip
