"""Settings of a desktop in XML: keys that start commands, helpers that are preferred."""

from __future__ import annotations

import re
import shlex
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.elements import Element, document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_exec, one
from swept_shelf.core.references.well_formed import why_not_well_formed

_KEY = re.compile(r"<\w+>|^(?:XF86|Print|F\d+|Super)")


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield from _inside(text, document(text), base(path))


def _inside(text: str, element: Element, file: str, within: str = "") -> Iterator[Entry]:
    """`within`: the property whose list it stands in."""
    given = element.attributes
    value = given.get("value", "")
    if element.name in ("property", "value") and value and given.get("type") == "string":
        name = given.get("name", within)
        targets: tuple[Target, ...] = ()
        if value.endswith(".desktop"):
            targets = one(By.LAUNCHER, base("/" + value))
        elif (
            "keyboard-shortcuts" in file
            or _KEY.search(name)
            or name in ("TerminalEmulator", "WebBrowser", "FileManager", "MailReader")
            or "ommand" in name
        ):
            targets = of_exec(value)
        if targets and not element.inner:
            yield element_entry(
                text, element, f"{name}={value}", targets, "a setting of the desktop names it"
            )
    words = [inner.attributes.get("value", "") for inner in element.inner if inner.name == "value"]
    name = given.get("name", "")
    if words and "ommand" in name and (targets := of_exec(shlex.join(words))):  # a command, word for word
        yield element_entry(text, element, f"{name}={words[0]}", targets, "a setting of the desktop names it")
        return
    for inner in element.inner:
        yield from _inside(text, inner, file, name)


KIND = Kind(
    "desktop's setting",
    "other_programs",
    ("setting of the desktop", "settings of the desktop"),
    (
        Place("~config/*/xfconf/xfce-perchannel-xml/*.xml"),
        Place("/etc/xdg/*/xfconf/xfce-perchannel-xml/*.xml"),
    ),
    _parse,
    why_broken=why_not_well_formed,
    strict=True,
)
