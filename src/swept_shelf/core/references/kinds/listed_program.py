"""Files by which another program knows it: search providers, helpers of a desktop, kernels of notebooks, openers of pictures."""

from __future__ import annotations

import json
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_exec, of_words, one

_DETAIL = "another program knows it by this file"


def _of_item(key: str, value: str) -> tuple[Target, ...]:
    if key == "DesktopId":
        return one(By.LAUNCHER, value)
    if key == "BusName":
        return one(By.BUS, value)
    if key in ("Origin", "Desktop File"):
        return (*one(By.LAUNCHER, base("/" + value)), *of_words(value))
    if key in ("Exec", "TryExec", "executable") or key.startswith(("X-XFCE-Commands", "X-XFCE-Binaries")):
        return tuple(t for word in value.split(";") for t in of_exec(word))
    return ()


def _parse(path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where a description in JSON is none."""
    if path.endswith(".json"):
        try:
            said = json.loads(text)
        except RecursionError:
            raise ValueError("lies deeper than any that people write") from None
        words = said.get("argv") if isinstance(said, dict) else None
        if isinstance(words, list) and words and isinstance(words[0], str):
            line = next((n for n, row in enumerate(text.split("\n"), 1) if '"argv"' in row), 1)
            yield whole_file(line, "argv", words[0], of_exec(words[0]), _DETAIL)
        return
    for group in groups_of(text):
        for item in group.items:
            if targets := _of_item(item.key, item.value):
                yield whole_file(item.number, item.key, item.text, targets, _DETAIL)


KIND = Kind(
    "entry of another program",
    "other_programs",
    ("entry of another program", "entries of other programs"),
    (
        Place("~data/gnome-shell/search-providers/*.ini"),
        Place("/usr/share/gnome-shell/search-providers/*.ini"),
        Place("/usr/local/share/gnome-shell/search-providers/*.ini"),
        Place("~data/xfce4/helpers/*.desktop"),
        Place("/usr/share/xfce4/helpers/*.desktop"),
        Place("/usr/local/share/xfce4/helpers/*.desktop"),
        Place("~data/jupyter/kernels/*/kernel.json"),
        Place("/usr/local/share/jupyter/kernels/*/kernel.json"),
        Place("~config/geeqie/applications/*.desktop"),
        Place("~config/cairo-dock/current_theme/launchers/*.desktop"),
        Place("~config/kate/externaltools/*.ini"),
    ),
    _parse,
    whole=True,
)
