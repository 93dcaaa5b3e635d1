"""The verdict “move data”: what an application keeps goes to another volume, a link stands in its place, and settings of its own
that name the place name the new one."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

from swept_shelf.core.documents.operations import Cut
from swept_shelf.core.documents.paths import is_clean, within
from swept_shelf.core.documents.survey import Application, Belonging, LeftBehind, Volume
from swept_shelf.core.documents.terms import Kind, Share
from swept_shelf.core.machine.volumes import volume_of

_KINDS = (Kind.SUPPORT, Kind.CACHE, Kind.STATE)
_SMALLEST = 1 << 20  # less is not worth a link, unless it is ticked by hand
OWN_SETTING = "setting of its own"
_PLAIN = re.compile(r"/[\w./+@-]*")  # a path that no grammar of settings writes otherwise
_HOMES = ("~", "$HOME", "${HOME}")
LARGEST = 256 << 10  # bytes of a file of settings


def movable(entry: Application | LeftBehind) -> list[Belonging]:
    """Data that is its alone: never programs, settings, or what lies inside another that goes. Only folders are moved."""
    if not isinstance(entry, Application):
        return []
    pointers = {r.path for r in entry.references}
    found = [
        b
        for b in entry.belongings
        if b.is_path and b.kind in _KINDS and b.share == Share.SOLE and b.path not in pointers
    ]
    return [b for b in found if not any(o is not b and within(b.path, o.path) for o in found)]


def large(b: Belonging) -> bool:
    return b.bytes >= _SMALLEST


def why_not_to(to: str, paths: list[str], volumes: list[Volume]) -> str:
    """Why these may not go into the folder `to`; "" where they may."""
    if not is_clean(to) or to == "/":
        return "is no folder that anything could be moved to"
    there = volume_of(volumes, to).id
    for path in paths:
        if within(to, path):
            return f"lies inside {path}"
        if volume_of(volumes, path).id == there:
            return f"lies on the same volume as {path}"
    return ""


def target(to: str, path: str) -> str:
    """Where a path stands below the folder it is moved to: the whole path again, so that no two meet."""
    return f"{to.rstrip('/')}{path}"


def settings_of_its_own(app: Application) -> Iterator[str]:
    """Where its settings stand: certainly its alone, and nothing that a person made."""
    for b in app.belongings:
        if (
            b.is_path
            and b.kind == Kind.PREFERENCES
            and b.share == Share.SOLE
            and b.certain
            and not b.personal
        ):
            yield b.path


def is_searched(size: int) -> bool:
    """Whether a file of settings is of a size that people and programs write."""
    return 0 < size <= LARGEST


def named_anew(text: str, places: Mapping[str, str], home: str) -> list[Cut]:
    """`text` with the new of each of `places` (new by old) where the old one stands, or something in it; `home`: what ~ means.
    What is written otherwise, because its grammar has to, is left: the link leads there."""
    if "\0" in text:
        return []
    spelled = {}
    for old, new in places.items():
        if _PLAIN.fullmatch(old) and _PLAIN.fullmatch(new):
            spelled[old] = new
            if home and within(old, home):
                spelled |= {f"{sign}{old[len(home) :]}": new for sign in _HOMES}
    if not spelled:
        return []
    either = "|".join(re.escape(old) for old in sorted(spelled, key=len, reverse=True))
    found = re.compile(rf"(?:(?<![\w.+@~/$}}-])|(?<=file://))(?:{either})(?![\w+@~-]|\.\w)").finditer(text)
    return [
        Cut(text.count("\n", 0, m.start()) + 1, m.start(), m.end(), m.start(), m.end(), put=spelled[m[0]])
        for m in found
    ]
