"""Settings in JSON that start it: editors' tools and tasks, bars, handlers of files, helpers for passwords."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import partial

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.json_members import Member, nested, why_no_json
from swept_shelf.core.references.building import json_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_setting, one

_COMMANDS = re.compile(
    r"(?:^|[-_.])(?:exec|action|command|cmd|path|program|shell|run|terminal|browser|editor|pager|viewer|launch|executable\w*|"
    r"on-\w+|\w*(?:Exec|Command|Path|Program|Executable|Shell|Browser|Editor))$"
)
_HELPERS = ("credHelpers", "credsStore")
_OBJECTS = ("tasks", "handlers", "configurations")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """What is no JSON, comments left out, is left to the search for mentions."""
    try:
        found = list(nested(text))
    except ValueError:
        return
    for way, together in found:
        yield from json_entries(
            together, partial(_targets, way), _shown, "another program’s settings start it"
        )


def _targets(way: tuple[str, ...], member: Member) -> tuple[Target, ...]:
    """`way`: the keys that lead to the object or the array that it stands in."""
    value = member.value
    if isinstance(value, dict):  # an object of a list of such goes whole
        whole = not member.key and way and way[-1] in _OBJECTS
        return tuple(t for k, v in value.items() if whole for t in _of(k, v))
    if (way and way[-1] in _HELPERS) or member.key in _HELPERS:
        return one(By.COMMAND, f"docker-credential-{value}") if isinstance(value, str) else ()
    if way and way[-1] in _OBJECTS:
        return ()
    return _of(member.key, value)


def _of(key: str, value: object) -> tuple[Target, ...]:
    if isinstance(value, list) and value and all(isinstance(x, str) for x in value) and _COMMANDS.search(key):
        value = value[0]
    if not isinstance(value, str) or not _COMMANDS.search(key):
        return ()
    if value.endswith(".desktop"):
        return one(By.LAUNCHER, base("/" + value))
    return of_setting(value)


def _shown(member: Member) -> str:
    value = member.value
    if isinstance(value, dict):
        value = value.get("name") or value.get("label") or value.get("command") or "an object"
    return f"{member.key}: {value}"[:200] if member.key else str(value)[:200]


KIND = Kind(
    "setting in JSON",
    "other_programs",
    ("setting in JSON", "settings in JSON"),
    (
        *(Place(f"~config/*/User/{name}.json") for name in ("settings", "tasks", "keybindings")),
        Place("~config/*/User/profiles/*/settings.json"),
        Place("~/.mozilla/firefox/*/handlers.json"),
        Place("~/.thunderbird/*/handlers.json"),
        Place("~/.docker/config.json"),
        Place("/etc/firefox/policies/policies.json"),
        Place("/etc/chromium/policies/*/*.json"),
        Place("/etc/opt/*/policies/*/*.json"),
        Place("~config/wlogout/layout"),
        Place("~config/waybar/config"),
        Place("~config/waybar/*.json"),
        Place("~config/waybar/*.jsonc"),
        Place("~config/*/Packages/User/*.sublime-build"),
        Place("~config/*/Packages/User/*.sublime-settings"),
        Place("~config/zed/*.json"),
        Place("~config/*/config.json"),
        Place("~config/*/settings.json"),
    ),
    _parse,
    why_broken=why_no_json,
    most=4 << 20,
)
