"""What a kind of reference declares: where it stands, how it is read, how it points, and how it is taken out.

A module below kinds/ holds one such value; looking, being in effect, taking out, undoing, the families of a clearance and the
words everywhere are made from it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum

from swept_shelf.core.documents.operations import Table


class By(StrEnum):
    """How something points."""

    COMMAND = "command"  # a word in command position: a path, or a name that shells find
    PATH = "path"  # a program, a file of its packages, or anything in one of its folders
    ADDRESS = "address"  # a file: address
    LAUNCHER = "launcher"  # the id of a desktop entry
    BUS = "bus"
    UNIT = "unit"
    PACKAGE = "package"
    ACCOUNT = "account"
    LIBRARY = "library"  # the base name of one of its libraries or modules
    NAME = "name"  # its own distinctive name, as a file or a section is called


@dataclass(frozen=True, slots=True)
class Target:
    by: By
    value: str


@dataclass(frozen=True, slots=True)
class Entry:
    """One thing in a file that points. `start` to `end` is the piece that goes; `whole` what goes with its last piece of `pieces`,
    `separator` what stands between them. No `end`: it is found and shown, and not cut."""

    line: int
    key: str
    text: str
    targets: tuple[Target, ...]
    detail: str
    start: int = 0
    end: int = 0
    whole: tuple[int, int] | None = None
    pieces: int = 1
    separator: str = ""
    enabled: bool = True
    ask: bool = False
    setting: str = ""  # what it sets: of several that set the same, only one is in effect


EVERYWHERE = "everywhere"  # the pattern of links wherever they are
NAMING = "naming"  # that of files of settings, wherever they are, that name something of an application


@dataclass(frozen=True, slots=True)
class Place:
    """`pattern`: a path with * and ? within a name and ** for any depth, from / or from a base folder of a person's: ~ home,
    ~config, ~data, ~cache, ~desktop. `rank`: where files of one name stand in several places, the smallest counts. `heeded`: a
    pattern of names that are read by what reads there; `runs`: only what may be started is."""

    pattern: str
    rank: int = 0
    heeded: str = ""
    runs: bool = False
    hidden_by: tuple[str, ...] = ()


Parse = Callable[[str, str], Iterable[Entry]]


@dataclass(frozen=True, slots=True)
class Codec:
    """A file that is no text: as text, and from that again. Both raise ValueError."""

    text_of: Callable[[bytes], str]
    data_of: Callable[[str], bytes]


def _as_it_is(data: bytes) -> str:
    return data.decode("utf-8", "surrogateescape")


TEXT = Codec(_as_it_is, lambda text: text.encode("utf-8", "surrogateescape"))


def _as_good(_path: str, _before: str, _after: str) -> str:
    return ""


@dataclass(frozen=True, slots=True)
class Kind:
    """`whole`: the file as a whole is the reference. `alone`: so is one in which nothing else stands: no other "lines" than
    comments, or no other "entries". `links`: what stands there
    are links, read by where they lead. `masks`: a file hides those of its name in places of a higher rank. `wins`: which of
    several entries of one setting counts, the first or the last by rank and name of the file. `starts`: login, schedule, service
    or device, where it starts what it points at. `action`: take_out, ask or leave. `why_broken`: why a file is not as good
    afterwards as before. `most`: bytes of a file that is read; `head`: only so many of its beginning are. `strict`: a file may
    be broken, which is said whatever it names."""

    name: str
    family: str
    words: tuple[str, str]
    places: tuple[Place, ...]
    parse: Parse
    whole: bool = False
    alone: str = ""
    links: bool = False
    masks: bool = False
    wins: str = ""
    starts: str = ""
    action: str = "take_out"
    why_broken: Callable[[str, str, str], str] = _as_good
    most: int = 16 << 20
    head: int = 0
    strict: bool = False
    table: Table | None = None  # of the registry (see its rows.py), whose own tool takes the entry
    codec: Codec = TEXT
    held_by: str = ""  # program that keeps the file in memory, and is started again when it is needed
    owner_by_name: bool = False  # the file is called like the person whose it is
