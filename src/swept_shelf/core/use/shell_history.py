"""Sign: commands that a person typed: bash, with and without times, zsh's extended history, fish."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import is_clean
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.commands import run
from swept_shelf.core.references.shell_words import programs_of, words_of
from swept_shelf.core.use.trace import DAY, GOOD, WEAK, Look, Trace

KIND = "shell history"
_PLACES = (".bash_history", ".zsh_history", ".zhistory", ".histfile", ".local/share/zsh/history", ".local/share/fish/fish_history",
           ".local/state/bash/history", ".local/state/zsh/history")  # fmt: skip
_SETTINGS = (".bashrc", ".profile", ".bash_profile", ".zshrc", ".zshenv", ".zprofile", ".bash_aliases")
_HISTFILE = re.compile(r"^\s*(?:export\s+)?HISTFILE=[\"']?([^\s\"';]+)", re.M)
_ALIAS = re.compile(r"^\s*alias\s+([\w.+-]+)=(\"[^\"]*\"|'[^']*'|\S+)", re.M)
_BASH_TIME = re.compile(rb"^#(\d{1,12})$")
_ZSH = re.compile(rb"^: *(\d{1,12}):\d+;(.*)$", re.S)
_FISH_WHEN = re.compile(rb"^ +when: (\d{1,12})$")
_INTERPRETERS = re.compile(r"^(python[\d.]*|perl|ruby|node|sh|bash|dash|zsh|java)$")


@dataclass(frozen=True, slots=True)
class _Line:
    """`at`: None where the shell wrote no time beside it; then it was between `since` and `until`, where these are known."""

    number: int
    text: str
    at: int | None
    until: int | None = None
    since: int | None = None


def look(at: Look) -> None:
    for person in at.people:
        settings = "\n".join(_settings(at, person))
        aliases = {m[1]: m[2].strip("\"'") for m in _ALIAS.finditer(settings)}
        for path in _files(at, person, settings):
            try:
                status = at.machine.lstat(at.machine.resolve(path) or path)
                if status is None:
                    continue
                lines = list(_read(at, path, aliases))
                at.saw(KIND)
            except CouldNotRead as error:
                at.trouble(error.path or path, error.reason)
                continue
            _keep(at, person, path, lines, aliases, int(status.st_mtime))


def _settings(at: Look, person: Person) -> Iterator[str]:
    for name in _SETTINGS:
        try:
            yield at.machine.read_text(f"{person.home}/{name}", default="")
        except CouldNotRead:
            continue  # named already by the walk


def _files(at: Look, person: Person, settings: str) -> list[str]:
    found = [f"{person.home}/{p}" for p in _PLACES]
    for match in _HISTFILE.finditer(settings):
        path = re.sub(r"^(~|\$HOME|\$\{HOME\})(?=/)", person.home, match[1])
        if is_clean(path):
            found.append(path)
    return [p for p in dict.fromkeys(found) if at.machine.exists(p)]


def _keep(at: Look, person: Person, path: str, lines: list[_Line], aliases: dict[str, str], written: int) -> None:
    """One trace for each application and day, the last command of it."""
    last: dict[tuple[str, int | None], _Line] = {}
    known: dict[str, tuple[str, ...]] = {}
    for line in lines:
        if line.text not in known:
            known[line.text] = tuple(dict.fromkeys(_started(at, line.text, aliases)))
        for id in known[line.text]:
            day = None if line.at is None else line.at // DAY
            kept = last.get((id, day))
            if kept is None or (line.at or 0) >= (kept.at or 0):
                last[id, day] = line
    for (id, _), line in last.items():
        note = line.text.strip()[:120]
        if line.at is not None:
            at.traces.append(Trace(id, KIND, line.at, person.name, path, GOOD, None, line.number, "a clock that was wrong",
                                   at.timely(line.at), note))  # fmt: skip
        else:
            until = min(line.until or written, written)
            begin = min(max(line.since or 0, at.by_id[id].installed or at.system_since), until)
            at.traces.append(Trace(id, KIND, begin, person.name, path, WEAK, until, line.number, "the shell wrote no time beside it",
                                   at.timely(until), note))  # fmt: skip


def _started(at: Look, text: str, aliases: dict[str, str], depth: int = 0) -> Iterator[str]:
    """Applications that a command line starts; those named as another's argument are not among them."""
    for word in programs_of(text):
        if word in aliases and depth < 3 and programs_of(aliases[word])[:1] != [word]:
            yield from _started(at, aliases[word], aliases, depth + 1)
        elif word in ("flatpak", "snap") or _INTERPRETERS.match(word.rsplit("/", 1)[-1]):
            words = words_of(text)
            yield from _through(at, word, words[words.index(word) + 1 :] if word in words else [])
        elif word in ("gtk-launch", "gio", "kioclient", "dex"):
            yield from (id for w in words_of(text) if (id := at.launched(w.rsplit("/", 1)[-1])))
        if id := at.command(word):
            yield id


