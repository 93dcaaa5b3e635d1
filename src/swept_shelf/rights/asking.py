"""How a helper with the administrator's rights is asked for: by polkit where somebody can be asked, by sudo or su on a terminal."""

from __future__ import annotations

import os
import shlex
import shutil
import sys
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.terms import LOOKING
from swept_shelf.rights.action import CARRY, LOOK, helper, why_not_trusted

BY_RIGHTS = "by_rights"
ASKED = "asking for the administrator’s rights"
_PROGRAMS = ("/usr/bin", "/usr/local/bin", "/bin", "/run/wrappers/bin")
# su asks on the terminal by its own standard input; the request and the answers wait beside it.
_BY_SU = 'exec "$0" - root -s /bin/sh -c "$1" 3<&0 4>&1 5>&2 0<>/dev/tty 1>&0 2>&0'
_AS_BEFORE = "<&3 >&4 2>&5 3<&- 4>&- 5>&-"
_NOT_GIVEN = {126: "refused or dismissed", 127: "refused, or nobody could be asked", 1: "refused"}


def why_not_asked() -> str:
    """Why nobody can be asked for rights here; "" where somebody can."""
    if why := why_not_trusted():
        return why
    if _way():
        return ""
    return "needs the administrator’s rights, and neither pkexec nor sudo, nor su on a terminal, is here to ask for them"


def command(kind: str) -> list[str]:
    """The command line of the helper for a request of this kind. Raises Refused where nobody can be asked for rights."""
    if why := why_not_asked():
        raise Refused(why)
    way, mode = _way(), LOOK if kind in LOOKING else CARRY
    if Path(way[0]).name == "su":
        return ["/bin/sh", "-c", _BY_SU, way[0], f"exec {shlex.quote(str(helper()))} {mode} {_AS_BEFORE}"]
    return [*way, str(helper()), mode]


def way_in_words() -> str:
    """By what rights are asked for here; "" where there is nothing."""
    way = _way()
    return Path(way[0]).name if way else ""


def _way() -> list[str]:
    on_terminal = sys.stdin is not None and sys.stdin.isatty()
    shown = bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))
    pkexec, sudo = _found("pkexec"), _found("sudo")
    if pkexec and (shown or not sudo):
        return [pkexec, *([] if on_terminal else ["--disable-internal-agent"])]
    if sudo:  # without a terminal it asks nobody, and says so
        return [sudo, *([] if on_terminal else ["-n"]), "--"]
    if on_terminal and (su := _found("su")):
        return [su]
    return []


def _found(name: str) -> str:
    return shutil.which(name, path=os.pathsep.join(_PROGRAMS)) or ""


def why_no_word(status: int) -> str:
    """Why the helper was never heard of, by the status of the program that asked for it."""
    ended = "asking was ended before anybody answered" if status < 0 else f"status {status}"
    why = _NOT_GIVEN.get(status, ended)
    return f"the administrator’s rights were not given ({why}): nothing was changed"
