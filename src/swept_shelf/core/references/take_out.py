"""Taking out: the pieces that leave a file without what is gone, and whether the file is whole afterwards."""

from __future__ import annotations

from collections.abc import Set as AbstractSet

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.masking import masked
from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine import commands
from swept_shelf.core.references import cron, file_types, recents, shell_startup
from swept_shelf.core.references.pointees import Pointees

_BY_KIND = {
    "cron": cron.cuts,
    "shell line": shell_startup.cuts,
    "file type": file_types.cuts,
    "recent document": recents.cuts,
    "bookmark": recents.cuts,
}
WHOLE = frozenset({"autostart", "launcher", "link", "D-Bus service", "unit link", "unit"})
_SHELLS = {"z": "zsh", ".z": "zsh", ".bash": "bash", "bash": "bash"}


def cuts_for(
    kind: str, path: str, text: str, gone: Pointees, chosen: AbstractSet[tuple[int, str]]
) -> list[Cut]:
    """The pieces for the references `chosen` by line and key, and no others. Raises ValueError when the file is broken."""
    wanted = {key for _, key in chosen}
    lines = {line for line, _ in chosen}
    return [
        c
        for key, c in _BY_KIND[kind](path, text, gone)
        if c.line in lines and (masked(key) in wanted or kind == "shell line")
    ]


def why_broken(kind: str, path: str, before: str, after: str) -> str:
    """Why `after` is not as good a file of its kind as `before` was; "" where it is."""
    if kind == "recent document" and path.endswith(".xbel"):
        try:
            recents.check(after)
        except ValueError as error:
            return f"would leave it broken: {error}"
    if kind == "shell line" and path != "/etc/environment":
        said = _syntax(path, after)
        if said and not _syntax(path, before):
            return f"would leave a script that the shell does not read: {said}"
    return ""


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
