"""How a helper with the administrator's rights is asked for: by polkit where somebody can be asked, by sudo on a terminal."""

from __future__ import annotations

import os
import shutil
import sys
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.terms import LOOKING
from swept_shelf.rights.action import CARRY, LOOK, helper, why_not_trusted

BY_RIGHTS = "by_rights"
ASKED = "asking for the administrator’s rights"
_PROGRAMS = ("/usr/bin", "/usr/local/bin", "/bin", "/run/wrappers/bin")
_NOT_GIVEN = {126: "refused or dismissed", 127: "refused, or nobody could be asked", 1: "refused"}


def why_not_asked() -> str:
    """Why nobody can be asked for rights here; "" where somebody can."""
    if why := why_not_trusted():
        return why
    if _way():
        return ""
    return "needs the administrator’s rights, and neither pkexec nor sudo is here to ask for them"


def command(kind: str) -> list[str]:
    """The command line of the helper for a request of this kind. Raises Refused where nobody can be asked for rights."""
    if why := why_not_asked():
        raise Refused(why)
    return [*_way(), str(helper()), LOOK if kind in LOOKING else CARRY]


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
    return []


def _found(name: str) -> str:
    return shutil.which(name, path=os.pathsep.join(_PROGRAMS)) or ""


def why_no_word(status: int) -> str:
    """Why the helper was never heard of, by the status of the program that asked for it."""
    ended = "asking was ended before anybody answered" if status < 0 else f"status {status}"
    why = _NOT_GIVEN.get(status, ended)
    return f"the administrator’s rights were not given ({why}): nothing was changed"
