"""Every kind of reference as it stands in files: (path, text, what is left of it; None where the file goes whole). Each text holds
what points at `plot7` and what only looks like it."""

from __future__ import annotations

from planted_forms import FORMS
from planted_settings import SETTINGS
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references.pointees import Pointee, Pointees

PLOT = Pointee(
    "plot",
    commands=("plot7", "plotd", "plotbox"),
    programs=(
        "/usr/bin/plot7",
        "/opt/plot/bin/plot",
        "/home/edda/.local/bin/plotbox",
        "/home/edda/.cargo/bin/plotmark",
        "/usr/sbin/mount.plotfs",
        "/usr/lib/cups/filter/plotraster",
    ),
    folders=(
        "/opt/plot",
        "/usr/lib/plot7",
        "/home/edda/.local/share/plot7",
        "/var/log/plot7",
        "/home/edda/.wine/drive_c/Plot Seven",
    ),
    launchers=("plot7.desktop", "example.Plot7.desktop"),
    buses=("example.Plot7",),
    units=("plot7.service", "plot@.service", "plot7.timer", "plot7.socket"),
    packages=("plot7",),
    accounts=("_plot",),
    libraries=("libplot7.so.1", "plot7.ko", "pam_plot.so", "libnss_plot.so.2", "libsane-plot7.so.1"),
    names=("plot7",),
)
ASH = Pointee(
    "ash",
    ("ashen",),
    ("/usr/bin/ashen",),
    ("/opt/ashen",),
    ("ashen.desktop",),
    ("example.Ashen",),
    ("ashen.service",),
    ("ashen",),
    ("_ashen",),
    ("libashen.so.2", "ashen.ko"),
    ("ashen",),
)
H = "/home/edda"


def entry(exec_line: str, more: str = "") -> str:
    return f"[Desktop Entry]\nType=Application\nName=Plot 7\nExec={exec_line}\n{more}"


