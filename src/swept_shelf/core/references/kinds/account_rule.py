"""Rules that are about its account: what it may send (nftables, iptables), who may sign in (sshd_config(5)), groups of the moment
(group.conf(5)). A member of a list goes alone."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_LONGEST = 4096  # characters of a line that somebody wrote
_DETAIL = "a rule is about its account"
_OF_PACKETS = re.compile(
    r"(?:\bsk[ug]id\s+(?:!=\s*|==\s*)?|--[ug]id-owner\s+)(?P<one>\"[^\"]+\"|[\w.+-]+)|\bsk[ug]id\s+(?:!=\s*|==\s*)?\{(?P<many>[^}]*)\}"
)
_WHO_SIGNS_IN = re.compile(
    r"^\s*(?:(?:Allow|Deny)(?:Users|Groups)|Authorized(?:Keys|Principals)CommandUser)[ \t]+(?P<many>.+?)\s*$",
    re.I,
)


def _account(word: str) -> tuple[Target, ...]:
    return one(By.ACCOUNT, word.strip().strip('"').split("@")[0])


def _program(word: str) -> tuple[Target, ...]:
    return (*one(By.COMMAND, word.strip()), *one(By.NAME, word.strip()))


def _parse(path: str, text: str) -> Iterator[Entry]:
    for line in said_lines(text):
        if len(line.text) > _LONGEST:
            continue
        if base(path) == "group.conf":  # services;terminals;users;times;groups
            fields = line.text.split(";")
            if len(fields) > 3:
                at = line.start + len(";".join(fields[:2])) + 1
                yield from listed_entries(line, at, fields[2], "|", _account, _DETAIL)
        elif base(path) == "time.conf":  # programs;terminals;users;times
            programs = line.text.split(";")[0]
            yield from listed_entries(line, line.start, programs, "|", _program, "when it may be used")
        elif "/ssh/" in path:
            if match := _WHO_SIGNS_IN.match(line.text):
                at = line.start + match.start("many")
                yield from listed_entries(line, at, match["many"], " ", _account, _DETAIL)
        else:
            yield from _of_packets(line)


def _of_packets(line: Line) -> Iterator[Entry]:
    for match in _OF_PACKETS.finditer(line.text):
        if match["one"]:
            balanced = line.text.count("{") == line.text.count("}")
            end = line.end if balanced else line.start
            yield Entry(line.number, line.text, line.text, _account(match["one"]), _DETAIL, line.start, end)
        else:
            at = line.start + match.start("many")
            yield from listed_entries(line, at, match["many"], ",", _account, _DETAIL)


KIND = Kind(
    "rule for its account",
    "accounts",
    ("rule for its account", "rules for its account"),
    (
        Place("/etc/nftables.conf"),
        Place("/etc/nftables.d/*"),
        Place("/etc/nftables/*"),
        Place("/etc/iptables/rules.v?"),
        Place("/etc/sysconfig/ip*tables"),
        Place("/etc/ufw/*.rules"),
        Place("/etc/security/group.conf"),
        Place("/etc/security/time.conf"),
        Place("/etc/ssh/sshd_config"),
        Place("/etc/ssh/sshd_config.d/*.conf"),
    ),
    _parse,
    action="ask",
    alone="lines",
)
