"""The two books in which cargo keeps what it installed: a TOML table of lines, and a JSON object of members."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterator
from typing import Any

from swept_shelf.core.documents.paths import join, parent
from swept_shelf.core.grammars.json_members import members, why_no_json
from swept_shelf.core.references.building import json_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target

_LINE = re.compile(r'^"((?:[^"\\\n]|\\.)+)"[ \t]*=[ \t]*\[[^\]]*\][^\n]*\n?', re.M)


def _is_json(text: str) -> bool:
    return text.lstrip().startswith("{")


def _targets(path: str, programs: Any) -> tuple[Target, ...]:
    names = [p for p in programs if isinstance(p, str)] if isinstance(programs, list) else []
    return tuple(Target(By.PATH, join(parent(path), "bin", n)) for n in names)


def _parse(path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is neither."""
    if _is_json(text):
        found = members(text, "installs")
        yield from json_entries(
            found,
            lambda m: _targets(path, m.value.get("bins") if isinstance(m.value, dict) else None),
            lambda m: m.key,
            "is in its registry’s book",
        )
        return
    said = tomllib.loads(text).get("v1", {})
    for match in _LINE.finditer(text):
        key = match[1].replace('\\"', '"')
        if isinstance(said, dict) and key in said:
            line = text.count("\n", 0, match.start()) + 1
            yield Entry(
                line,
                key,
                key,
                _targets(path, said[key]),
                "is in its registry’s book",
                match.start(),
                match.end(),
            )


def _why_broken(path: str, before: str, after: str) -> str:
    if _is_json(before):
        return why_no_json(path, before, after)
    try:
        tomllib.loads(after)
    except ValueError as error:
        return f"would not be TOML any more: {str(error)[:80]}"
    return ""


KIND = Kind(
    "entry of cargo",
    "registry",
    ("entry in cargo’s books", "entries in cargo’s books"),
    (Place("~/.cargo/.crates.toml"), Place("~/.cargo/.crates2.json")),
    _parse,
    why_broken=_why_broken,
    strict=True,
)
