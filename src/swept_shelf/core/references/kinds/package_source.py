"""Sources of packages, their keys and pins: those of a maker serve whatever else comes from there, so they are asked about."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.deb822 import stanzas
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one


def _names(path: str, *texts: str) -> tuple[Target, ...]:
    """A source is known by what its file, its address or its key is called like."""
    words = {base(path).rpartition(".")[0]}
    for text in texts:
        words |= {w for w in re.split(r"[/.:\s\[\]=_-]+", text) if len(w) > 3}
        words |= {w for w in re.split(r"[/\s]+", text) if len(w) > 3}
    return tuple(Target(By.NAME, w) for w in sorted(words))


def _parse(path: str, text: str) -> Iterator[Entry]:
    if path.endswith(".list"):
        for line in said_lines(text):
            if line.text.split()[0] in ("deb", "deb-src"):
                yield Entry(
                    line.number,
                    line.text,
                    line.text,
                    _names(path, line.text),
                    "a source of its packages",
                    line.start,
                    line.end,
                    ask=True,
                )
        return
    if path.endswith(".sources"):
        for stanza in stanzas(text):
            said = f"{stanza.get('URIs')} {stanza.get('Signed-By')}"
            enabled = stanza.get("Enabled").lower() not in ("no", "false")
            shown = f"URIs: {stanza.get('URIs')}"
            yield Entry(
                stanza.number,
                shown,
                shown,
                _names(path, said),
                "a source of its packages",
                stanza.start,
                stanza.end,
                enabled=enabled,
                ask=True,
            )
        return
    if "preferences" in path:
        for stanza in stanzas(text):
            packages = stanza.get("Package").split()
            targets = tuple(t for p in packages for t in one(By.PACKAGE, p))
            shown = f"Package: {stanza.get('Package')}"
            yield Entry(
                stanza.number,
                shown,
                shown,
                targets,
                "its version is pinned",
                stanza.start,
                stanza.end,
                ask=len(packages) > 1,
            )
        return
    for line in said_lines(text, "#/"):
        targets = (
            *(t for m in re.finditer(r'"([^"]*)"', line.text) for t in (*of_shell(m[1]), *of_words(m[1]))),
        )
        pinned = tuple(t for m in re.finditer(r'"\^?([\w.+-]+)', line.text) for t in one(By.PACKAGE, m[1]))
        yield Entry(
            line.number,
            line.text,
            line.text,
            (*targets, *pinned),
            "the registry's settings name it",
            line.start,
            line.end,
            ask=True,
        )


KIND = Kind(
    "source of packages",
    "sources",
    ("source of packages", "sources of packages"),
    (
        Place("/etc/apt/sources.list"),
        Place("/etc/apt/sources.list.d/*.list"),
        Place("/etc/apt/sources.list.d/*.sources"),
        Place("/etc/apt/preferences"),
        Place("/etc/apt/preferences.d/*", heeded=r"[\w-]+(\.pref)?"),
        Place("/etc/apt/apt.conf"),
        Place("/etc/apt/apt.conf.d/*"),
    ),
    _parse,
    alone="lines",
)
