"""What the message bus starts (D-Bus Specification, message bus starting services)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.commands import command_words, program_of
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec, one

_NOTHING = ("", "false", "true")  # where a unit is all that is started


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for group in groups_of(text):
        started = [program_of(command_words(i.value)) for i in group.items if i.key == "Exec"]
        starts_something = any(base("/" + p) not in _NOTHING for p in started)
        for item in group.items:
            if item.key in ("Name", "Exec", "SystemdService"):
                by = {"Name": By.BUS, "SystemdService": By.UNIT}
                targets = one(by[item.key], item.value) if item.key in by else of_exec(item.value)
                entry = whole_file(item.number, item.key, item.text, targets, "the message bus starts it")
                # What it starts says surely whose it is: somebody's own program may have another's name, or be started by its unit.
                yield replace(entry, ask=item.key != "Exec" and starts_something)


KIND = Kind(
    "D-Bus service",
    "services",
    ("bus service", "bus services"),
    (
        Place("~data/dbus-1/services/*.service"),
        Place("/etc/dbus-1/services/*.service", 1),
        Place("/etc/dbus-1/system-services/*.service", 1),
        Place("/usr/local/share/dbus-1/services/*.service", 2),
        Place("/usr/local/share/dbus-1/system-services/*.service", 2),
        Place("/usr/share/dbus-1/services/*.service", 3),
        Place("/usr/share/dbus-1/system-services/*.service", 3),
    ),
    _parse,
    whole=True,
    masks=True,
    starts="service",
)
