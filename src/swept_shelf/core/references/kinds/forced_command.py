"""Keys that may only start it (sshd(8), AUTHORIZED_KEYS): without the command the key would open everything, so its line goes."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_shell, of_words

_COMMAND = re.compile(r'(?:^|,)command="((?:[^"\\]|\\.)*)"', re.I)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        if match := _COMMAND.search(line.text):
            command = match[1].replace('\\"', '"')
            targets = tuple(dict.fromkeys((*of_shell(command), *of_words(command))))
            shown = match[0].strip(",")
            yield Entry(
                line.number, shown, shown, targets, "a key that may only start it", line.start, line.end
            )


KIND = Kind(
    "forced command",
    "security",
    ("key that may only start it", "keys that may only start it"),
    (Place("~/.ssh/authorized_keys"), Place("~/.ssh/authorized_keys2")),
    _parse,
    action="ask",
)
