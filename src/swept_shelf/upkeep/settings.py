"""Upkeep's settings: a TOML file beside the corrections of belongings."""

from __future__ import annotations

import re
import tomllib
from collections.abc import Iterable
from dataclasses import asdict, replace
from pathlib import Path

import tomlkit

from swept_shelf.core.belongings.store_parts import TRIMMED
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.sizes import parse_bytes
from swept_shelf.core.documents.upkeep import Settings
from swept_shelf.core.documents.wire import first_line, from_plain

NAME = "upkeep.toml"
_SPAN = re.compile(r"([1-9]\d{0,3})([dwmy])")
_DAYS = re.compile(r"(\d{1,4})d?")


def read_settings(path: Path) -> Settings:
    """Raises CouldNotRead naming the file and what is wrong in it; nothing of a wrong file is used."""
    try:
        plain = tomllib.loads(path.read_text())
    except FileNotFoundError:
        return Settings()
    except (OSError, ValueError) as error:
        raise CouldNotRead(f"is no file of settings: {str(error).splitlines()[0]}", str(path)) from None
    try:
        settings = from_plain(Settings, plain)
        _must_hold(settings)
    except ValueError as error:
        raise CouldNotRead(f"is wrong: {first_line(error)}", str(path)) from None
    return settings


def _must_hold(s: Settings) -> None:
    if not _SPAN.fullmatch(s.unused):
        raise ValueError(f"unused is {s.unused}, not a span like 90d, 6m or 1y")
    if min(s.free, s.grew, s.empty_after, *s.volumes.values(), *s.trim.values(), 0) < 0:
        raise ValueError("less than nothing is no threshold")
    for kind in s.trim:
        if kind not in TRIMMED:
            raise ValueError(f"{kind} is not one of {', '.join(TRIMMED)}")
    for mount in s.volumes:
        if not mount.startswith("/"):
            raise ValueError(f"{mount} is no mount point")


def changed(settings: Settings, told: Iterable[str]) -> Settings:
    """The settings with each `name=value` of people's words taken in. Raises Refused."""
    for word in told:
        name, is_, value = word.partition("=")
        try:
            if not is_:
                raise ValueError("is not name=value")
            settings = _with(settings, name.strip(), value.strip())
            _must_hold(settings)
        except ValueError as error:
            raise Refused(f"{word}: {first_line(error)}") from None
    return settings


def _with(s: Settings, name: str, value: str) -> Settings:
    if name == "every":
        return from_plain(Settings, asdict(s) | {"every": value})
    if name == "unused":
        return replace(s, unused=value)
    if name == "free":
        return replace(s, free=parse_bytes(value))
    if name == "grew":
        return replace(s, grew=parse_bytes(value))
    if name == "empty":
        return replace(s, empty_after=_days(value))
    kind, _, which = name.partition(":")
    if kind == "free" and which:
        return replace(s, volumes=s.volumes | {which: parse_bytes(value)})
    if kind == "trim" and which:
        kept = {k: v for k, v in s.trim.items() if k != which}
        return replace(s, trim=kept if value == "never" else kept | {which: _days(value)})
    raise ValueError("is none of every, free, free:MOUNT, unused, grew, empty, trim:STORE")


def _days(value: str) -> int:
    if value == "never":
        return 0
    if not (match := _DAYS.fullmatch(value)):
        raise ValueError(f"{value} is not a number of days like 30d, or never")
    return int(match[1])


def write_settings(path: Path, settings: Settings) -> None:
    """Raises Refused."""
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        new = path.with_suffix(".new")
        new.write_text(tomlkit.dumps(asdict(settings)))
        new.replace(path)
    except OSError as error:
        raise Refused(f"may not be written: {error.strerror}", str(path)) from None
