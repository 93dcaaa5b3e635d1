"""Modules of the kernel that are loaded, and how (modules-load.d(5), modprobe.d(5))."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries, listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_LIST = re.compile(r"^\s*\w+\s*\+?=\s*[(\"']\s*([^)\"']*?)\s*[)\"']\s*$")


def _module(name: str) -> tuple[Target, ...]:
    return (
        *one(By.LIBRARY, f"{name}.ko"),
        *one(By.LIBRARY, f"{name.replace('-', '_')}.ko"),
        *one(By.NAME, name),
    )


def _of_image(word: str) -> tuple[Target, ...]:
    """A part of the image that starts the system: a module, a hook, a program or a file."""
    bare = word.strip("\"'")
    return (*one(By.COMMAND, bare), *of_words(bare)) if "/" in bare else _module(bare)


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "mkinitcpio" in path or "dracut" in path:
        for line in continued_lines(text):
            if match := _LIST.match(line.text):
                at = line.start + match.start(1)
                yield from listed_entries(
                    line, at, match[1], " ", _of_image, "a part of what starts the system"
                )
        return

    def targets(line: Line) -> tuple[Target, ...]:
        words = line.text.split()
        if "modprobe" not in path:
            return _module(words[0])
        if words[0] in ("install", "remove") and len(words) > 2:
            command = line.text.split(None, 2)[2]
            return (*_module(words[1]), *of_shell(command), *of_words(command))
        if words[0] == "softdep":
            return tuple(t for w in words[1:] if not w.endswith(":") for t in _module(w))
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
        Place("/etc/mkinitcpio.conf"),
        Place("/etc/mkinitcpio.conf.d/*.conf"),
        Place("/etc/dracut.conf"),
        Place("/etc/dracut.conf.d/*.conf"),
    ),
    _parse,
    alone="lines",
)