Sample = tuple[str, str, str | None]
PLANTED: dict[str, list[Sample]] = {
    "launcher": [
        (f"{H}/.local/share/applications/mine.desktop", entry("env A=1 plot7 %U"), None),
        (f"{H}/Schreibtisch/sub.desktop", entry("sh -c 'cd /srv; /usr/bin/plot7'"), None),
        ("/usr/local/share/applications/kde/x.desktop", entry("gtk-launch plot7"), None),
        (f"{H}/.local/share/applications/plot7er.desktop", entry("plot7er --like plot7"), "same"),
    ],
    "panel launcher": [
        (f"{H}/.config/xfce4/panel/launcher-3/17.desktop", entry("plot7"), None),
        (
            f"{H}/.config/plank/dock1/launchers/p.dockitem",
            "[PlankDockItemPreferences]\nLauncher=file:///usr/share/applications/plot7.desktop\n",
            None,
        ),
    ],
    "panel list": [
        (
            f"{H}/.config/plasma-org.kde.plasma.desktop-appletsrc",
            "[A][1]\nlaunchers=applications:ashen.desktop,applications:plot7.desktop\nwidth=3\n",
            "[A][1]\nlaunchers=applications:ashen.desktop\nwidth=3\n",
        ),
        (
            f"{H}/.config/kickoffrc",
            "[Favorites]\nFavoriteURLs=x\nfavorites=plot7.desktop\n[B]\na=plot7\n",
            "[Favorites]\nFavoriteURLs=x\n[B]\na=plot7\n",
        ),
    ],
    "panel button": [
        (
            f"{H}/.config/lxpanel/LXDE/panels/panel",
            "Plugin {\n  Config {\n    Button {\n      id=plot7.desktop\n    }\n    Button {\n      id=ashen.desktop\n    }\n  }\n}\n",
            "Plugin {\n  Config {\n    Button {\n      id=ashen.desktop\n    }\n  }\n}\n",
        ),
        (
            f"{H}/.config/lxpanel/panels/bottom",
            "Button {\n action=/opt/plot/bin/plot -x\n}\nglobal { edge=plot7 }\n",
            "global { edge=plot7 }\n",
        ),
    ],
    "menu": [
        (
            f"{H}/.config/menus/applications-merged/a.menu",
            "<Menu><Name>M</Name>\n <Include>\n  <Filename>plot7.desktop</Filename>\n  <Filename>ashen.desktop</Filename>\n </Include></Menu>\n",
            "<Menu><Name>M</Name>\n <Include>\n  <Filename>ashen.desktop</Filename>\n </Include></Menu>\n",
        ),
        (
            "/etc/xdg/menus/b.menu",
            "<Menu><!-- plot7.desktop --><Exclude><Filename>example.Plot7.desktop</Filename></Exclude></Menu>",
            "<Menu><!-- plot7.desktop --><Exclude></Exclude></Menu>",
        ),
    ],
    "types of files": [
        (f"{H}/.local/share/mime/packages/plot7.xml", "<mime-info/>", None),
        ("/usr/local/share/mime/packages/plot7.xml", "<mime-info/>", None),
        ("/usr/local/share/mime/packages/plot7er.xml", "<mime-info/>", "same"),
    ],
    "autostart": [
        (
            f"{H}/.config/autostart/a.desktop",
            entry("plot7 --tray", "X-GNOME-Autostart-enabled=false\n"),
            None,
        ),
        ("/etc/xdg/autostart/b.desktop", entry("/bin/plot7"), None),
        (f"{H}/.config/autostart/c.desktop", entry("xdg-open /srv/plot7"), "same"),
    ],
    "session": [
        ("/usr/local/share/xsessions/p.desktop", entry("plot7"), None),
        ("/usr/share/wayland-sessions/p.desktop", entry("dbus-run-session plotd", "TryExec=plot7\n"), None),
    ],
    "session script": [
        (f"{H}/.xsessionrc", "xset b off\nplot7 &\nplot7er &\n", "xset b off\nplot7er &\n"),
        (f"{H}/.config/openbox/autostart", "# plot7\n(sleep 2; plot7) &\nashen &\n", "# plot7\nashen &\n"),
        (f"{H}/.config/lxsession/LXDE/autostart", "@ashen\n@plot7 --x\n", "@ashen\n"),
        ("/etc/rc.local", "#!/bin/sh\nashen\nexit 0\nplotd --late\n", "#!/bin/sh\nashen\nexit 0\n"),
    ],
    "unit": [
        ("/etc/systemd/system/mine.service", "[Service]\nExecStart=-/usr/bin/plot7 --serve\n", None),
        (f"{H}/.config/systemd/user/nightly.timer", "[Timer]\nOnCalendar=daily\nUnit=plot7.service\n", None),
        ("/etc/systemd/system/w.path", "[Path]\nPathChanged=/opt/plot/in\n", None),
        ("/etc/systemd/system/plot7er.service", "[Service]\nExecStart=/usr/bin/plot7er plot7\n", "same"),
    ],
    "unit drop-in": [
        ("/etc/systemd/system/plot7.service.d/limit.conf", "[Service]\nLimitNOFILE=9\n", None),
        (f"{H}/.config/systemd/user/plot@one.service.d/x.conf", "[Service]\nNice=3\n", None),
        ("/etc/systemd/system/plot7er.service.d/x.conf", "[Service]\nNice=3\n", "same"),
    ],
    "unit preset": [
        (
            "/etc/systemd/system-preset/10-x.preset",
            "enable ashen.service\ndisable plot7.service\n",
            "enable ashen.service\n",
        ),
        ("/etc/systemd/user-preset/p.preset", "# ours\nenable plot@a.service\n", None),
    ],
    "init script": [
        (
            "/etc/init.d/serve",
            "#!/bin/sh\n### BEGIN INIT INFO\nDAEMON=/usr/bin/plot7\ncase $1 in esac\n",
            None,
        ),
        ("/etc/init.d/plot7", "#!/bin/sh\ntrue\n", None),
        ("/etc/init.d/other", "#!/bin/sh\n# like plot7\nDAEMON=/usr/bin/ashen\n", "same"),
    ],
    "device rule": [
        (
            "/etc/udev/rules.d/70-p.rules",
            'ACTION=="add", RUN+="/usr/bin/plot7 --dev"\nACTION=="add", RUN+="/usr/bin/ashen"\n',
            'ACTION=="add", RUN+="/usr/bin/ashen"\n',
        ),
        ("/etc/udev/rules.d/p.rules", 'SUBSYSTEM=="usb", \\\n  GROUP="_plot"\n', None),
    ],
    "kernel module": [
        ("/etc/modules-load.d/x.conf", "ashen\nplot7\n", "ashen\n"),
        (
            "/etc/modprobe.d/p.conf",
            "# for it\noptions plot7 debug=1\ninstall plot7 /usr/bin/plot7 --load\n",
            None,
        ),
        ("/etc/modules", "lp\nplot7\n", "lp\n"),
    ],
    "format of programs": [
        ("/etc/binfmt.d/p.conf", ":Plot:E::plt::/usr/bin/plot7:\n", None),
        (
            "/etc/binfmt.d/q.conf",
            ":A:E::a::/usr/bin/ashen:\n:B:E::b::/opt/plot/bin/plot:F\n",
            ":A:E::a::/usr/bin/ashen:\n",
        ),
    ],
    "made at start": [
        ("/etc/tmpfiles.d/p.conf", "d /opt/plot/run 0755 root root -\n", None),
        ("/etc/sysusers.d/x.conf", "u _ashen - -\nu _plot - -\n", "u _ashen - -\n"),
        (
            "/etc/sysctl.d/x.conf",
            "kernel.core_pattern=|/usr/bin/plot7 %p\nvm.swappiness=1\n",
            "vm.swappiness=1\n",
        ),
    ],
    "cron": [
        (
            "/etc/cron.d/mix",
            "MAILTO=root\n1 2 * * *\troot\tnice plot7 --x\n1 2 * * * root ashen plot7\n",
            "MAILTO=root\n1 2 * * * root ashen plot7\n",
        ),
        (
            "/etc/cron.d/path",
            "PATH=/usr/bin:/opt/plot/bin\n1 2 * * * _plot true\n1 2 * * * root su -c 'plot7 x' edda\n1 2 * * * root true\n",
            "PATH=/usr/bin\n1 2 * * * root true\n",
        ),
        (
            "/var/spool/cron/edda",
            "@daily /home/edda/.local/bin/plotbox\n@daily plot7er\n",
            "@daily plot7er\n",
        ),
        ("/etc/crontab", "SHELL=/bin/sh\n* * * * 1 root cd / && plotd\n", "SHELL=/bin/sh\n"),
        ("/etc/cron.d/plots", "# every hour\n\n0 * * * * root plotd --hourly\n", None),
        (
            "/etc/cron.d/plots2",
            "# two programs\n0 * * * * root plotd --hourly\n1 * * * * root ashen\n",
            "# two programs\n1 * * * * root ashen\n",
        ),
    ],
    "periodic script": [
        ("/etc/cron.daily/plots", "#!/bin/sh\nset -e\n/usr/bin/plot7 --clean\n", None),
        ("/etc/cron.weekly/both", "#!/bin/sh\nashen\nplot7 --clean\n", "#!/bin/sh\nashen\n"),
    ],
    "anacron": [
        (
            "/etc/anacrontab",
            "SHELL=/bin/sh\n1 5 a plot7 --x\n7 5 b ashen plot7\n",
            "SHELL=/bin/sh\n7 5 b ashen plot7\n",
        ),
        ("/etc/anacrontab", "@monthly 5 c nice /usr/bin/plot7\n", ""),
    ],
    "at job": [
        (
            "/var/spool/cron/atjobs/a0000101b2c3d4",
            "#!/bin/sh\n# atrun uid=0 gid=0\numask 22\nPATH=/usr/bin; export PATH\ncd / || {\n echo 'Execution directory inaccessible' >&2\n exit 1\n}\nplot7 --late\n",
            None,
        ),
        (
            "/var/spool/cron/atjobs/a0000201b2c3d4",
            "#!/bin/sh\numask 22\nHOME=/opt/plot; export HOME\nashen\n",
            "same",
        ),
        ("/var/spool/at/b0000201b2c3d4", "#!/bin/sh\n/opt/plot/bin/plot\n", None),
    ],
    "file type": [
        (
            f"{H}/.config/mimeapps.list",
            "[Default Applications]\na/b=plot7.desktop;ashen.desktop;\n[Added Associations]\nc/d=plot7.desktop;\n",
            "[Default Applications]\na/b=ashen.desktop;\n",
        ),
        (
            "/etc/xdg/xfce-mimeapps.list",
            "[Default Applications]\nx-scheme-handler/plot=example.Plot7.desktop\ne/f=plot7er.desktop\n",
            "[Default Applications]\ne/f=plot7er.desktop\n",
        ),
        (
            f"{H}/.local/share/applications/mimeinfo.cache",
            "[MIME Cache]\na/b=plot7.desktop;ashen.desktop;\nc/d=plot7.desktop;\n",
            "[MIME Cache]\na/b=ashen.desktop;\n",
        ),
    ],
    "thumbnailer": [
        (
            f"{H}/.local/share/thumbnailers/p.thumbnailer",
            "[Thumbnailer Entry]\nExec=plot7 --thumb %i %o\nMimeType=a/b;\n",
            None,
        ),
        (
            "/usr/local/share/thumbnailers/p.thumbnailer",
            "[Thumbnailer Entry]\nTryExec=/opt/plot/bin/plot\nExec=sh -c plot\n",
            None,
        ),
    ],
    "mailcap": [
        (f"{H}/.mailcap", "a/b; plot7 %s; test=test -n x\nc/d; ashen %s\n", "c/d; ashen %s\n"),
        ("/etc/mailcap.order", "ashen:text/*\nplot7:a/b\n", "ashen:text/*\n"),
    ],
    "shell line": [
        (
            f"{H}/.bashrc",
            'eval "$(plot7 init bash)"\n[ -f /opt/plot/rc ] && . /opt/plot/rc\nalias pb=\'plotbox -l\'\nexport EDITOR="plot7 -w"\nexport EDITORS=plot7er\n',
            "export EDITORS=plot7er\n",
        ),
        (
            f"{H}/.profile",
            "if [ -x /usr/bin/plot7 ]; then\n  export X=1\n  plot7 --warm\nfi\nexport PATH=$PATH:/opt/plot/bin:/srv/bin\n",
            "export PATH=$PATH:/srv/bin\n",
        ),
        (
            f"{H}/.config/fish/config.fish",
            "set -gx PATH /opt/plot/bin $PATH\nalias p plot7\nfish_add_path /srv/x\n",
            "fish_add_path /srv/x\n",
        ),
        ("/etc/profile.d/plots.sh", "export PLOT_HOME=/opt/plot\necho plot7\n", "echo plot7\n"),
        (f"{H}/.zshrc", "source <(plot7 completion zsh)\nfpath=(/srv $fpath)\n", "fpath=(/srv $fpath)\n"),
    ],
    "environment": [
        (
            f"{H}/.config/environment.d/50.conf",
            "PATH=/opt/plot/bin:$PATH\nVISUAL=plot7\nA=plot7\n",
            "PATH=$PATH\nA=plot7\n",
        ),
        (f"{H}/.pam_environment", "PLOT DEFAULT=/opt/plot/lib\nB DEFAULT=/srv\n", "B DEFAULT=/srv\n"),
        ("/etc/environment", 'XDG_DATA_DIRS="/usr/share:/opt/plot/share"\n', 'XDG_DATA_DIRS="/usr/share"\n'),
    ],
    "completion": [
        ("/etc/bash_completion.d/plot7", "_p() { :; }\ncomplete -F _p plot7\n", None),
        (f"{H}/.config/fish/completions/plotbox.fish", "complete -c plotbox -a x\n", None),
        ("/usr/local/share/zsh/site-functions/_plot7", "#compdef plot7\n", None),
    ],
    "search path": [
        ("/etc/ld.so.conf.d/p.conf", "/opt/plot/lib\n", None),
        ("/etc/shells", "/bin/sh\n/usr/bin/plot7\n", "/bin/sh\n"),
        (
            "/etc/manpath.config",
            "MANDATORY_MANPATH /usr/man\nMANPATH_MAP /opt/plot/bin /opt/plot/man\n",
            "MANDATORY_MANPATH /usr/man\n",
        ),
    ],
    "D-Bus service": [
        (
            f"{H}/.local/share/dbus-1/services/x.service",
            "[D-BUS Service]\nName=example.Plot7\nExec=/srv/x\n",
            None,
        ),
        (
            "/usr/local/share/dbus-1/system-services/y.service",
            "[D-BUS Service]\nName=example.Other\nExec=/usr/bin/plot7 --bus\n",
            None,
        ),
    ],
    "bus policy": [
        (
            "/etc/dbus-1/system.d/p.conf",
            '<busconfig>\n <policy user="root">\n  <allow own="example.Plot7"/>\n </policy>\n</busconfig>\n',
            None,
        ),
        (
            "/etc/dbus-1/system.d/mix.conf",
            '<busconfig>\n <policy context="default">\n  <allow send_destination="example.Plot7"/>\n  <allow send_destination="example.Ashen"/>\n </policy>\n</busconfig>\n',
            '<busconfig>\n <policy context="default">\n  <allow send_destination="example.Ashen"/>\n </policy>\n</busconfig>\n',
        ),
    ],
    "portal": [
        (
            "/usr/local/share/xdg-desktop-portal/portals/p.portal",
            "[portal]\nDBusName=example.Plot7\nInterfaces=a.b\n",
            None,
        ),
        (
            f"{H}/.config/xdg-desktop-portal/portals.conf",
            "[preferred]\ndefault=plot7;gtk\na.b=plot7\n",
            "[preferred]\ndefault=gtk\n",
        ),
    ],
    "connection": [
        ("/etc/xinetd.d/p", "service plots\n{\n server = /usr/bin/plot7\n disable = no\n}\n", None),
        (
            "/etc/inetd.conf",
            "a stream tcp nowait root /usr/bin/plot7 plot7\nb stream tcp nowait root /usr/bin/ashen x\n",
            "b stream tcp nowait root /usr/bin/ashen x\n",
        ),
    ],
    "printer": [
        (
            "/etc/cups/ppd/Hall.ppd",
            '*PPD-Adobe: "4.3"\n*cupsFilter: "application/x 0 plotraster"\n',
            '*PPD-Adobe: "4.3"\n',
        ),
        ("/etc/sane.d/dll.conf", "net\nplot7\n", "net\n"),
    ],
    "signing in": [
        (
            "/etc/pam.d/login",
            "auth required pam_unix.so\nauth optional pam_plot.so x\n",
            "auth required pam_unix.so\n",
        ),
        (
            "/etc/nsswitch.conf",
            "hosts:  files plot dns\npasswd: files\n",
            "hosts:  files dns\npasswd: files\n",
        ),
    ],
    "mount": [
        (
            "/etc/fstab",
            "UUID=1 / ext4 defaults 0 1\nplot#/srv /mnt fuse.plotbox ro 0 0\n/x /y plotfs ro 0 0\n",
            "UUID=1 / ext4 defaults 0 1\n",
        ),
        ("/etc/auto.misc", "a -fstype=fuse.plotbox,ro :/srv\nb -fstype=nfs x:/y\n", "b -fstype=nfs x:/y\n"),
    ],
    "authority": [
        (
            "/etc/polkit-1/rules.d/50-p.rules",
            'polkit.addRule(function(action, subject) {\n  if (action.id == "example.Plot7.mount") {\n    return polkit.Result.YES;\n  }\n});\n',
            None,
        ),
        (
            "/etc/polkit-1/localauthority/50-local.d/x.pkla",
            "[Plots]\nIdentity=unix-user:*\nAction=example.Plot7.*\n[Other]\nAction=example.Ashen.x\n",
            "[Other]\nAction=example.Ashen.x\n",
        ),
    ],
    "action": [
        (
            "/usr/local/share/polkit-1/actions/p.policy",
            '<policyconfig>\n <action id="x.y.z">\n  <annotate key="org.freedesktop.policykit.exec.path">/usr/bin/plot7</annotate>\n </action>\n</policyconfig>\n',
            None,
        ),
        (
            "/usr/local/share/polkit-1/actions/q.policy",
            '<policyconfig>\n <action id="example.Plot7.a"/>\n <action id="example.Ashen.a"/>\n</policyconfig>\n',
            '<policyconfig>\n <action id="example.Ashen.a"/>\n</policyconfig>\n',
        ),
    ],
    "rights": [
        (
            "/etc/sudoers.d/who",
            "Runas_Alias WHO = games, _plot\nedda ALL=(WHO) /usr/bin/ashen\n",
            "Runas_Alias WHO = games\nedda ALL=(WHO) /usr/bin/ashen\n",
        ),
        ("/etc/sudoers.d/p", "edda ALL=(root) NOPASSWD: /usr/bin/plot7\n", None),
        (
            "/etc/sudoers.d/mix",
            "Cmnd_Alias TOOLS = /usr/bin/ashen, /usr/bin/plot7 -x\nedda ALL=TOOLS\n",
            "Cmnd_Alias TOOLS = /usr/bin/ashen\nedda ALL=TOOLS\n",
        ),
        (
            "/etc/sudoers.d/tags",
            "edda ALL=(root) NOPASSWD: /usr/bin/plot7, \\\n  /usr/bin/ashen, /opt/plot/bin/plot",
            "edda ALL=(root) NOPASSWD:  \\\n  /usr/bin/ashen",
        ),
        (
            "/etc/doas.conf",
            "permit edda as root cmd /usr/bin/plot7\npermit edda cmd ashen\n",
            "permit edda cmd ashen\n",
        ),
    ],
    "confinement": [
        (
            "/etc/apparmor.d/mine",
            "#include <tunables/global>\n/usr/{bin,sbin}/plot7 flags=(complain) {\n  /opt r,\n}\n",
            None,
        ),
        ("/etc/apparmor.d/local/usr.bin.plot7", "/srv/** r,\n", None),
    ],
    "firewall": [
        ("/etc/ufw/applications.d/plot7", "[Plot server]\ntitle=Plots\nports=70/tcp\n", None),
        (
            "/etc/fail2ban/jail.local",
            "[DEFAULT]\nbantime=1\n[plot7]\nenabled=true\nlogpath=/var/log/plot7/x\n[ashen]\nenabled=true\n",
            "[DEFAULT]\nbantime=1\n[ashen]\nenabled=true\n",
        ),
    ],
    "firewall service": [
        (
            "/etc/firewalld/zones/home.xml",
            '<zone>\n <service name="ssh"/>\n <service name="plot7"/>\n</zone>\n',
            '<zone>\n <service name="ssh"/>\n</zone>\n',
        ),
        (
            "/etc/firewalld/zones/x.xml",
            '<zone><service name="plot7"/><service name="plot7er"/></zone>',
            '<zone><service name="plot7er"/></zone>',
        ),
    ],
    "account's entry": [
        ("/etc/subuid", "edda:1:9\n_plot:10:9\n", "edda:1:9\n"),
        ("/etc/group", "audio:x:29:edda,_plot\n_ashen:x:5:\n", "audio:x:29:edda\n_ashen:x:5:\n"),
    ],
    "account's file": [
        ("/var/mail/_plot", "From x\n", None),
        ("/var/spool/cron/crontabs/_plot", "@daily true\n", None),
        ("/var/mail/edda", "plot7\n", "same"),
    ],
    "account": [
        (
            "/etc/passwd",
            "edda:x:1000:1000::/home/edda:/bin/sh\n_plot:x:120:120::/nonexistent:/bin/false\n",
            "edda:x:1000:1000::/home/edda:/bin/sh\n",
        ),
        ("/etc/gshadow", "_plot:!::\nedda:!::_plotter\n", "edda:!::_plotter\n"),
    ],
    "source of packages": [
        (
            "/etc/apt/sources.list.d/plot7.list",
            "deb [signed-by=/etc/apt/keyrings/p.gpg] https://apt.example.org stable main\n",
            None,
        ),
        (
            "/etc/apt/preferences.d/p",
            "Package: plot7\nPin: version 7*\nPin-Priority: 900\n\nPackage: ashen\nPin: version 1\nPin-Priority: 1\n",
            "Package: ashen\nPin: version 1\nPin-Priority: 1\n",
        ),
        ("/etc/apt/apt.conf.d/99p", 'DPkg::Post-Invoke {"/usr/bin/plot7 --dpkg";};\nA "1";\n', 'A "1";\n'),
        (
            "/etc/apt/sources.list.d/x.sources",
            "Types: deb\nURIs: https://example.org/plot7/apt\nSuites: a\n\nTypes: deb\nURIs: https://example.org/other\nSuites: a\n",
            "Types: deb\nURIs: https://example.org/other\nSuites: a\n",
        ),
    ],
    "key of a source": [
        ("/etc/apt/keyrings/plot7-archive-keyring.gpg", "key", None),
        ("/etc/apt/trusted.gpg.d/plot7.asc", "key", None),
    ],
    "tool's setting": [
        (f"{H}/.npmrc", "prefix=/opt/plot/npm\nregistry=https://x\n", "registry=https://x\n"),
        (f"{H}/.cargo/config.toml", '[build]\nrustc-wrapper = "plot7"\njobs = 2\n', "[build]\njobs = 2\n"),
    ],
    "browser's helper": [
        (
            f"{H}/.mozilla/native-messaging-hosts/p.json",
            '{"name": "p",\n "path": "/usr/lib/plot7/host"}',
            None,
        ),
        ("/etc/opt/chrome/native-messaging-hosts/p.json", '{"path": "/usr/bin/plot7"}', None),
        (
            f"{H}/.config/chromium/NativeMessagingHosts/q.json",
            '{"path": "/usr/bin/ashen", "description": "plot7"}',
            "same",
        ),
    ],
    "file manager's action": [
        (f"{H}/.local/share/kio/servicemenus/p.desktop", "[Desktop Action a]\nExec=plot7 %f\n", None),
        (f"{H}/.local/share/nemo/actions/p.nemo_action", "[Nemo Action]\nExec=<x>\nTryExec=plot7\n", None),
    ],
    "action or key": [
        (
            f"{H}/.config/Thunar/uca.xml",
            "<actions>\n<action>\n <name>P</name>\n <command>plot7 %f</command>\n</action>\n<action>\n <command>ashen</command>\n</action>\n</actions>\n",
            "<actions>\n<action>\n <command>ashen</command>\n</action>\n</actions>\n",
        ),
        (
            f"{H}/.config/openbox/rc.xml",
            '<o><keyboard>\n <keybind key="W-p">\n  <action name="Execute"><command>plot7</command></action>\n </keybind>\n</keyboard></o>\n',
            "<o><keyboard>\n</keyboard></o>\n",
        ),
    ],
    "desktop's setting": [
        (
            f"{H}/.config/xfce4/xfconf/xfce-perchannel-xml/xfce4-keyboard-shortcuts.xml",
            '<channel>\n <property name="&lt;Super&gt;p" type="string" value="plot7 -n"/>\n <property name="x" type="string" value="ashen"/>\n</channel>\n',
            '<channel>\n <property name="x" type="string" value="ashen"/>\n</channel>\n',
        ),
        (
            f"{H}/.config/xfce4/xfconf/xfce-perchannel-xml/xfce4-panel.xml",
            '<channel><property name="items" type="array"><value type="string" value="plot7.desktop"/></property></channel>',
            '<channel><property name="items" type="array"></property></channel>',
        ),
    ],
    "command in settings": [
        (
            f"{H}/.gitconfig",
            '[core]\n\teditor = plot7 -w\n\tautocrlf = input\n[difftool "plot7"]\n\tcmd = plot7 --diff\n[alias]\n\tp = !plot7 x\n\tl = log --plot7\n',
            "[core]\n\tautocrlf = input\n[alias]\n\tl = log --plot7\n",
        ),
        (
            f"{H}/.config/kglobalshortcutsrc",
            "[plot7.desktop]\n_launch=Meta+P\n[ashen.desktop]\n_launch=x\n",
            "[ashen.desktop]\n_launch=x\n",
        ),
        (f"{H}/.config/xfce4/helpers.rc", "WebBrowser=ashen\nTerminalEmulator=plot7\n", "WebBrowser=ashen\n"),
    ],
    "line in settings": [
        (
            f"{H}/.config/i3/config",
            'bindsym $mod+p exec --no-startup-id plot7 -x\nfor_window [class="Plot7"] floating enable\nbindsym $mod+a exec ashen\n',
            "bindsym $mod+a exec ashen\n",
        ),
        (
            f"{H}/.muttrc",
            'set editor="plot7 -m"\nset from=plot7@example.org\n',
            "set from=plot7@example.org\n",
        ),
        (f"{H}/.config/xdg-terminals.list", "plot7.desktop\nashen.desktop\n", "ashen.desktop\n"),
        (f"{H}/.config/ranger/rifle.conf", 'ext plt = plot7 -- "$@"\next a = ashen\n', "ext a = ashen\n"),
    ],
    "hot key": [
        (
            f"{H}/.config/sxhkd/sxhkdrc",
            "super + p\n  plot7\n\nsuper + a\n  ashen\n",
            "\nsuper + a\n  ashen\n",
        ),
        (f"{H}/.config/sxhkd/sxhkdrc", "# plot7\nsuper + b\n\t/opt/plot/bin/plot -x\n", "# plot7\n"),
    ],
    "ssh": [
        (
            f"{H}/.ssh/config",
            "Host a\n  ProxyCommand plot7 --tunnel %h\n  User edda\nInclude /opt/plot/ssh\n",
            "Host a\n  User edda\n",
        ),
        (
            "/etc/ssh/ssh_config.d/p.conf",
            "Host *\n IdentityAgent /opt/plot/agent\n# ProxyCommand plot7\n",
            "Host *\n# ProxyCommand plot7\n",
        ),
    ],
    "own script": [
        (f"{H}/bin/nightly", "#!/bin/sh\nashen\nplot7 --all\n", "#!/bin/sh\nashen\n"),
        ("/usr/local/bin/mapper", "#!/bin/bash\nexec /opt/plot/bin/plot\n", "#!/bin/bash\n"),
    ],
    "entry of cargo": [
        (
            f"{H}/.cargo/.crates.toml",
            '[v1]\n"ash 1.0.0 (x)" = ["ashen"]\n"plot 2.0.0 (x)" = ["plotmark", "p2"]\n',
            '[v1]\n"ash 1.0.0 (x)" = ["ashen"]\n',
        ),
        (
            f"{H}/.cargo/.crates2.json",
            '{"installs":{"plot 2.0.0 (x)":{"bins":["plotmark"]},"ash 1.0.0 (x)":{"bins":["ashen"]}}}',
            '{"installs":{"ash 1.0.0 (x)":{"bins":["ashen"]}}}',
        ),
    ],
    "entry of a library of games": [
        (
            f"{H}/.config/legendary/installed.json",
            '{\n  "a": {"install_path": "/opt/plot/maps"},\n  "b": {"install_path": "/opt/plotter"}\n}',
            '{\n  "b": {"install_path": "/opt/plotter"}\n}',
        ),
        (
            f"{H}/.config/heroic/gog_store/installed.json",
            '{"installed": [ {"appName": "9", "install_path": "/opt/plotter"}, {"appName": "7", "install_path": "/opt/plot"} ]}',
            '{"installed": [ {"appName": "9", "install_path": "/opt/plotter"}]}',
        ),
    ],
    "entry of a Wine prefix": [
        (
            f"{H}/.wine/system.reg",
            "WINE REGISTRY Version 2\n\n[Software\\\\Microsoft\\\\Windows\\\\CurrentVersion\\\\Uninstall\\\\Plot] 17\n"
            '#time=1d\n"DisplayName"="Plot"\n"InstallLocation"="C:\\\\Plot Seven\\\\"\n\n[Software\\\\Ash] 17\n"x"="C:\\\\Plot Seven"\n',
            'WINE REGISTRY Version 2\n\n[Software\\\\Ash] 17\n"x"="C:\\\\Plot Seven"\n',
        ),
        (
            f"{H}/wine/two/system.reg",
            "WINE REGISTRY Version 2\n\n[Software\\\\Microsoft\\\\Windows\\\\CurrentVersion\\\\Uninstall\\\\Plot] 17\n"
            '"InstallLocation"="C:\\\\Plot Seven"\n',
            "same",
        ),
    ],
    "recent document": [
        (
            f"{H}/.local/share/recently-used.xbel",
            '<xbel>\n <bookmark href="file:///home/edda/a">\n  <b:application name="plot7" exec="&apos;plot7 %u&apos;" x="1>0"/>\n </bookmark>\n</xbel>\n',
            "<xbel>\n</xbel>\n",
        ),
        (
            f"{H}/.local/share/user-places.xbel",
            '<xbel><bookmark href="file:///opt/plot/maps"><title>M</title></bookmark><bookmark href="file:///opt/plotter"/></xbel>',
            '<xbel><bookmark href="file:///opt/plotter"/></xbel>',
        ),
    ],
    "bookmark": [
        (f"{H}/.config/gtk-3.0/bookmarks", "file:///opt/plot/maps Maps\nfile:///srv S\n", "file:///srv S\n"),
        (f"{H}/.gtk-bookmarks", "file:///home/edda/.local/share/plot7\n", ""),
    ],
    "recent file": [
        (
            f"{H}/.local/share/RecentDocuments/a.desktop",
            "[Desktop Entry]\nX-KDE-LastOpenedWith=plot7\nURL[$e]=file:/srv/a\n",
            None,
        ),
        (f"{H}/.local/share/RecentDocuments/b.desktop", "[Desktop Entry]\nURL=file:///opt/plot/x\n", None),
    ],
    "thrown away": [
        (
            f"{H}/.local/share/Trash/info/a.trashinfo",
            "[Trash Info]\nPath=/opt/plot/a%20b\nDeletionDate=2026-01-01T00:00:00\n",
            None,
        ),
        (
            f"{H}/.local/share/Trash/info/b.trashinfo",
            "[Trash Info]\nPath=/home/edda/.local/share/plot7/x\n",
            None,
        ),
    ],
    "log rotation": [
        ("/etc/logrotate.d/plots", "/var/log/plot7/*.log {\n  weekly\n}\n", None),
        (
            "/etc/logrotate.d/mix",
            "/var/log/ashen.log /var/log/plot7/x.log {\n  weekly\n}\n",
            "/var/log/ashen.log {\n  weekly\n}\n",
        ),
        (
            "/etc/logrotate.d/with",
            "/var/log/ashen.log /var/log/q.log {\n  su _plot adm\n  postrotate\n    plot7 --again\n    true plot7\n  endscript\n}\n",
            "/var/log/ashen.log /var/log/q.log {\n  postrotate\n    true plot7\n  endscript\n}\n",
        ),
    ],
    "log rule": [
        (
            "/etc/rsyslog.d/p.conf",
            ':programname, isequal, "plot7" /var/log/x\n& stop\nauth.* /var/log/a\n',
            "auth.* /var/log/a\n",
        ),
        ("/etc/audit/rules.d/p.rules", "-w /usr/bin/plot7 -p x\n", None),
    ],
    "name of a service": [
        ("/etc/services", "ssh 22/tcp\nplot7 7007/tcp # Plots\n", "ssh 22/tcp\n"),
        ("/etc/security/limits.d/p.conf", "@_plot hard nofile 9\n", None),
        ("/etc/hosts.allow", "plotd: 10.\nsshd: ALL\n", "sshd: ALL\n"),
    ],
    "certificate": [
        ("/usr/local/share/ca-certificates/plot7.crt", "x", None),
        ("/etc/ssl/private/plot7.key", "x", None),
        ("/etc/ssl/private/plot7er.key", "x", "same"),
    ],
    "repository": [
        ("/etc/yum.repos.d/plot7.repo", "[p]\nname=P\nbaseurl=https://x\n", None),
        ("/etc/flatpak/remotes.d/x.flatpakrepo", "[Flatpak Repo]\nTitle=plot7\nUrl=https://x\n", None),
    ],
    "module's source": [
        ("/usr/src/plot7-7.0/dkms.conf", 'PACKAGE_NAME="plot7"\n', None),
        ("/etc/dkms/plot7.conf", "# POST\n", None),
    ],
    "journal of its own": [
        ("/etc/systemd/journald@plot7.conf", "[Journal]\n", None),
        ("/etc/systemd/journald@plot7.conf.d/x.conf", "[Journal]\n", None),
    ],
    "folder of fonts": [
        ("/etc/fonts/conf.d/60-p.conf", "<fontconfig><dir>/opt/plot/fonts</dir></fontconfig>", None),
        (
            f"{H}/.config/fontconfig/fonts.conf",
            "<fontconfig>\n<dir>~/.local/share/plot7</dir>\n<dir>/srv</dir>\n</fontconfig>\n",
            "<fontconfig>\n<dir>/srv</dir>\n</fontconfig>\n",
        ),
    ],
    "default of settings": [
        (
            "/usr/share/glib-2.0/schemas/90.gschema.override",
            "[example.Plot7.view]\nx=1\n[org.x]\ny='plot7'\n",
            "[org.x]\ny='plot7'\n",
        ),
        (
            "/etc/dconf/db/local.d/10",
            "[org/shell]\nfavourites=['plot7.desktop', 'ashen.desktop']\nb=1\n",
            "[org/shell]\nfavourites=['ashen.desktop']\nb=1\n",
        ),
    ],
    "crash record": [
        ("/var/crash/_usr_bin_plot7.1000.crash", "ProblemType: Crash\n", None),
        ("/var/crash/x.crash", "ProblemType: Crash\nExecutablePath: /opt/plot/bin/plot\n", None),
    ],
}
# Kinds whose files are links: (path, where it leads).
for _kind, _forms in (*FORMS.items(), *SETTINGS.items()):
    PLANTED.setdefault(_kind, []).extend(_forms)
