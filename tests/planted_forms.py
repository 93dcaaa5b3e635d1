"""Unusual and valid forms in which files point, by kind, as in planted.py: each with what is left of it."""

from __future__ import annotations

H = "/home/edda"

FORMS = {
    "line in settings": [
        (f"{H}/.config/sway/config.d/x", "exec_always plot7\n", ""),
        (
            f"{H}/.config/hypr/hyprland.conf",
            "bind = SUPER, P, exec, plot7\nexec-once = ashen\n",
            "exec-once = ashen\n",
        ),
        (f"{H}/.fluxbox/keys", "Mod4 p :Exec plot7\nMod4 a :Exec ashen\n", "Mod4 a :Exec ashen\n"),
        (
            f"{H}/.fluxbox/menu",
            "[begin] (x)\n[exec] (Plot) {plot7 -x}\n[exec] (Ash) {ashen}\n[end]\n",
            "[begin] (x)\n[exec] (Ash) {ashen}\n[end]\n",
        ),
        (f"{H}/.icewm/keys", 'key "Alt+Ctrl+p" plot7\n', ""),
        (f"{H}/.icewm/menu", 'prog "Plot" plot plot7 -x\n', ""),
        (f"{H}/.vimrc", "set grepprg=plot7\\ -n\nset nu\n", "set nu\n"),
        (f"{H}/.emacs", '(setq browse-url-generic-program "plot7")\n(setq x 1)\n', "(setq x 1)\n"),
        (f"{H}/.tmux.conf", 'bind p run-shell "plot7 --x"\nset -g mouse on\n', "set -g mouse on\n"),
        (f"{H}/.screenrc", "shell plot7\nstartup_message off\n", "startup_message off\n"),
        (f"{H}/.config/kitty/kitty.conf", "map ctrl+p launch plot7\nfont_size 11\n", "font_size 11\n"),
        (f"{H}/.config/mc/mc.ext", "shell/.x\n\tOpen=plot7 %f\n", "shell/.x\n"),
        (f"{H}/.config/vifm/vifmrc", "filetype *.x plot7 %f\n", ""),
        (f"{H}/.config/newsboat/config", 'browser "plot7 %u"\n', ""),
        (f"{H}/.config/mpv/input.conf", 'p run plot7 "${path}"\n', ""),
        (f"{H}/.conkyrc", "conky.text = [[${exec plot7 --x}]]\n", "conky.text = [[]]\n"),
        (
            f"{H}/.config/conky/conky.conf",
            "conky.text = [[\n${execi 60 plot7}\n]]\n",
            "conky.text = [[\n\n]]\n",
        ),
        (f"{H}/.gtkrc-2.0", 'include "/opt/plot/gtkrc"\n', ""),
        (f"{H}/.config/tmux/tmux.conf", 'set -g status-left "plot7"\nbind r source ~/.tmux.conf\n', "same"),
        (
            f"{H}/.vim/vimrc",
            '" !plot7\nlet g:name = "plot7 is good"\nnnoremap <F5> :!plot7 %<CR>\nau BufWritePost * silent !ashen\n',
            '" !plot7\nlet g:name = "plot7 is good"\nau BufWritePost * silent !ashen\n',
        ),
        (f"{H}/.xinputrc", "run_im plot7\n", ""),
        (
            f"{H}/.config/swayidle/config",
            "timeout 300 'plot7 lock'\nbefore-sleep 'ashen'\n",
            "before-sleep 'ashen'\n",
        ),
        (f"{H}/.config/river/init", "#!/bin/sh\nriverctl map normal Super P spawn plot7\n", "#!/bin/sh\n"),
        (
            f"{H}/.config/niri/config.kdl",
            'binds {\n  Mod+P { spawn "plot7"; }\n}\nspawn-at-startup "plot7" "-x"\n',
            "binds {\n}\n",
        ),
        (f"{H}/.config/lf/lfrc", "map p $plot7 $f\ncmd open &plot7 $f\n", ""),
        (
            f"{H}/.config/yazi/yazi.toml",
            "[opener]\nedit = [\n  { run = 'plot7 \"$@\"', block = true },\n]\n",
            "[opener]\nedit = [\n]\n",
        ),
        (f"{H}/.urlview", "COMMAND plot7 %s\n", ""),
        (f"{H}/.w3m/config", "extbrowser plot7\n", ""),
        (f"{H}/.elinks/elinks.conf", 'set mime.handler.x.unix.program = "plot7 %"\n', ""),
        (f"{H}/.ncmpcpp/config", 'execute_on_song_change = "plot7 --song"\n', ""),
        ("/etc/default/useradd", "SHELL=/usr/bin/plot7\n", ""),
        ("/etc/adduser.conf", "DSHELL=/usr/bin/plot7\n", ""),
        ("/etc/login.defs", "FAKE_SHELL /usr/bin/plot7\n", ""),
    ],
    "action or key": [
        (
            f"{H}/.jwmrc",
            '<?xml version="1.0"?>\n<JWM><RootMenu><Program label="x">plot7 -x</Program><Program label="y">ashen</Program></RootMenu></JWM>\n',
            '<?xml version="1.0"?>\n<JWM><RootMenu><Program label="y">ashen</Program></RootMenu></JWM>\n',
        ),
        (
            f"{H}/.config/openbox/menu.xml",
            '<openbox_menu><menu id="a"><item label="x"><action name="Execute"><execute>plot7</execute></action></item></menu></openbox_menu>\n',
            '<openbox_menu><menu id="a"></menu></openbox_menu>\n',
        ),
        (
            "/etc/xdg/openbox/menu.xml",
            '<openbox_menu><menu id="r"><item label="p"><action name="Execute"><command>plot7</command></action></item></menu></openbox_menu>\n',
            '<openbox_menu><menu id="r"></menu></openbox_menu>\n',
        ),
        (
            f"{H}/.config/JetBrains/IDE1/tools/External Tools.xml",
            '<toolSet name="External Tools"><tool name="p"><exec><option name="COMMAND" value="plot7"/></exec></tool></toolSet>\n',
            '<toolSet name="External Tools"></toolSet>\n',
        ),
        (
            "/etc/ImageMagick-6/delegates.xml",
            '<delegatemap>\n  <delegate decode="x" command="&quot;plot7&quot; %i"/>\n</delegatemap>\n',
            "<delegatemap>\n</delegatemap>\n",
        ),
    ],
    "session script": [
        (f"{H}/.config/plasma-workspace/env/p.sh", "export X=1\nplot7 --env\n", "export X=1\n"),
        (f"{H}/.config/autostart-scripts/p.sh", "#!/bin/sh\nplot7\n", "#!/bin/sh\n"),
        ("/etc/gdm3/PostLogin/Default", "#!/bin/sh\nplot7\n", "#!/bin/sh\n"),
        (f"{H}/.config/labwc/autostart", "plot7 &\n", ""),
    ],
    "own script": [
        ("/etc/NetworkManager/dispatcher.d/50-p", "#!/bin/sh\nplot7 --net\n", "#!/bin/sh\n"),
        ("/etc/network/if-up.d/p", "#!/bin/sh\n/usr/bin/plot7\n", "#!/bin/sh\n"),
        ("/etc/kernel/postinst.d/p", "#!/bin/sh\nexec plot7\n", "#!/bin/sh\n"),
        ("/etc/initramfs-tools/hooks/p", "#!/bin/sh\ncopy_exec /usr/bin/plot7\n", "#!/bin/sh\n"),
        ("/etc/update-motd.d/70-p", "#!/bin/sh\nplot7 --motd\n", "#!/bin/sh\n"),
        ("/usr/lib/systemd/system-sleep/p", "#!/bin/sh\n/usr/bin/plot7\n", "#!/bin/sh\n"),
        ("/etc/sv/p/run", "#!/bin/sh\nexec plotd\n", "#!/bin/sh\n"),
        (f"{H}/.local/share/nautilus/scripts/Plot it", '#!/bin/sh\nplot7 "$1"\n', "#!/bin/sh\n"),
        ("/etc/systemd/system-generators/p", "#!/bin/sh\nplot7 --gen\n", "#!/bin/sh\n"),
        ("/etc/default/grub.d/p.cfg", 'GRUB_INIT_TUNE="x"\n. /opt/plot/grub\n', 'GRUB_INIT_TUNE="x"\n'),
        ("/etc/dhcp/dhclient-exit-hooks.d/p", "/usr/bin/plot7 --dhcp\n", ""),
        ("/etc/ppp/ip-up.d/p", "#!/bin/sh\nplot7\n", "#!/bin/sh\n"),
        (f"{H}/.config/caja/scripts/p", "#!/bin/bash\nplot7\n", "#!/bin/bash\n"),
    ],
    "service's setting": [
        ("/etc/acpi/events/p", "event=button/power\naction=/usr/bin/plot7 --off\n", None),
        ("/etc/inittab", "id:2:initdefault:\np:2345:respawn:/usr/bin/plot7 -x\n", "id:2:initdefault:\n"),
        ("/etc/incron.d/p", "/var/in IN_CREATE /usr/bin/plot7 $@\n", None),
        ("/var/spool/incron/edda", "/home/edda/in IN_CREATE plot7 $@\n", None),
        (
            "/etc/monit/conf.d/p",
            'check process plotd with pidfile /run/plotd.pid\n  start program = "/usr/bin/plot7"\n',
            None,
        ),
        ("/etc/supervisor/conf.d/p.conf", "[program:plot]\ncommand=/usr/bin/plot7 -x\n", None),
        ("/etc/nagios/nrpe.d/p.cfg", "command[check_plot]=/usr/bin/plot7 --check\n", None),
        ("/etc/zabbix/zabbix_agentd.d/p.conf", "UserParameter=plot.size,/usr/bin/plot7 --size\n", None),
        ("/etc/snmp/snmpd.conf", "extend plot /usr/bin/plot7 --snmp\n", None),
        ("/etc/rsnapshot.conf", "cmd_preexec\t/usr/bin/plot7 --dump\n", None),
        (
            "/etc/lightdm/lightdm.conf.d/p.conf",
            "[Seat:*]\nsession-setup-script=/usr/bin/plot7 --login\n",
            "[Seat:*]\n",
        ),
        (f"{H}/.aws/config", "[default]\ncredential_process = /usr/bin/plot7 --cred\n", "[default]\n"),
        (f"{H}/.gnupg/gpg-agent.conf", "pinentry-program /usr/bin/plot7\n", None),
        (
            "/etc/monit/conf-enabled/two",
            'check process ash with pidfile /run/a.pid\n  start program = "/usr/bin/ashen"\ncheck process plot with pidfile /run/p.pid\n  start program = "/usr/bin/plot7 -d" as uid "x"\n  if 3 restarts within 5 cycles then exec "/usr/bin/ashen"\n',
            'check process ash with pidfile /run/a.pid\n  start program = "/usr/bin/ashen"\n',
        ),
        (
            "/etc/monit/conf.d/decoy",
            'check process plot7 with pidfile /run/plot7.pid\n  start program = "/usr/bin/plot7er"\n',
            "same",
        ),
        (
            "/etc/supervisor/conf.d/two.conf",
            '[program:ash]\ncommand=ashen\n\n[program:p]\nautostart=true\ncommand=/bin/sh -c "plot7 --run"\n',
            "[program:ash]\ncommand=ashen\n\n",
        ),
        ("/etc/smartd.conf", "DEVICESCAN -M exec /usr/bin/plot7\n", None),
    ],
    "mail": [
        ("/etc/aliases", 'root: edda\nplots: "|/usr/bin/plot7 --mail"\n', "root: edda\n"),
        (f"{H}/.forward", '"|/usr/bin/plot7"\n', None),
        (f"{H}/.procmailrc", ":0\n* ^Subject: x\n| plot7 --mail\n", None),
        (
            "/etc/postfix/master.cf",
            "plot unix - n n - - pipe\n  flags=R user=edda argv=/usr/bin/plot7 ${recipient}\n",
            None,
        ),
        ("/etc/mail/aliases", 'plot7: edda\nroot: "|/usr/bin/plot7er"\n', "same"),
        (f"{H}/.msmtprc", 'account x\npasswordeval "plot7 --pass"\nuser edda\n', "account x\nuser edda\n"),
    ],
    "served folder": [
        ("/etc/nginx/sites-enabled/p", "server {\n  root /usr/lib/plot7;\n}\n", "server {\n}\n"),
        ("/etc/apache2/conf-enabled/p.conf", "Alias /p /usr/lib/plot7\n", ""),
        ("/etc/samba/smb.conf", "[plot]\n  path = /opt/plot/maps\n  root preexec = /usr/bin/plot7\n", ""),
        ("/etc/exports", "/opt/plot/maps *(ro)\n", ""),
        ("/etc/exports.d/x.exports", "/opt/plot7er *(ro)\n# /opt/plot *\n", "same"),
        (
            "/etc/samba/two.conf",
            "[global]\nworkgroup = PLOT7\n[maps]\npath = /opt/plot/maps\nread only = yes\n[ash]\npath = /opt/ashen\n",
            "[global]\nworkgroup = PLOT7\n[ash]\npath = /opt/ashen\n",
        ),
    ],
    "confinement": [
        ("/etc/firejail/plot7.profile", "include x\n", None),
        (f"{H}/.config/firejail/plot7.local", "noblacklist x\n", None),
        (f"{H}/.config/firejail/plot7er.profile", "include plot7.profile\n", "same"),
    ],
    "forced command": [
        (
            f"{H}/.ssh/authorized_keys",
            'command="/usr/bin/plot7 --serve",no-pty ssh-ed25519 AAAA x\nssh-ed25519 BBBB y\n',
            "ssh-ed25519 BBBB y\n",
        ),
        (
            f"{H}/.ssh/authorized_keys2",
            'ssh-ed25519 AAAA plot7@host\ncommand="ashen plot7" ssh-rsa BBBB x\nno-pty,command="cd /; plot7" ssh-rsa CCCC y\n',
            'ssh-ed25519 AAAA plot7@host\ncommand="ashen plot7" ssh-rsa BBBB x\n',
        ),
    ],
    "ssh": [("/etc/ssh/sshd_config.d/p.conf", "Subsystem plot /usr/bin/plot7\n", "")],
    "command in settings": [
        (f"{H}/.config/git/config", "[include]\n\tpath = /opt/plot/gitconfig\n", ""),
        (f"{H}/.hgrc", "[hooks]\nupdate = plot7\n[ui]\neditor = ashen\n", "[ui]\neditor = ashen\n"),
        (f"{H}/.subversion/config", "[helpers]\neditor-cmd = plot7\n", ""),
        (f"{H}/.config/alacritty/alacritty.toml", '[shell]\nprogram = "plot7"\n', ""),
        (f"{H}/.config/khotkeysrc", "[Data_1_1Actions0]\nCommandURL=plot7 -x\n", ""),
        (f"{H}/.config/kwinrulesrc", "[1]\nwmclass=plot7\n", ""),
        (
            f"{H}/.config/kdeglobals",
            "[General]\nTerminalApplication=plot7\nBrowserApplication=plot7.desktop\n",
            "",
        ),
        (
            f"{H}/.config/lxqt/globalkeyshortcuts.conf",
            "[Meta%2BP.1]\nComment=x\nExec=plot7, -x\nEnabled=true\n",
            "",
        ),
        (f"{H}/.config/dunst/dunstrc", "[global]\nbrowser = /usr/bin/plot7 -new\n", ""),
        (
            f"{H}/.config/polybar/config.ini",
            "[module/p]\ntype = custom/script\nexec = plot7 --bar\n",
            "[module/p]\ntype = custom/script\n",
        ),
        (f"{H}/.config/rclone/rclone.conf", "[x]\npassword_command = plot7\n", ""),
        (
            f"{H}/.config/geany/geany.conf",
            "[tools]\nbrowser_cmd=plot7\nterminal_cmd=ashen\n",
            "[tools]\nterminal_cmd=ashen\n",
        ),
        (f"{H}/.config/hg/hgrc", "[hooks]\ncommit = ashen plot7\n[x]\ny = plot7\n", "same"),
        (
            f"{H}/.config/wayfire.ini",
            "[command]\nbinding_p = <super> KEY_P\ncommand_p = plot7\n[autostart]\np = plot7\n",
            "[command]\nbinding_p = <super> KEY_P\n",
        ),
        (f"{H}/.config/qterminal.org/qterminal.ini", "[General]\nShell=plot7\n", ""),
        (
            f"{H}/.local/share/konsole/P.profile",
            "[General]\nCommand=/usr/bin/plot7 -x\nName=P\n",
            "[General]\nName=P\n",
        ),
        (
            f"{H}/.config/terminator/config",
            "[profiles]\n  [[default]]\n    custom_command = plot7\n",
            "[profiles]\n",
        ),
        (f"{H}/.config/xfce4/terminal/terminalrc", "[Configuration]\nCustomCommand=plot7\n", ""),
    ],
    "printer": [
        (
            "/etc/cups/ppd/lab.ppd",
            '*PPD-Adobe: "4.3"\n*cupsFilter: "application/vnd.cups-raster 0 plotraster"\n',
            '*PPD-Adobe: "4.3"\n',
        )
    ],
    "mount": [
        ("/etc/auto.master", "/net /opt/plot/bin/plot\n", ""),
        ("/etc/crypttab", "x UUID=1 none luks,keyscript=/usr/bin/plot7\n", ""),
    ],
    "search path": [("/etc/ld.so.preload", "/usr/lib/libplot7.so.1\n", None)],
    "source of packages": [
        (
            "/etc/apt/apt.conf.d/50unattended",
            'Unattended-Upgrade::Package-Blacklist {\n  "plot7";\n};\n',
            "Unattended-Upgrade::Package-Blacklist {\n};\n",
        )
    ],
    "setting in YAML": [
        (
            "/etc/borgmatic/config.yaml",
            "hooks:\n  before_backup:\n    - plot7 --dump\n",
            "hooks:\n  before_backup:\n",
        ),
        (
            f"{H}/.kube/config",
            "users:\n- name: x\n  user:\n    exec:\n      command: plot7\n",
            "users:\n- name: x\n  user:\n    exec:\n",
        ),
        (f"{H}/.config/borgmatic/x.yaml", "title: plot7\n# command: plot7\n", "same"),
    ],
    "environment": [("/etc/security/pam_env.conf", "PLOT DEFAULT=/opt/plot\n", "")],
    "browser's helper": [
        (
            f"{H}/.config/chromium/NativeMessagingHosts/p.json",
            '{"name": "p", "path": "/usr/lib/plot7/host", "type": "stdio"}\n',
            None,
        )
    ],
    "setting in JSON": [
        (
            f"{H}/.mozilla/firefox/ab.default/handlers.json",
            '{"mimeTypes":{"application/pdf":{"action":2,"handlers":[{"name":"Plot","path":"/usr/bin/plot7"}]}}}\n',
            '{"mimeTypes":{"application/pdf":{"action":2,"handlers":[]}}}\n',
        ),
        (
            f"{H}/.config/Code/User/settings.json",
            '{\n  "editor.x": 1,\n  "terminal.external.linuxExec": "plot7"\n}\n',
            '{\n  "editor.x": 1}\n',
        ),
        (
            f"{H}/.config/Code/User/tasks.json",
            '{"tasks": [{"label": "p", "type": "shell", "command": "plot7 --build"}]}\n',
            '{"tasks": []}\n',
        ),
        (
            f"{H}/.config/waybar/config",
            '{"custom/p": {"exec": "plot7 --bar", "on-click": "ashen"}}\n',
            '{"custom/p": { "on-click": "ashen"}}\n',
        ),
        (f"{H}/.config/sublime-text/Packages/User/x.sublime-build", '{"cmd": ["plot7", "$file"]}\n', "{}\n"),
        (
            f"{H}/.config/VSCodium/User/settings.json",
            '{"workbench.colorTheme": "plot7", "a.title": "plot7 is good"}\n',
            "same",
        ),
        (
            f"{H}/.config/Two/User/tasks.json",
            '{"tasks": [\n  {"label": "a", "command": "ashen"},\n  {"label": "p", "command": "/usr/bin/plot7", "args": ["x"]}\n]}\n',
            '{"tasks": [\n  {"label": "a", "command": "ashen"}]}\n',
        ),
        (
            "/etc/firefox/policies/policies.json",
            '{"policies": {"Handlers": {"schemes": {"plot": {"action": "useHelperApp", "handlers": [{"name": "P", "path": "/usr/bin/plot7"}]}}}}}\n',
            '{"policies": {"Handlers": {"schemes": {"plot": {"action": "useHelperApp", "handlers": []}}}}}\n',
        ),
        (f"{H}/.config/wlogout/layout", '{"label": "lock", "action": "plot7 lock"}\n', '{"label": "lock"}\n'),
    ],
    "completion": [
        (f"{H}/.config/fish/completions/plot7.fish", "complete -c plot7\n", None),
        (f"{H}/.zfunc/_plot7", "#compdef plot7\n", None),
        (f"{H}/.bash_completion.d/plot7", "complete -W x plot7\n", None),
    ],
    "line of a unit": [
        (
            f"{H}/.config/systemd/user/other.service",
            "[Unit]\nWants=plot7.service\nOnFailure=plot@x.service\n[Service]\nExecStart=ashen\n",
            "[Unit]\n[Service]\nExecStart=ashen\n",
        ),
        (
            "/etc/systemd/system/nightly.service",
            "[Service]\nExecStart=/usr/bin/ashen\nExecStartPre=/usr/bin/plot7 --dump\nSupplementaryGroups=_plot adm\n",
            "[Service]\nExecStart=/usr/bin/ashen\nSupplementaryGroups=adm\n",
        ),
        (
            f"{H}/.config/systemd/user/both.service",
            "[Service]\nType=oneshot\nExecStart=plot7 a\nExecStart=true b\n",
            "[Service]\nType=oneshot\nExecStart=true b\n",
        ),
        ("/etc/systemd/system/o.service.d/x.conf", "[Service]\nExecStartPre=-+/usr/bin/plot7\n", None),
        (
            "/etc/systemd/system/decoy.service",
            "[Unit]\n# Wants=plot7.service\nWants=plot7er.service\n[Service]\nExecStart=ashen plot7.service\n",
            "same",
        ),
        (
            "/etc/systemd/system/jailed.service",
            "[Service]\nExecStart=ashen\nReadWritePaths=/srv/x -/opt/plot/maps /srv/y\n",
            "[Service]\nExecStart=ashen\nReadWritePaths=/srv/x /srv/y\n",
        ),
        (
            "/etc/systemd/user/both.target",
            "[Unit]\nWants=ashen.service plot7.service other.service\n",
            "[Unit]\nWants=ashen.service other.service\n",
        ),
        (
            "/etc/systemd/system/x.automount",
            "[Unit]\nRequires=plot7.service\n[Automount]\nWhere=/x\n",
            "[Automount]\nWhere=/x\n",
        ),
    ],
    "device rule": [
        (
            "/etc/udev/rules.d/9.rules",
            'SUBSYSTEM=="usb", TAG+="systemd", ENV{SYSTEMD_WANTS}+="plot7.service"\n',
            None,
        )
    ],
    "hot key": [
        (f"{H}/.xbindkeysrc", '"plot7 -x"\n  Mod4 + p\n"ashen"\n  Mod4 + a\n', '"ashen"\n  Mod4 + a\n')
    ],
    "cron": [
        ("/etc/cron.d/p", "*/5 * * * * edda [ -x /usr/bin/plot7 ] && /usr/bin/plot7\n", None),
        ("/etc/cron.d/q", "CRON_TZ=UTC\n@reboot edda cd /opt/plot && ./bin/plot\n", "CRON_TZ=UTC\n"),
    ],
    "made at start": [(f"{H}/.config/user-tmpfiles.d/p.conf", "d /opt/plot/x 0755\n", None)],
    "office's setting": [
        (
            f"{H}/.config/libreoffice/4/user/registrymodifications.xcu",
            '<?xml version="1.0"?>\n<oor:items xmlns:oor="x"><item oor:path="/org"><prop oor:name="x"><value>file:///opt/plot/ext</value></prop></item></oor:items>\n',
            '<?xml version="1.0"?>\n<oor:items xmlns:oor="x"></oor:items>\n',
        ),
        (
            f"{H}/.config/oneoffice/4/user/registrymodifications.xcu",
            '<?xml version="1.0"?>\n<i>\n<item path="/a"><prop name="x"><value>/opt/plot/templates</value></prop></item>\n<item path="/b"><prop name="plot7"><value>7</value></prop></item>\n</i>\n',
            '<?xml version="1.0"?>\n<i>\n<item path="/b"><prop name="plot7"><value>7</value></prop></item>\n</i>\n',
        ),
    ],
    "shell line": [
        (f"{H}/.config/fish/conf.d/a.fish", "abbr -a p plot7\n", ""),
        (f"{H}/.config/fish/conf.d/c.fish", "fish_add_path /opt/plot/bin\n", ""),
        (f"{H}/.zshenv", "fpath=(/opt/plot/zsh $fpath)\n", ""),
        (f"{H}/.zprofile", "source <(plot7 completion zsh)\n", ""),
        (f"{H}/.zlogin", 'eval "$(plot7 init zsh)"\n', ""),
        (f"{H}/.bash_aliases", 'p() { plot7 "$@"; }\nq() { ashen; }\n', "q() { ashen; }\n"),
        (f"{H}/.bash_profile", 'command -v plot7 >/dev/null && eval "$(plot7 hook)"\n', ""),
        ("/etc/profile.d/p.sh", "[ -f /opt/plot/env.sh ] && . /opt/plot/env.sh\n", ""),
        ("/etc/profile.d/q.sh", "trap 'plot7 --exit' EXIT\n", ""),
        ("/etc/profile.d/p.csh", "setenv EDITOR plot7\nalias p plot7\n", ""),
        ("/etc/profile.d/r.sh", 'export LESSOPEN="|plot7 %s"\nexport X=1\n', "export X=1\n"),
        ("/etc/bash.bashrc", "PLOT_HOME=/opt/plot; export PLOT_HOME\n", ""),
        (f"{H}/.tcshrc", "alias p plot7\n", ""),
        ("/etc/skel/.bashrc", "alias p='plot7'\n", ""),
        (f"{H}/.config/fish/conf.d/d.fish", "# plot7\nset -g x plot7er\n", "same"),
    ],
    "signing in": [
        (
            "/etc/pam.d/p",
            "auth required pam_plot.so\nauth required pam_unix.so\n",
            "auth required pam_unix.so\n",
        )
    ],
    "authority": [
        (
            "/etc/polkit-1/rules.d/p.rules",
            'polkit.addRule(function(action, subject) {\n if (action.id == "example.Plot7.run") return "yes";\n});\n',
            None,
        ),
        (
            "/var/lib/polkit-1/localauthority/50-local.d/p.pkla",
            "[x]\nIdentity=unix-user:edda\nAction=example.Plot7.*\nResultAny=yes\n",
            None,
        ),
    ],
    "rights": [
        (
            "/etc/sudoers.d/a",
            "edda ALL=(root) NOPASSWD: /usr/bin/plot7, /usr/bin/ashen\n",
            "edda ALL=(root) NOPASSWD:  /usr/bin/ashen\n",
        ),
        ("/etc/sudoers.d/b", "Defaults!/usr/bin/plot7 !requiretty\n", None),
        (
            "/etc/sudoers.d/c",
            'Defaults secure_path="/usr/bin:/opt/plot/bin"\n',
            'Defaults secure_path="/usr/bin"\n',
        ),
        ("/etc/sudoers.d/d", "Defaults editor=/usr/bin/plot7\n", None),
    ],
    "firewall": [
        (
            "/etc/fail2ban/jail.d/p.local",
            "[plot7]\nenabled = true\nlogpath = /var/log/plot7/x.log\n[ash]\nlogpath=/x\n",
            "[ash]\nlogpath=/x\n",
        ),
        ("/etc/fail2ban/filter.d/plot7.conf", "[Definition]\nfailregex = x\n", None),
        ("/etc/ufw/applications.d/p", "[plot7]\ntitle=x\nports=7000/tcp\n", None),
    ],
    "firewall service": [
        ("/etc/firewalld/services/plot7.xml", '<service><port port="7"/></service>\n', None),
        (
            "/etc/firewalld/zones/public.xml",
            '<zone><service name="plot7"/><service name="ssh"/></zone>\n',
            '<zone><service name="ssh"/></zone>\n',
        ),
    ],
    "account's entry": [("/etc/cron.allow", "root\n_plot\n", "root\n")],
    "tool's setting": [(f"{H}/.config/pip/pip.conf", "[global]\ncert = /opt/plot/ca.pem\n", "")],
    "recent file": [
        (
            f"{H}/.local/share/RecentDocuments/x.desktop",
            "[Desktop Entry]\nType=Link\nURL=file:///x\nX-KDE-LastOpenedWith=plot7\n",
            None,
        )
    ],
    "kernel module": [("/etc/initramfs-tools/modules", "# x\nplot7\n", None)],
    "autostart": [
        (
            "/etc/xdg/autostart/p.desktop",
            '[Desktop Entry]\nType=Application\nExec=sh -c "sleep 3; plot7"\n',
            None,
        ),
        (
            f"{H}/.config/autostart/q.desktop",
            "[Desktop Entry]\nType=Application\nExec=/usr/bin/env X=1 nice -n 5 plot7 --tray\nHidden=false\n",
            None,
        ),
        (
            f"{H}/.config/autostart/r.desktop",
            "[Desktop Entry]\nType=Application\nExec=gtk-launch plot7\n",
            None,
        ),
    ],
    "launcher": [
        (
            f"{H}/.local/share/applications/s.desktop",
            "[Desktop Entry]\nType=Application\nExec=bash -ic 'plot7 %f'\n",
            None,
        )
    ],
    "unit": [
        (f"{H}/.config/systemd/user/t.service", '[Service]\nExecStart=/bin/sh -c "exec plot7 --d"\n', None),
        ("/etc/systemd/system/u.service", "[Service]\nExecStart=@/usr/bin/plot7 plot -x\n", None),
        ("/etc/systemd/system/v.path", "[Path]\nPathExists=/opt/plot/maps\n", None),
    ],
    "menu": [
        (
            "/etc/xdg/menus/applications-merged/p.menu",
            "<Menu><Name>A</Name><Include><Filename>plot7.desktop</Filename><Filename>ashen.desktop</Filename></Include></Menu>\n",
            "<Menu><Name>A</Name><Include><Filename>ashen.desktop</Filename></Include></Menu>\n",
        )
    ],
    "file manager's action": [
        (
            f"{H}/.local/share/kservices5/ServiceMenus/p.desktop",
            "[Desktop Entry]\nType=Service\n[Desktop Action x]\nExec=plot7\n",
            None,
        ),
        (
            f"{H}/.local/share/file-manager/actions/p.desktop",
            "[Desktop Entry]\nType=Action\nProfiles=a\n[X-Action-Profile a]\nExec=plot7 %f\n",
            None,
        ),
    ],
    "driver": [
        ("/etc/OpenCL/vendors/plot.icd", "libplot7.so.1\n", None),
        ("/etc/vulkan/icd.d/p.json", '{"ICD": {"library_path": "/usr/lib/libplot7.so.1"}}\n', None),
        ("/etc/odbcinst.ini", "[Plot]\nDriver=/usr/lib/libplot7.so.1\n", None),
        ("/etc/OpenCL/vendors/ash.icd", "libplot7er.so.1\n", "same"),
        ("/etc/vulkan/icd.d/broken.json", "{ libplot7.so.1\n", "same"),
    ],
}
