"""What may be started with another's rights: sudoers(5), doas.conf(5)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.grammars.lines import continued_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_ALIAS = re.compile(r"^\s*Cmnd_Alias\s+\w+\s*=\s*(.*)$", re.S)
_PEOPLE = re.compile(r"^\s*(?:Runas|User)_Alias\s+\w+\s*=\s*([^\\:=]*)$")
_RULE = re.compile(
    r"^\s*(?!Defaults|User_Alias|Host_Alias|Runas_Alias|Cmnd_Alias|@?include)([^\s=]+(?:\s*,\s*[^\s=]+)*)\s+[^=]+=(.*)$",
    re.S,
)
_BEFORE = re.compile(r"^(?:\s|\\\n)*(?:\([^)]*\)\s*)?(?:[A-Z_]+:\s*)*")
_PATH = re.compile(r'^\s*Defaults\S*\s+secure_path\s*=\s*"?([^"\s]+)"?\s*$')
_PROGRAM = re.compile(r'^\s*Defaults\S*\s+(?:editor|mailerpath|askpass|lecture_file)\s*=\s*"?([^"\s]+)"?\s*$')
_DOAS = re.compile(
    r"^\s*(?:permit|deny)\b(?:\s+(?:nopass|nolog|persist|keepenv|setenv\s*\{[^}]*\}))*\s+:?(?P<who>[^\s:]+)"
    r"(?:\s+as\s+(?P<whom>\S+))?(?:\s+cmd\s+(?P<cmd>\S+))?"
)
_DEFAULTS = re.compile(r"^\s*Defaults!(\S+)")


def _parse(path: str, text: str) -> Iterator[Entry]:
    for line in continued_lines(text):
        if "doas" in path:
            if match := _DOAS.match(line.text):
                who, whom, command = (match[g] or "" for g in ("who", "whom", "cmd"))
                yield Entry(
                    line.number,
                    line.text,
                    line.text,
                    (*one(By.COMMAND, command), *one(By.ACCOUNT, who), *one(By.ACCOUNT, whom)),
                    "may be started with rights" if command else "rights for its account",
                    line.start,
                    line.end,
                )
            continue
        if match := _DEFAULTS.match(line.text):
            yield Entry(
                line.number,
                line.text,
                line.text,
                one(By.COMMAND, match[1]),
                "rights for it",
                line.start,
                line.end,
            )
            continue
        if match := _PATH.match(line.text):
            at = line.start + match.start(1)
            yield from listed_entries(
                line, at, match[1], ":", lambda part: one(By.PATH, part.strip()), "its folder is searched"
            )
            continue
        if match := _PROGRAM.match(line.text):
            found = tuple(t for p in match[1].split(":") for t in one(By.COMMAND, p))
            yield Entry(
                line.number, line.text, line.text, found, "is started with rights", line.start, line.end
            )
            continue
        if match := _PEOPLE.match(line.text):
            at = line.start + match.start(1)
            yield from listed_entries(line, at, match[1].rstrip(), ",", _account, "rights for its account")
            continue
        match = _ALIAS.match(line.text) or _RULE.match(line.text)
        if not match:
            continue
        at = line.start + match.start(match.lastindex or 1)
        if match.re is _RULE and (found := _account(match[1])):
            yield Entry(
                line.number, line.text, line.text, found, "rights for its account", line.start, line.end
            )
        value = text[at : line.end].rstrip("\n")  # as it stands in the file, over however many lines
        before = _BEFORE.match(value)
        if before and (found := _run_as(before[0])):
            key = before[0].strip()
            yield Entry(line.number, key, line.text, found, "starts as its account", line.start, line.end)
        at, value = (at + before.end(), value[before.end() :]) if before else (at, value)
        said = "may be started with rights"
        for entry in listed_entries(line, at, value, ",", _command, said):
            # What stands before a command (whose rights, with which tags) holds for those behind it too: such a one is not cut.
            tagged = entry.start > at and _command(text[entry.start : entry.end]) != _bare(
                text[entry.start : entry.end]
            )
            yield replace(entry, end=entry.start) if tagged and entry.pieces > 1 else entry


def _account(who: str) -> tuple[Target, ...]:
    return one(By.ACCOUNT, who.lstrip("%").strip())


def _run_as(before: str) -> tuple[Target, ...]:
    """Whose rights a rule gives, where they are one account's alone."""
    who = re.search(r"\(\s*([^:)\s,]*)\s*(?::\s*([^)\s,]*)\s*)?\)", before)
    return (*one(By.ACCOUNT, who[1] or ""), *one(By.ACCOUNT, who[2] or "")) if who else ()


def _command(part: str) -> tuple[Target, ...]:
    before = _BEFORE.match(part)
    return _bare(part[before.end() :] if before else part)


def _bare(part: str) -> tuple[Target, ...]:
    words = part.lstrip(",").replace("\\\n", " ").strip().lstrip("!").split()
    return one(By.COMMAND, words[0]) if words and words[0].startswith("/") else ()


def why_not(_path: str, _before: str, after: str) -> str:
    """A rule or an alias without any command would shut the whole file out."""
    for line in continued_lines(after):
        match = _ALIAS.match(line.text)
        if match and not match[1].strip():
            return f"would leave an alias without commands on line {line.number}"
    return ""


KIND = Kind(
    "rights",
    "security",
    ("rule of rights", "rules of rights"),
    (
        Place("/etc/sudoers"),
        Place("/etc/sudoers.d/*", heeded=r"[^.~]+"),
        Place("/etc/doas.conf"),
        Place("/etc/doas.d/*.conf"),
    ),
    _parse,
    alone="lines",
    why_broken=why_not,
)