LINKS: dict[str, list[tuple[str, str]]] = {
    "unit link": [
        ("/etc/systemd/system/multi-user.target.wants/plot7.service", "/lib/systemd/system/plot7.service"),
        ("/etc/systemd/system/plots.service", "plot7.service"),
        ("/etc/systemd/system/plot7.socket", "/dev/null"),
    ],
    "run level": [("/etc/rc2.d/S01plot7", "../init.d/plot7"), ("/etc/rc0.d/K01plot7", "../init.d/plot7")],
    "link": [("/usr/local/bin/p", "/usr/bin/plot7"), (f"{H}/.local/bin/q", "../../../../opt/plot/bin/plot")],
    "confinement set aside": [
        ("/etc/apparmor.d/disable/usr.bin.plot7", "/etc/apparmor.d/usr.bin.plot7"),
        ("/etc/apparmor.d/force-complain/usr.bin.plot7", "/etc/apparmor.d/usr.bin.plot7"),
    ],
    "link into it": [
        ("/etc/plots", "/opt/plot/etc"),
        (f"{H}/.plots", "/opt/plot/maps"),
        ("/srv/x", "/srv/plot7er"),
        (f"{H}/Bilder/alt/karten", "../../../../opt/plot/maps"),
        ("/mnt/spare/deep/er/than/any/pattern/link", "/etc/plots"),
    ],
}
SETTINGS_PLANTED = """\
/org/desk/terminal/exec\ts\t"/usr/bin/plot7"
/org/desk/terminal/size\ti\t12
/org/keys/media/custom-keybindings\tas\t["/org/keys/media/custom0/", "/org/keys/media/custom1/"]
/org/keys/media/custom0/binding\ts\t"<Super>p"
/org/keys/media/custom0/command\ts\t"plot7 -x"
/org/keys/media/custom0/name\ts\t"Plot"
/org/keys/media/custom1/binding\ts\t"<Super>a"
/org/keys/media/custom1/command\ts\t"ashen"
/org/keys/media/custom1/name\ts\t"Ash"
/org/notes/application-children\tas\t["ashen", "plot7"]
/org/notes/application/ashen/application-id\ts\t"ashen.desktop"
/org/notes/application/plot7/application-id\ts\t"plot7.desktop"
/org/notes/application/plot7/sound\tb\tfalse
/org/shell/apart\tas\t["plot7.desktop"]
/org/shell/favourites\tas\t["ashen.desktop", "plot7.desktop"]
/org/shell/layout\taa{sv}\t[[{"ashen.desktop", <a{sv} [{"position", <i 0>}]>}, {"plot7.desktop", <a{sv} [{"position", <i 1>}]>}]]
/org/shell/places\ta(ss)\t[("left", "plot7.desktop"), ("right", "ashen.desktop")]
/org/shell/unlike\tas\t["plot7er.desktop", "plot70.desktop"]
"""
SETTINGS_LEFT = """\
/org/desk/terminal/size\ti\t12
/org/keys/media/custom-keybindings\tas\t["/org/keys/media/custom1/"]
/org/keys/media/custom1/binding\ts\t"<Super>a"
/org/keys/media/custom1/command\ts\t"ashen"
/org/keys/media/custom1/name\ts\t"Ash"
/org/notes/application-children\tas\t["ashen"]
/org/notes/application/ashen/application-id\ts\t"ashen.desktop"
/org/shell/apart\tas\t[]
/org/shell/favourites\tas\t["ashen.desktop"]
/org/shell/layout\taa{sv}\t[[{"ashen.desktop", <a{sv} [{"position", <i 0>}]>}]]
/org/shell/places\ta(ss)\t[("right", "ashen.desktop")]
/org/shell/unlike\tas\t["plot7er.desktop", "plot70.desktop"]
"""
# Taken by the registry's own tools (test_rows.py); in a database (test_dconf.py); found by the file: tests of their own.
TABLES = ("alternative", "diversion", "override of owner and mode")
ELSEWHERE = (*TABLES, "dconf", "other name of its file")

TO, ALONE = Pointees([PLOT, ASH]), Pointees([PLOT])
EDDA = Person("edda", 1000, H, "all")


def plant(root, files, links=()):
    (root / H[1:] / ".config").mkdir(parents=True, exist_ok=True)
    (root / H[1:] / ".config/user-dirs.dirs").write_text('XDG_DESKTOP_DIR="$HOME/Schreibtisch"\n')
    for path, text in files:
        place = root / path[1:]
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text(text)
        place.chmod(0o755)
    for path, target in links:
        place = root / path[1:]
        place.parent.mkdir(parents=True, exist_ok=True)
        place.symlink_to(target)
    return open_machine(root)
