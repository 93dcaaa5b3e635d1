"""Folders that belong to nobody, whoever lists them: those of the file hierarchy standard (FHS 3.0), of the base directory,
icon theme and menu specifications, and where the system's parts look for what packages bring."""

from __future__ import annotations

import re

_ROOT = "bin|boot|dev|etc|home|lib(32|64|x32)?|media|mnt|opt|proc|root|run|sbin|srv|sys|tmp|usr|var"
_USR = "bin|sbin|games|lib(32|64|x32)?|libexec|include|share|src"
_PER_MACHINE = r"[\w]+-linux-[\w]+"  # a folder of libraries for one kind of machine
_X11 = r"app-defaults|fonts(/.*)?|locale|Xreset\.d|Xresources|Xsession(\.d)?|xkb(/.*)?|xorg\.conf\.d"
_SHARE = (
    r"appdata|applications|applications/screensavers|augeas(/.*)?|backgrounds|bash-completion(/completions)?|bug|color(/icc)?"
    r"|consolefonts|dbus-1(/.*)?|desktop-directories|dict|doc|doc-base|emacs(/site-lisp)?|fish(/.*)?|fonts(/[^/]+)?|games"
    r"|gettext(/its)?|gir-1\.0|glib-2\.0(/schemas)?|gnome-shell(/search-providers)?|gtk-doc(/html)?|help(/[^/]+)?"
    r"|icons(/hicolor(/.*)?|/gnome(/.*)?|/Adwaita(/.*)?|/locolor(/.*)?)?|info|java|keyrings|lintian(/.*)?"
    r"|locale(/[^/]+(/LC_\w+)?)?|man(/(man\w+|[^/]+(/man\w+)?))?|menu|metainfo|mime(/.*)?|mime-info|mimelnk(/.*)?"
    r"|nautilus(/.*)?|perl5(/.*)?|pixmaps|pkgconfig|polkit-1(/.*)?|sounds|systemd|terminfo(/.)?|themes|thumbnailers"
    rf"|vala(/vapi)?|vim(/(addons|registry|vimfiles(/.*)?))?|wayland-sessions|X11(/({_X11}))?|xml|xsessions|zsh(/(vendor|site)-\w+)?|zoneinfo"
)
_LIB = (
    rf"{_PER_MACHINE}|({_PER_MACHINE}/)?(pkgconfig|girepository-1\.0|gio(/modules)?|qt\d(/.*)?|gtk-\d\.0(/.*)?)"
    r"|binfmt\.d|cups(/.*)?|debug(/.*)?|dracut(/.*)?|environment\.d|firmware|games|girepository-1\.0|kernel(/.*)?|mime(/.*)?"
    r"|modprobe\.d|modules(-load\.d)?|NetworkManager(/.*)?|pam\.d|perl5?(/.*)?|pkgconfig|pm-utils(/.*)?"
    r"|python\d[\d.]*(/dist-packages)?|ruby(/.*)?|security|sysctl\.d|systemd(/.*)?|sysusers\.d|tmpfiles\.d|udev(/.*)?"
)
_ETC = (
    r"apm(/.*)?|apparmor(\.d(/.*)?)?|apt(/.*)?|avahi(/services)?|bash_completion\.d|binfmt\.d|bluetooth|ca-certificates(/.*)?"
    r"|cron\.\w+|cups|dbus-1(/.*)?|default|dhcp(/.*)?|dkms|dpkg(/.*)?|emacs(/site-start\.d)?|environment\.d|fonts(/.*)?|grub\.d"
    r"|gtk-\d\.0|init(\.d)?|initramfs-tools(/.*)?|insserv(\.conf\.d)?|kernel(/.*)?|ld\.so\.conf\.d|logcheck(/.*)?|logrotate\.d"
    r"|modprobe\.d|modules-load\.d|network(/.*)?|NetworkManager(/.*)?|opt|pam\.d|perl(/.*)?|pm(/.*)?|polkit-1(/.*)?|ppp(/.*)?"
    r"|profile\.d|rc[\dS]\.d|reportbug|request-key\.d|rsyslog\.d|sane\.d|security(/.*)?|sensors\.d|sgml|skel(/.*)?|ssh(/.*)?|ssl(/.*)?"
    rf"|sudoers\.d|sysctl\.d|systemd(/.*)?|terminfo|tmpfiles\.d|udev(/.*)?|ufw(/applications\.d)?|update-motd\.d|vim|X11(/({_X11}))?"
    r"|xdg(/(autostart|menus(/.*)?|systemd(/.*)?|Xwayland-session\.d))?|xml|zsh"
)
_VAR = (
    r"backups|cache|cache/(apt(/.*)?|debconf|fontconfig|ldconfig|man(/.*)?)|crash|games|lib|lib/(AccountsService(/.*)?|apt(/.*)?"
    r"|dbus|dkms|dpkg(/.*)?|games|misc|pam|polkit-1(/.*)?|systemd(/.*)?|ucf|xml-core)|local|lock|log|log/apt|mail|opt|run|spool"
    r"|spool/(cron(/.*)?|mail)|tmp|yp"
)
_STANDARD = re.compile(
    rf"/|/({_ROOT})|/usr/({_USR})|/usr/local(/({_USR}|etc|man)(/({_SHARE}))?)?|/usr/share/({_SHARE})|(/usr)?/lib/({_LIB})"
    rf"|/usr/libexec|/etc/({_ETC})|/var/({_VAR})"
)


def is_standard(folder: str) -> bool:
    """Whether a folder is everybody's by a standard."""
    return _STANDARD.fullmatch(folder) is not None
