"""Claims by what was seen: a running process of the application has a file of the place open, or a small text in it names the
application: its programs by their paths, its launcher, or a first line that says what wrote it.

What was seen shows whose a place may be; by itself it is not sure enough to go along."""

from __future__ import annotations

import re
from collections.abc import Container, Iterable, Iterator, Mapping

from swept_shelf.core.belongings.candidates import Place
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import MINIMUM_NAME, normal
from swept_shelf.core.belongings.workshops import Workshops
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.tree.walk import Tree

_HEAD, _SMALL, _FILES = 4096, 65536, 6
_BEGINNING = 600  # bytes in which a file says what wrote it
_PATHS = re.compile(rb"/(?:usr|opt|snap|var/lib/flatpak)/[\w./+@-]+")
_LAUNCHERS = re.compile(rb"([\w.-]{3,80}\.desktop)\b")
_WROTE = re.compile(
    rb"(?:generated|created|written|saved|updated) (?:automatically )?by[: ]+([\w][\w .-]{2,30}?)(?=[ \t]*(?:v?\d|\n|[,;(-]|$))"
    rb"|^[#;/%!\"* \t]*([\w][\w+.-]{2,30}) (?:configuration|config|settings|preferences|options|initiali[sz]ation|startup|resource) file"
    rb"[ \t.:#;%*-]*$"
    rb"|(?:configuration|settings|preferences|session|state)(?: file)? (?:of|for) ([\w][\w.-]{2,30})",
    re.I | re.M,
)


def claim_by_sight(
    places: Iterable[Place],
    claims: dict[str, list[Claim]],
    machine: Machine,
    tree: Tree,
    processes: Iterable[Process],
    program: Mapping[str, str],
    launcher: Mapping[str, str],
    names: Mapping[str, str],
    workshops: Workshops,
    common: Container[str] = (),
    gone: Container[str] = (),
) -> None:
    """Add to the claims of places that nobody claims. `program`, `launcher`, `names`: application by a path of its own, by a
    launcher's id, by a distinctive name; `common`: places that the system's own programs name, where one application's name in a
    text is one of many; `gone`: names of former applications."""
    open_now: dict[str, tuple[str, int]] = {}
    for process in processes:
        if id := next((program[p] for p in process.programs if p in program), ""):
            open_now |= {path: (id, process.pid) for path in process.open_files}
    for place in places:
        mine = claims.get(place.path)
        if mine and len(mine) == 1 and mine[0].by_text_alone:
            _ask_content(mine[0], small_texts(machine, tree, place.path), names, gone)
        if mine or place.path in common or workshops.hold(place.path):
            continue
        seen: dict[str, Proof] = {}
        for path, (id, pid) in open_now.items():
            if within(path, place.path):
                seen.setdefault(id, Proof(By.SEEN, path, 0, f"open in process {pid}"))
        for path, head in small_texts(machine, tree, place.path):
            for id, proof in _named_in(path, head, program, launcher, names):
                seen.setdefault(id, proof)
        if len(seen) == 1:
            ((id, proof),) = seen.items()
            reason = "has it open now" if proof.text.startswith("open in") else "its content names it"
            claims.setdefault(place.path, []).append(Claim(id, By.SEEN, reason, [proof], tick=False))


def _whose(name: str, id: str, names: Mapping[str, str], gone: Container[str]) -> str:
    """The application that calls itself so in a text; `id` also where it is that without the number of its generation, and no former
    application was called so."""
    if name in names or name in gone:
        return names.get(name, "")
    own = len(name) >= MINIMUM_NAME and any(
        app == id and known.rstrip("0123456789") == name for known, app in names.items()
    )
    return id if own else ""


def _ask_content(
    claim: Claim, texts: Iterable[tuple[str, bytes]], names: Mapping[str, str], gone: Container[str]
) -> None:
    """What only a program of its names is sure where a text there says that the application wrote it; where a text says that
    another did, known here or not, it is not sure at all. That a text merely names the application (as the program that opens
    links, say) proves nothing: whoever can take over from a place names it, and may be named in it."""
    said = [
        (
            _whose(normal((match[1] or match[2]).decode("utf-8", "ignore")), claim.id, names, gone),
            _proof(path, head, match),
        )
        for path, head in texts
        for match in _WROTE.finditer(head[:_BEGINNING])
        if match[1] or match[2]
    ]
    if not said:
        return
    claim.evidence += [proof for _, proof in said[:1]]
    if {id for id, _ in said} == {claim.id}:
        claim.reason, claim.tick = f"{claim.reason}, and its content says that it wrote it", True
    else:
        claim.reason, claim.tick = f"{claim.reason}; its content says that another wrote it", False


def _texts(tree: Tree, top: str) -> list[str]:
    """Small files of a place, the place itself or at most two levels down."""
    found: list[str] = []
    depth = top.count("/") + 2
    for i in tree.slice(top):
        if tree.is_file[i] and 0 < tree.blocks[i] <= _SMALL and tree.paths[i].count("/") <= depth:
            found.append(tree.paths[i])
            if len(found) == _FILES:
                break
    return found


def small_texts(machine: Machine, tree: Tree, top: str) -> Iterator[tuple[str, bytes]]:
    """(path, head) of a few small texts of a place."""
    for path in _texts(tree, top):
        try:
            head = machine.read_bytes(path, _HEAD)
        except CouldNotRead:
            continue  # the walk names what may not be read
        if b"\0" not in head[:512]:
            yield path, head


def _named_in(
    path: str, head: bytes, program: Mapping[str, str], launcher: Mapping[str, str], names: Mapping[str, str]
) -> Iterator[tuple[str, Proof]]:
    for match in _PATHS.finditer(head):
        if id := program.get(match[0].decode("utf-8", "surrogateescape")):
            yield id, _proof(path, head, match)
    for match in _LAUNCHERS.finditer(head):
        if id := launcher.get(match[1].decode("ascii", "ignore")):
            yield id, _proof(path, head, match)
    for match in _WROTE.finditer(head):
        if id := names.get(normal((match[1] or match[2] or match[3]).decode("utf-8", "ignore"))):
            yield id, _proof(path, head, match)


def _proof(path: str, head: bytes, match: re.Match[bytes]) -> Proof:
    return Proof(
        By.SEEN, path, head.count(b"\n", 0, match.start()) + 1, match[0].decode("utf-8", "replace")[:120]
    )
