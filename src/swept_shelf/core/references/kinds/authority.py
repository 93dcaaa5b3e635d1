"""What somebody may do by its actions: rules and grants of polkit(8)."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_words

_RULE = re.compile(
    r"^[ \t]*polkit\.add(?:Admin)?Rule\s*\([^\n]*\}\s*\)\s*;[ \t]*\n?|^[ \t]*polkit\.add(?:Admin)?Rule\s*\(.*?^[ \t]*\}\s*\)\s*;[ \t]*\n?",
    re.M | re.S,
)
_WORD = re.compile(r"[\"']([\w.*/+-]+)[\"']")


def _of_word(word: str) -> tuple[Target, ...]:
    """An action's id begins with its bus name or is below it."""
    parts = word.rstrip(".*").split(".")
    above = [".".join(parts[:n]) for n in range(len(parts), 1, -1)]
    return (
        *(Target(By.BUS, a) for a in above),
        *(Target(By.LAUNCHER, f"{a}.desktop") for a in above),
        *of_words(word),
        Target(By.UNIT, word),
    )


def _parse(path: str, text: str) -> Iterator[Entry]:
    if path.endswith(".pkla"):
        for group in groups_of(text):
            words = [w.strip() for w in group.get("Action").split(";")]
            if group.name:
                yield group_entry(group, tuple(t for w in words for t in _of_word(w)), "grants its actions")
        return
    for rule in _RULE.finditer(text):
        targets = tuple(dict.fromkeys(t for m in _WORD.finditer(rule[0]) for t in _of_word(m[1])))
        first = next((m for m in _WORD.finditer(rule[0]) if "." in m[1]), None)
        at = rule.start() + (first.start() if first else 0)
        line = text.count("\n", 0, at) + 1
        shown = text.split("\n")[line - 1].strip()
        yield Entry(line, shown, shown, targets, "decides about its actions", *rule.span())


KIND = Kind(
    "authority",
    "security",
    ("rule for its actions", "rules for its actions"),
    (
        Place("/etc/polkit-1/rules.d/*.rules"),
        Place("/usr/local/share/polkit-1/rules.d/*.rules"),
        Place("/usr/share/polkit-1/rules.d/*.rules"),
        Place("/etc/polkit-1/localauthority/**/*.pkla"),
        Place("/var/lib/polkit-1/localauthority/**/*.pkla"),
    ),
    _parse,
    alone="lines",
)
