"""Sign: commands that a person typed: bash, with and without times, zsh's extended history, fish."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Sequence
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import is_clean
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.terms import PARTS
from swept_shelf.core.grammars.shell_words import LONGEST, programs_of, words_of
from swept_shelf.core.machine.commands import run
from swept_shelf.core.use.trace import DAY, GOOD, WEAK, Look, Trace

KIND = "shell history"
_PLACES = (
    ".bash_history",
    ".zsh_history",
    ".zhistory",
    ".histfile",
    ".local/share/zsh/history",
    ".local/share/fish/fish_history",
    ".local/state/bash/history",
    ".local/state/zsh/history",
)
_SETTINGS = (".bashrc", ".profile", ".bash_profile", ".zshrc", ".zshenv", ".zprofile", ".bash_aliases")
_HISTFILE = re.compile(r"^\s*(?:export\s+)?HISTFILE=[\"']?([^\s\"';]+)", re.M)
_ALIAS = re.compile(r"^\s*alias\s+([\w.+-]+)=(\"[^\"]*\"|'[^']*'|\S+)", re.M)
# What grep prints of a line: its number, the command, and its first word where it is one command with plain arguments.
_COMMAND = rb"((?:([\w./+-]+)(?:[ \t][\w./=+:,@%~^ \t-]*)?|.*))$"
_BASH = re.compile(rb"^(\d{1,12}):(?!#)" + _COMMAND, re.M)
_ZSH = re.compile(rb"^(\d{1,12}):(?:: *(\d{1,12}):\d+;)?" + _COMMAND, re.M)
_FISH = re.compile(rb"^(\d{1,12}):- cmd: " + _COMMAND, re.M)
_NUMBERED = re.compile(rb"^(\d{1,12}):(.*)$", re.M)
_CLOCK = re.compile(rb"^(\d{1,12}):(?:#| +when: )(\d{1,12})$", re.M)
# What asks about a program and does not use it.
_ASKS = re.compile(
    r"^\s*(command\s+-[vV]\b|(sudo\s+)?[\w./+-]+\s+(--version|--help|-V|-h|-help|-version)\s*$)"
)
_MAY_ASK = (b"version", b"help", b"-V", b"-h")
_INTERPRETERS = re.compile(r"^(python[\d.]*|perl|ruby|node|sh|bash|dash|zsh|java)$")
_LAUNCHERS = ("gtk-launch", "gio", "kioclient", "dex")
_WRAPPERS = (
    "exec",
    "command",
    "builtin",
    "nohup",
    "time",
    "sudo",
    "env",
    "nice",
    "ionice",
    "eval",
    "setsid",
    "timeout",
    "chrt",
    "flock",
    "if",
    "then",
    "do",
    "while",
    "until",
    "else",
    "elif",
    "for",
    "case",
)
# Words after which another word may be the program: such a line is read as a whole.
_THROUGH = frozenset(
    w.encode()
    for w in (
        *_WRAPPERS,
        *_LAUNCHERS,
        "flatpak",
        "snap",
        "python",
        "python3",
        "perl",
        "ruby",
        "node",
        "sh",
        "bash",
        "dash",
        "zsh",
        "java",
    )
)


Column = NDArray[np.int64]
_MOST = 128 << 20
_COMMANDS = 1000  # of those whose time a tool wrote down the newest


class _Lines(NamedTuple):
    """Lines of one history as columns: their numbers; whole texts; the first word of those that are one plain command; when
    they were typed, where a time stands beside them (`timed`), else since and until when, as far as is known (0: not)."""

    numbers: Column
    texts: list[bytes]
    words: list[bytes]
    at: Column
    timed: NDArray[np.bool_]
    since: Column
    until: Column


def look(at: Look) -> None:
    for person in at.people:
        settings = "\n".join(_settings(at, person))
        aliases = {m[1]: m[2].strip("\"'") for m in _ALIAS.finditer(settings)}
        for path in _files(at, person, settings):
            try:
                status = at.machine.lstat(at.machine.resolve(path) or path)
                if status is None:
                    continue
                _keep(at, person, path, _read(at, path, aliases), aliases, int(status.st_mtime))
                at.saw(KIND)
            except CouldNotRead as error:
                at.trouble(error.path or path, error.reason)


def _settings(at: Look, person: Person) -> Iterator[str]:
    for name in _SETTINGS:
        try:
            yield at.machine.text(f"{person.home}/{name}")
        except CouldNotRead:
            continue  # named already by the walk


def _files(at: Look, person: Person, settings: str) -> list[str]:
    found = [f"{person.home}/{p}" for p in _PLACES]
    for match in _HISTFILE.finditer(settings):
        path = re.sub(r"^(~|\$HOME|\$\{HOME\})(?=/)", person.home, match[1])
        if is_clean(path):
            found.append(path)
    return [p for p in dict.fromkeys(found) if at.machine.exists(p)]


def _keep(at: Look, person: Person, path: str, lines: _Lines, aliases: dict[str, str], written: int) -> None:
    """One trace for each application and day, the last command of it. A line of one plain command is known by its first word."""
    order = np.argsort(lines.at, kind="stable").tolist()
    days = (lines.at // DAY).tolist()
    keys = [
        w if w and w not in _THROUGH and not t.rstrip().endswith(_MAY_ASK) else t
        for w, t in zip(lines.words, lines.texts, strict=True)
    ]
    newest = {(keys[i], days[i]): i for i in order}  # the last of each command and day
    known = {key: tuple(dict.fromkeys(_started(at, _text(key), aliases))) for key in {k for k, _ in newest}}
    last: dict[tuple[str, int], int] = {}
    for (key, day), i in newest.items():
        for id in known[key]:
            if (kept := last.get((id, day))) is None or lines.at[kept] <= lines.at[i]:
                last[id, day] = i
    for (id, _), i in last.items():
        when, note, line = int(lines.at[i]), _text(lines.texts[i]).strip()[:120], int(lines.numbers[i])
        if lines.timed[i]:
            at.traces.append(
                Trace(
                    id,
                    KIND,
                    when,
                    person.name,
                    path,
                    GOOD,
                    None,
                    line,
                    "a clock that was wrong",
                    at.timely(when),
                    note,
                )
            )
        else:
            until = min(int(lines.until[i]) or written, written)
            begin = min(max(int(lines.since[i]), at.by_id[id].installed or at.system_since), until)
            at.traces.append(
                Trace(
                    id,
                    KIND,
                    begin,
                    person.name,
                    path,
                    WEAK,
                    until,
                    line,
                    "the shell wrote no time beside it",
                    at.timely(until),
                    note,
                )
            )


def _started(at: Look, text: str, aliases: dict[str, str], depth: int = 0) -> Iterator[str]:
    """Applications that a command line starts; those named as another's argument are not among them."""
    if len(text) > LONGEST:
        return  # nobody typed that
    if _ASKS.search(text):
        return
    for word in programs_of(text):
        if (
            word in aliases
            and depth < 3
            and len(aliases[word]) <= LONGEST
            and programs_of(aliases[word])[:1] != [word]
        ):
            yield from _started(at, aliases[word], aliases, depth + 1)
        elif word in ("flatpak", "snap") or _INTERPRETERS.match(word.rsplit("/", 1)[-1]):
            words = words_of(text)
            yield from _through(at, word, words[words.index(word) + 1 :] if word in words else [])
        elif word in _LAUNCHERS:
            yield from (id for w in words_of(text) if (id := at.launched(w.rsplit("/", 1)[-1])))
        if id := at.command(word):
            yield id


