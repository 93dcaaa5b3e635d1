"""Programs that browsers may talk to (native messaging): a description each."""

from __future__ import annotations

import json
from collections.abc import Iterator

from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(_path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is no JSON."""
    try:
        said = json.loads(text)
    except RecursionError:
        raise ValueError("lies deeper than any that people write") from None
    place = said.get("path", "") if isinstance(said, dict) else ""
    if isinstance(place, str) and place:
        number = next((i for i, line in enumerate(text.split("\n"), 1) if '"path"' in line), 1)
        yield whole_file(
            number,
            "path",
            f'"path": "{place}"',
            (*one(By.COMMAND, place), *one(By.PATH, place)),
            "a browser may start it",
        )


KIND = Kind(
    "browser's helper",
    "other_programs",
    ("description for browsers", "descriptions for browsers"),
    (
        Place("~config/**/NativeMessagingHosts/*.json"),
        Place("~/.*/native-messaging-hosts/*.json"),
        Place("~/.*/NativeMessagingHosts/*.json"),
        Place("/etc/*/native-messaging-hosts/*.json"),
        Place("/etc/opt/*/native-messaging-hosts/*.json"),
        Place("/etc/opt/*/NativeMessagingHosts/*.json"),
        Place("/usr/lib/*/native-messaging-hosts/*.json"),
        Place("/usr/local/lib/*/native-messaging-hosts/*.json"),
    ),
    _parse,
    whole=True,
    strict=True,
)
