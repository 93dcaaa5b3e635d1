"""Files about it that other programs read by their name: what its messages may say, what is not started again, what is shown
of it on the network."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_ENDING = re.compile(r"\.(?:conf|service|profile|local|rules)$")
_NETWORK = re.compile(r"<type>\s*_([\w-]+)\._(?:tcp|udp)\s*</type>")


def _named(name: str) -> tuple[Target, ...]:
    return (*one(By.NAME, name), *one(By.PACKAGE, name), *one(By.COMMAND, name))


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = _ENDING.sub("", base(path))
    targets = [*_named(name), *one(By.UNIT, f"{name}.service")]
    for match in _NETWORK.finditer(text) if "/avahi/" in path else ():
        targets += _named(match[1])
    yield whole_file(1, name, text.split("\n", 1)[0], tuple(targets), "is about it, by its name")


KIND = Kind(
    "file about it",
    "logs",
    ("file about it", "files about it"),
    (
        *(
            Place(f"/etc/logcheck/{x}.d*/*")
            for x in ("ignore", "violations", "violations.ignore", "cracking")
        ),
        *(Place(f"/etc/logwatch/{x}/*") for x in ("conf/services", "conf/logfiles", "scripts/services")),
        Place("/etc/needrestart/restart.d/*"),
        Place("/etc/avahi/services/*.service"),
        Place("/etc/sensors.d/*"),
    ),
    _parse,
    whole=True,
)
