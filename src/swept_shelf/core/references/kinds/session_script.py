"""Scripts that start a graphical session, and lists of what window managers start."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.scripts import start_up_entries
from swept_shelf.core.references.well_formed import why_no_shell

_DETAIL = "starts with the session"


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "/lxsession/" in path:  # a line is a command, behind an @ one that is started again when it ends
        plain = "".join(f" {line[1:]}" if line.startswith("@") else line for line in text.splitlines(True))
        yield from (replace(e, text=e.text.strip()) for e in start_up_entries(plain, _DETAIL))
        return
    yield from start_up_entries(text, _DETAIL)


KIND = Kind(
    "session script",
    "startup",
    ("line of a session's script", "lines of sessions' scripts"),
    (
        *(
            Place(f"~/{name}")
            for name in (".xinitrc", ".xsession", ".xprofile", ".xsessionrc", ".Xclients", ".xserverrc")
        ),
        Place("~config/autostart-scripts/*"),
        Place("~/.vnc/xstartup"),
        Place("~config/tigervnc/xstartup"),
        Place("/etc/vnc/xstartup"),
        Place("~/.dwm/autostart*.sh"),
        Place("~data/dwm/autostart*.sh"),
        Place("~/.ssh/rc"),
        Place("/etc/ssh/sshrc"),
        *(Place(f"/etc/gdm3/{when}/*") for when in ("Init", "PostLogin", "PreSession", "PostSession")),
        Place("/etc/X11/xdm/Xs*"),
        Place("~config/*/autostart"),
        Place("~config/*/autostart.sh"),
        Place("~config/lxsession/*/autostart"),
        Place("~config/*/startup.sh"),
        Place("~config/*/init"),
        Place("~config/bspwm/bspwmrc"),
        Place("~config/plasma-workspace/env/*"),
        Place("~config/plasma-workspace/shutdown/*"),
        Place("/etc/X11/Xsession.d/*"),
        Place("/etc/X11/xinit/xinitrc"),
        Place("/etc/X11/xinit/xinitrc.d/*"),
        Place("/etc/xdg/openbox/autostart"),
        Place("/etc/xdg/lxsession/*/autostart"),
        Place("/etc/rc.local"),
        Place("/etc/rc.d/rc.local"),
    ),
    _parse,
    starts="login",
    why_broken=why_no_shell,
)
