"""What ssh starts or reads (ssh_config(5), sshd_config(5)): of two values of one keyword the first counts."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words

_COMMANDS = frozenset(
    {
        "proxycommand",
        "localcommand",
        "remotecommand",
        "knownhostscommand",
        "forcecommand",
        "authorizedkeyscommand",
        "subsystem",
        "xauthlocation",
    }
)
_FILES = frozenset(
    {
        "include",
        "identityagent",
        "identityfile",
        "pkcs11provider",
        "securitykeyprovider",
        "certificatefile",
        "controlpath",
        "userknownhostsfile",
        "banner",
    }
)


def _parse(_path: str, text: str) -> Iterator[Entry]:
    block = ""
    for line in said_lines(text):
        match = re.match(r"^\s*(\w+)(?:\s*=\s*|\s+)(.*?)\s*$", line.text)
        if not match:
            continue
        keyword, value = match[1].lower(), match[2]
        if keyword in ("host", "match"):
            block = value
            if keyword == "match" and (inside := re.search(r'\bexec\s+"?([^"]+)"?', value)):
                yield Entry(line.number, line.text, line.text, of_shell(inside[1]), "ssh asks it", ask=True)
            continue
        targets: tuple[Target, ...] = ()
        if keyword in _COMMANDS:
            command = value.split(None, 1)[-1] if keyword == "subsystem" else value.removeprefix("exec ")
            targets = (*of_shell(command), *of_words(command))
        elif keyword in _FILES:
            targets = of_words(value)
        setting = (
            f"{block}/{keyword}" if keyword not in ("include", "identityfile", "certificatefile") else ""
        )
        yield Entry(
            line.number,
            line.text,
            line.text,
            targets,
            "ssh starts or reads it",
            line.start,
            line.end,
            setting=setting,
        )


KIND = Kind(
    "ssh",
    "other_programs",
    ("setting of ssh", "settings of ssh"),
    (
        Place("~/.ssh/config"),
        Place("~/.ssh/config.d/*"),
        Place("/etc/ssh/ssh_config", 1),
        Place("/etc/ssh/ssh_config.d/*.conf"),
        Place("/etc/ssh/sshd_config", 1),
        Place("/etc/ssh/sshd_config.d/*.conf"),
    ),
    _parse,
    wins="first",
)