def _through(at: Look, word: str, rest: list[str]) -> Iterator[str]:
    """What an interpreter or a box is told to run."""
    plain = [w for w in rest if not w.startswith("-")]
    if word in ("flatpak", "snap"):
        if plain[:1] == ["run"] and len(plain) > 1:
            name = plain[1].split(".")[0] if word == "snap" else plain[1]
            yield from (
                s.id
                for s in at.subjects
                if s.app.registry == word
                and s.app.type not in PARTS
                and re.search(rf"[:/]{re.escape(name)}(/|$)", s.id)
            )
    elif plain and plain[0].startswith("/") and (id := at.command(plain[0])):
        yield id


def _read(at: Look, path: str, aliases: dict[str, str]) -> _Lines:
    """Lines that name any command that is known, with their times. The whole file is searched by grep(1), never by us."""
    names = (
        {n for p in at.to.all for n in p.commands} | {n for p in at.to.all for n in p.programs} | set(aliases)
    )
    names |= {"flatpak", "snap", "gtk-launch", "java", "python", "python3", "perl", "sh", "bash", *_links(at)}
    wanted = b"\n".join(n.encode("utf-8", "surrogateescape") for n in sorted(names) if "\n" not in n)
    with at.machine.handed_file(path, _MOST) as (handle, fd):
        found = run("grep", "-a", "-n", "-w", "-F", "-f", "-", handle, fds=[fd], text_in=wanted + b"\n")
        clocks = run("grep", "-a", "-n", "-E", r"^(#[0-9]{1,12}$| +when: [0-9]{1,12}$)", handle, fds=[fd])
        known = {command for _, command in at.commands}
        dated = b"\n".join(c.encode("utf-8", "surrogateescape") for c in sorted(known) if "\n" not in c)
        tools = (
            run("grep", "-a", "-n", "-F", "-f", "-", handle, fds=[fd], text_in=dated + b"\n")
            if known
            else None
        )
    if found.status > 1 or clocks.status > 1:
        raise CouldNotRead(f"could not be searched: {(found.err or clocks.err).strip()}", path)
    shell = (
        "fish"
        if path.endswith("fish_history")
        else "zsh"
        if re.search(r"zsh|zhistory|histfile", path)
        else "bash"
    )
    return _dated(found.out, clocks.out, shell, _anchors(tools.out if tools else b"", at.commands))


