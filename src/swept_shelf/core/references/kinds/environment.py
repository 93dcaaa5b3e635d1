"""Variables of the environment in plain lists: environment.d(5), pam_env.conf(5), /etc/environment."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import partial

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, one

_SETS = re.compile(r"^\s*(?:export\s+)?(\w+)(?:=|\s+(?:DEFAULT|OVERRIDE)=)[\"']?([^\"']*?)[\"']?\s*$")


def _target(name: str, part: str) -> tuple[Target, ...]:
    if part.startswith(("/", "~", "$HOME", "${HOME}", "@{HOME}")):
        return (*one(By.PATH, part.split(" ")[0]), *one(By.COMMAND, part.split(" ")[0]))
    return of_shell(part) if re.search(r"EDITOR|VISUAL|BROWSER|PAGER|TERMINAL", name) else ()


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        if not (match := _SETS.match(line.text)):
            continue
        name, value = match[1], match[2]

        mark = ":" if "PATH" in name or name.startswith("XDG_") else ""
        listed = listed_entries(
            line,
            line.start + match.start(2),
            value,
            mark,
            partial(_target, name),
            f"{name} leads to it",
            line.text,
        )
        yield from listed


KIND = Kind(
    "environment",
    "shell",
    ("variable of the environment", "variables of the environment"),
    (
        Place("~config/environment.d/*.conf"),
        Place("~/.pam_environment"),
        Place("/etc/environment"),
        Place("/etc/environment.d/*.conf"),
        Place("/usr/local/lib/environment.d/*.conf"),
        Place("/etc/security/pam_env.conf"),
        Place("/etc/default/locale"),
    ),
    _parse,
)
