"""Where the bytes are: one folder's parts, each split by whose it is, read from a survey's index."""

from __future__ import annotations

from dataclasses import dataclass

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Survey, line_name
from swept_shelf.core.tree.index import Index

SYSTEM, COMMON, NOBODY = "system", "common", ""  # owners beside ids, as the index writes them
# In the order in which a step is split.
WHOSE = ("application", "left behind", "shared store", "common", "person", "system", "nobody")


@dataclass(frozen=True, slots=True)
class Share:
    """Bytes of one owner within a part; `owner` as the index writes it."""

    whose: str
    owner: str
    bytes: int


@dataclass(frozen=True, slots=True)
class Part:
    """One step: what lies directly in the folder, largest first; `shares` in the order of WHOSE."""

    path: str
    type: str
    bytes: int
    files: int
    shares: tuple[Share, ...]

    @property
    def name(self) -> str:
        return base(self.path)

    @property
    def largest(self) -> Share | None:
        return max(self.shares, key=lambda s: s.bytes, default=None)


@dataclass(frozen=True, slots=True)
class LargeFile:
    path: str
    bytes: int
    mtime_ns: int
    whose: str
    owner: str


@dataclass(frozen=True, slots=True)
class Folder:
    """A folder with its parts; `own` is what the folder's own entry takes."""

    path: str
    bytes: int
    files: int
    shares: tuple[Share, ...]
    parts: tuple[Part, ...]
    large: tuple[LargeFile, ...]


def whose(owner: str) -> str:
    """One of WHOSE for an owner of the index."""
    if owner in (SYSTEM, NOBODY):
        return "system" if owner == SYSTEM else "nobody"
    return {"left": "left behind", "store": "shared store", "person": "person", COMMON: "common"}.get(
        owner.split(":", 1)[0], "application"
    )


def look_into(index: Index, path: str, large: int = 100_000_000, count: int = 20) -> Folder:
    """The parts of a folder. Raises Refused where the survey saw no such folder."""
    row = index.row(path)
    if row is None:
        raise Refused("was not there when this computer was surveyed", path)
    if row.identity.type != "folder":
        raise Refused("is not a folder", path)
    parts = []
    for child in index.children(path):
        if child.identity.type == "folder":
            parts.append(_folder_part(index, child.path))
        else:
            parts.append(
                Part(
                    child.path, child.identity.type, child.bytes, 1, _shares({child.owner: (child.bytes, 1)})
                )
            )
    totals = index.totals(path)
    found = index.largest_files(path, large, count)
    return Folder(
        path,
        sum(b for b, _ in totals.values()),
        sum(f for _, f in totals.values()),
        _shares(totals),
        tuple(sorted(parts, key=lambda p: (-p.bytes, p.path))),
        tuple(LargeFile(f.path, f.bytes, f.identity.mtime_ns, whose(f.owner), f.owner) for f in found),
    )


def _folder_part(index: Index, path: str) -> Part:
    totals = index.totals(path)
    return Part(
        path,
        "folder",
        sum(b for b, _ in totals.values()),
        sum(f for _, f in totals.values()),
        _shares(totals),
    )


def _shares(totals: dict[str, tuple[int, int]]) -> tuple[Share, ...]:
    shares = [Share(whose(owner), owner, total) for owner, (total, _) in totals.items() if total]
    return tuple(sorted(shares, key=lambda s: (WHOSE.index(s.whose), -s.bytes, s.owner)))


def owner_name(survey: Survey, owner: str) -> str:
    """How a technician calls an owner of the index."""
    kind, _, rest = owner.partition(":")
    entry = survey.find(owner)
    if entry is not None:
        return line_name(entry)
    if kind == "store":
        return next((s.name for s in survey.shared_stores if s.id == owner), rest)
    if kind == "person":
        return f"{rest}’s own"
    return {SYSTEM: "the system", COMMON: "programs in common"}.get(owner, "no application known")


def account_in_words(survey: Survey, mount: str) -> list[str]:
    """What a volume says is used, by whose it is, and what is not accounted for; [] where `mount` is no volume's top."""
    volume = next((v for v in survey.volumes if v.mount == mount), None)
    account = next((a for a in survey.accounts if volume is not None and a.volume == volume.id), None)
    if account is None:
        return []
    remainder = account.not_accounted
    said = (
        f"{human_bytes(remainder)} not accounted for"
        if remainder >= 0
        else f"{human_bytes(-remainder)} counted twice: files that share their blocks"
    )
    lines = [f"{human_bytes(account.used)} used; {said}"]
    lines += [f"{human_bytes(p.bytes)} {_PARTS.get(p.what, p.what)}" for p in account.parts]
    if account.reserved:
        lines.append(f"{human_bytes(account.reserved)} kept free for the system")
    if account.not_read:
        lines.append(
            f"could not be read: {', '.join(account.not_read[:3])}"
            + (f" and {len(account.not_read) - 3} more" if len(account.not_read) > 3 else "")
        )
    return lines


_PARTS = {
    "application": "of applications",
    "shared store": "in shared stores",
    "common": "of programs in common",
    "person": "people’s own",
    "system": "the system’s",
    "nobody": "of nobody known",
}


def in_words(survey: Survey, part: Part) -> str:
    """What a part holds, by owner: the largest by name, the others with their bytes where they matter."""
    by_size = sorted(part.shares, key=lambda s: -s.bytes)
    if not by_size:
        return "empty"
    words = [owner_name(survey, by_size[0].owner)]
    for share in by_size[1:3]:
        if share.bytes * 50 >= part.bytes:
            words.append(f"{human_bytes(share.bytes)} {owner_name(survey, share.owner)}")
    if len(by_size) > len(words):
        words.append(f"{len(by_size) - len(words)} more")
    return " · ".join(words)