def _anchors(found: bytes, commands: Iterable[tuple[int, str]]) -> list[tuple[int, int]]:
    """(line, seconds) of lines whose command a registry's tool wrote down with its time: only what was given once, and only
    where the order of the lines is the order of the times."""
    when: dict[str, list[int]] = {}
    for seconds, command in list(commands)[-_COMMANDS:]:
        when.setdefault(command, []).append(seconds)
    lines: dict[str, list[int]] = {}
    for number, text in _NUMBERED.findall(found)[-_COMMANDS:]:
        plain = f" {' '.join(_text(text).split())} "
        for command in when:
            if f" {command} " in plain:
                lines.setdefault(command, []).append(int(number))
    once = sorted((lines[c][0], when[c][0]) for c in lines if len(lines[c]) == len(when[c]) == 1)
    return [
        (n, t)
        for i, (n, t) in enumerate(once)
        if all(before <= t for _, before in once[:i]) and all(after >= t for _, after in once[i + 1 :])
    ]


def _links(at: Look) -> Iterator[str]:
    """Names in the command folders that are links, as alternatives(8) makes them."""
    for folder in ("/usr/bin", "/usr/local/bin", "/usr/games"):
        yield from (p.rsplit("/", 1)[1] for p in at.tree.children(folder) if at.tree.kind(p) == "link")


def _dated(found: bytes, clocks: bytes, shell: str, anchors: Sequence[tuple[int, int]] = ()) -> _Lines:
    """Lines that grep numbered, each with the time that its shell wrote for it, else between the nearest lines whose time is
    known: by the shell, or by `anchors`."""
    if shell == "fish":  # the time stands below the command
        rows = _FISH.findall(found)
    elif shell == "zsh":
        rows = _ZSH.findall(_unmetafied(found))
    else:
        rows = _BASH.findall(found)
    numbers, times = _column(r[0] for r in rows), _CLOCK.findall(clocks)
    clock_lines, clock = _column(n for n, _ in times), _column(t for _, t in times)
    clock = np.concatenate([[0], clock, [0]])  # before the first and after the last nothing is known
    below = np.searchsorted(clock_lines, numbers) + 1
    since, until = clock[below - 1], clock[below]
    if anchors:
        lines, times_known = _column(str(n).encode() for n, _ in anchors), np.array([t for _, t in anchors])
        place = np.searchsorted(lines, numbers)
        known = np.concatenate([[0], times_known, [0]])
        since = np.maximum(since, known[place])
        nearer = known[np.searchsorted(lines, numbers, side="right") + 1]
        until = np.where((nearer > 0) & ((until == 0) | (nearer < until)), nearer, until)
    if shell == "zsh":
        at, timed = _column(r[1] or b"0" for r in rows), np.array([bool(r[1]) for r in rows], dtype=bool)
    elif shell == "fish":
        beside = np.concatenate([clock_lines, [0]])[below - 1] - numbers == 1
        at, timed = np.where(beside, clock[below], 0), beside
    else:
        beside = (
            numbers - np.concatenate([[-9], clock_lines])[below - 1] == 1
        )  # bash writes it right above the command
        at, timed = np.where(beside, clock[below - 1], 0), beside
    texts = [r[-2] for r in rows]
    if shell == "fish":
        texts = [t.replace(b"\\n", b"\n").replace(b"\\\\", b"\\") for t in texts]
    return _Lines(numbers, texts, [r[-1] for r in rows], at, timed, since, until)


def _column(digits: Iterable[bytes]) -> Column:
    return np.array(list(digits), dtype="S12").astype(np.int64)


def _unmetafied(raw: bytes) -> bytes:
    """zsh writes some bytes as 0x83 and the byte with its sixth bit turned."""
    return re.sub(rb"\x83(.)", lambda m: bytes([m[1][0] ^ 32]), raw, flags=re.S) if b"\x83" in raw else raw


def _text(raw: bytes) -> str:
    return raw.decode("utf-8", "surrogateescape").replace("\0", "").rstrip("\\")
