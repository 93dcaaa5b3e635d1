"""Modules of the kernel that are loaded, and how (modules-load.d(5), modprobe.d(5))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one


def _module(name: str) -> tuple[Target, ...]:
    return (
        *one(By.LIBRARY, f"{name}.ko"),
        *one(By.LIBRARY, f"{name.replace('-', '_')}.ko"),
        *one(By.NAME, name),
    )


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        words = line.text.split()
        if "modprobe" not in path:
            return _module(words[0])
        if words[0] in ("install", "remove") and len(words) > 2:
            command = line.text.split(None, 2)[2]
            return (*_module(words[1]), *of_shell(command), *of_words(command))
        return _module(words[-1] if words[0] == "alias" else words[1]) if len(words) > 1 else ()

    yield from line_entries(continued_lines(text, "#;"), targets, "loads or sets its module")


KIND = Kind(
    "kernel module",
    "startup",
    ("module of the kernel", "modules of the kernel"),
    (
        Place("/etc/modules"),
        Place("/etc/modules-load.d/*.conf"),
        Place("/usr/local/lib/modules-load.d/*.conf"),
        Place("/etc/modprobe.d/*.conf"),
        Place("/usr/local/lib/modprobe.d/*.conf"),
        Place("/etc/initramfs-tools/modules"),
    ),
    _parse,
    alone="lines",
)
