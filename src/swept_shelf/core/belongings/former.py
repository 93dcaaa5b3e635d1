"""Applications that are gone and that no registry ever knew: launchers, units and lists of documents still name their programs."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.common import is_distinctive, normal
from swept_shelf.core.belongings.seen import small_texts
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person, Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.grammars.commands import command_words, parse_entry, program_of
from swept_shelf.core.grammars.xbel import opened_with
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.walk import Tree

_FOLDERS = (".local/share/applications", ".config/autostart", "Desktop")
_SYSTEM_FOLDERS = ("/usr/local/share/applications", "/etc/xdg/autostart")
_UNITS = (
    "/etc/systemd/system",
    "/etc/systemd/user",
    "/usr/local/lib/systemd/system",
    "/usr/local/lib/systemd/user",
)
_STARTS = re.compile(r"^[ \t]*ExecStart[ \t]*=[ \t]*[-@:+!]*(/\S+)", re.M)
_PROGRAMS = re.compile(rb"/(?:usr/(?:local/)?(?:bin|games|sbin)|opt/[\w.+-]+(?:/bin)?)/[\w.+-]+(?![\w./+-])")
_COMMANDS = ("/usr/bin", "/usr/local/bin", "/usr/games", "/bin", "/usr/sbin", "/sbin")


def former_programs(machine: Machine, tree: Tree, people: list[Person]) -> dict[str, tuple[str, Proof]]:
    """Normalised name to (name, what still names it), for distinctive names of programs that are not there."""
    found: dict[str, tuple[str, Proof]] = {}
    for word, proof in _named(machine, tree, people):
        name = base("/" + word)
        if is_distinctive(name) and not _there(tree, word):
            found.setdefault(normal(name), (name, proof))
    return found


def _there(tree: Tree, word: str) -> bool:
    return (
        tree.real(word) in tree
        if word.startswith("/")
        else any(tree.real(f"{f}/{word}") in tree for f in _COMMANDS)
    )


def _named(machine: Machine, tree: Tree, people: list[Person]) -> Iterator[tuple[str, Proof]]:
    for folder in (*_SYSTEM_FOLDERS, *(f"{p.home}/{f}" for p in people for f in _FOLDERS)):
        for path in tree.children(folder):
            if path.endswith(".desktop") and tree.kind(path) == "file":
                try:
                    number, command = parse_entry(machine.read_text(path)).get("Exec", (0, ""))
                except CouldNotRead:
                    continue  # named by whoever reads launchers
                if word := program_of(command_words(command)):
                    yield word, Proof(By.SEEN, path, number, f"Exec={command}")
    yield from _started_by_units(machine, tree, people)
    for person in people:
        path = f"{person.home}/.local/share/recently-used.xbel"
        try:
            opened = list(opened_with(machine.text(path))) if path in tree else []
        except (CouldNotRead, ValueError):
            continue  # named by the references
        for entry in opened:
            if entry.command:
                yield entry.command, Proof(By.SEEN, path, entry.line, entry.href)


def _started_by_units(machine: Machine, tree: Tree, people: list[Person]) -> Iterator[tuple[str, Proof]]:
    """Programs that units outside the registry start: those in the system's own folder for them, and people's."""
    for folder in (*_UNITS, *(f"{p.home}/.config/systemd/user" for p in people)):
        for path in tree.children(folder):
            if path.endswith(".service") and tree.kind(path) == "file":
                try:
                    text = machine.read_text(path)
                except CouldNotRead:
                    continue  # named by whoever reads units
                for match in _STARTS.finditer(text):
                    number = text.count("\n", 0, match.start(1)) + 1
                    yield match[1], Proof(By.SEEN, path, number, match[0].strip())


def former_by_content(places: Iterable[Place], machine: Machine, tree: Tree) -> dict[str, tuple[str, Proof]]:
    """Path of a place that nobody claims to (name, proof), where a small text in it names a program that is not there."""
    found: dict[str, tuple[str, Proof]] = {}
    for place in places:
        for path, head in small_texts(machine, tree, place.path):
            for match in _PROGRAMS.finditer(head):
                word = match[0].decode("utf-8", "surrogateescape").rstrip(".")
                if is_distinctive(base(word)) and not _there(tree, word):
                    proof = Proof(By.SEEN, path, head.count(b"\n", 0, match.start()) + 1, word)
                    found.setdefault(place.path, (base(word), proof))
    return found
