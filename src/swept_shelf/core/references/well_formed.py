"""Whether files are still whole after an edit, by their grammar."""

from __future__ import annotations

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.elements import document
from swept_shelf.core.machine import commands

_SHELLS = {"z": "zsh", ".z": "zsh", ".bash": "bash", "bash": "bash"}


def why_not_well_formed(_path: str, _before: str, after: str) -> str:
    """XML."""
    try:
        document(after)
    except ValueError as error:
        return f"would leave it broken: {error}"
    return ""


def why_no_shell(path: str, before: str, after: str) -> str:
    """Start-up files and scripts of shells, by the shell that reads them."""
    said = _syntax(path, after)
    return (
        f"would leave a script that the shell does not read: {said}"
        if said and not _syntax(path, before)
        else ""
    )


def _syntax(path: str, text: str) -> str:
    """What the shell that reads this file says of its syntax; "" where it reads it, or where that shell is not here."""
    name = base(path)
    shell = next(
        (s for start, s in _SHELLS.items() if name.startswith(start)),
        "fish" if name.endswith(".fish") else "sh",
    )
    if not commands.available(shell):
        shell = "bash" if shell == "zsh" else "sh"
        if name.endswith(".fish"):
            return ""
    try:
        done = commands.run(shell, "-n", text_in=text.encode("utf-8", "surrogateescape") or b"\n", timeout=20)
    except CouldNotRead as error:
        return error.reason
    return " ".join(done.err.split())[:200] or f"status {done.status}" if done.status else ""
