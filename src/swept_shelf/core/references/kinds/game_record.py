"""What a launcher of games keeps of those that it installed: one file for all of them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from swept_shelf.core.grammars.json_members import Member, members, why_no_json
from swept_shelf.core.references.building import json_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _said(member: Member, key: str) -> str:
    value: Any = member.value.get(key, "") if isinstance(member.value, dict) else ""
    return value if isinstance(value, str) else ""


def _targets(member: Member) -> tuple[Target, ...]:
    return one(By.PATH, _said(member, "install_path"))


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is no JSON."""
    found = members(text, "installed") or members(text)
    yield from json_entries(
        found,
        _targets,
        lambda m: m.key or _said(m, "appName") or _said(m, "install_path"),
        "is in its registry’s book",
    )


KIND = Kind(
    "entry of a library of games",
    "registry",
    ("entry in a library of games", "entries in libraries of games"),
    (
        Place("~config/heroic/legendaryConfig/legendary/installed.json"),
        Place("~config/legendary/installed.json"),
        Place("~config/heroic/gog_store/installed.json"),
    ),
    _parse,
    why_broken=why_no_json,
    strict=True,
)