def _through(at: Look, word: str, rest: list[str]) -> Iterator[str]:
    """What an interpreter or a box is told to run."""
    plain = [w for w in rest if not w.startswith("-")]
    if word in ("flatpak", "snap"):
        if plain[:1] == ["run"] and len(plain) > 1:
            name = plain[1].split(".")[0] if word == "snap" else plain[1]
            yield from (s.id for s in at.subjects if s.app.registry == word and re.search(rf"[:/]{re.escape(name)}(/|$)", s.id))
    elif plain and plain[0].startswith("/") and (id := at.command(plain[0])):
        yield id


def _read(at: Look, path: str, aliases: dict[str, str]) -> Iterator[_Line]:
    """Lines that name any command that is known, with their times. The whole file is searched by grep(1), never by us."""
    names = {n for p in at.to.all for n in p.commands} | {n for p in at.to.all for n in p.programs} | set(aliases)
    names |= {"flatpak", "snap", "gtk-launch", "java", "python", "python3", "perl", "sh", "bash", *_links(at)}
    wanted = b"\n".join(n.encode("utf-8", "surrogateescape") for n in sorted(names) if "\n" not in n)
    with at.machine.handed(path) as (handle, fd):
        found = run("grep", "-a", "-n", "-w", "-F", "-f", "-", handle, fds=[fd], text_in=wanted + b"\n")
        clocks = run("grep", "-a", "-n", "-E", r"^(#[0-9]{1,12}$| +when: [0-9]{1,12}$)", handle, fds=[fd])
    if found.status > 1 or clocks.status > 1:
        raise CouldNotRead(f"could not be searched: {(found.err or clocks.err).strip()}", path)
    shell = "fish" if path.endswith("fish_history") else "zsh" if re.search(r"zsh|zhistory|histfile", path) else "bash"
    yield from _dated(found.out, clocks.out, shell)


def _links(at: Look) -> Iterator[str]:
    """Names in the command folders that are links, as alternatives(8) makes them."""
    for folder in ("/usr/bin", "/usr/local/bin", "/usr/games"):
        yield from (p.rsplit("/", 1)[1] for p in at.tree.children(folder) if at.tree.kind(p) == "link")


def _dated(found: bytes, clocks: bytes, shell: str) -> Iterator[_Line]:
    import numpy as np

    times = [(n, int(m[1])) for n, t in _numbered(clocks) if (m := (_FISH_WHEN if shell == "fish" else _BASH_TIME).match(t))]
    numbers = np.array([n for n, _ in times], dtype=np.int64)
    for number, raw in _numbered(found):
        extended = _ZSH.match(raw)
        if extended:
            yield _Line(number, _text(extended[2], True), int(extended[1]))
            continue
        if shell == "fish":
            if not raw.startswith(b"- cmd: "):
                continue
            at = int(np.searchsorted(numbers, number))  # fish writes the time below the command
            text = raw[7:].decode("utf-8", "surrogateescape").replace("\\n", "\n").replace("\\\\", "\\")
            yield _Line(number, text, times[at][1] if at < len(times) and numbers[at] - number <= 1 else None)
            continue
        if raw.startswith(b"#"):
            continue
        above = int(np.searchsorted(numbers, number)) - 1
        since = times[above][1] if above >= 0 else None
        until = times[above + 1][1] if above + 1 < len(times) else None
        beside = above >= 0 and number - int(numbers[above]) == 1  # bash writes the time right above the command
        yield _Line(number, _text(raw, shell == "zsh"), since if beside else None, until, since)


def _numbered(text: bytes) -> Iterator[tuple[int, bytes]]:
    for line in text.split(b"\n"):
        number, colon, rest = line.partition(b":")
        if colon and number.isdigit():
            yield int(number), rest


def _text(raw: bytes, zsh: bool) -> str:
    """A command as text; zsh writes some bytes as 0x83 and the byte with its sixth bit turned (metafied)."""
    if zsh and b"\x83" in raw:
        raw = re.sub(rb"\x83(.)", lambda m: bytes([m[1][0] ^ 32]), raw, flags=re.S)
    return raw.decode("utf-8", "surrogateescape").replace("\0", "").rstrip("\\")
