"""A survey: what the machine looked like at one moment. Immutable. Sizes are allocated bytes, times UTC."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime, timedelta
from typing import Any, ClassVar

from swept_shelf.core.documents.masking import masked
from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.terms import AS_SPELLED, By, Kind, Share


@dataclass(frozen=True, slots=True)
class Identity:
    """What tells one file from another that later stands at its path. Times in nanoseconds."""

    file_system: str
    inode: int
    type: str
    size: int
    mtime_ns: int
    ctime_ns: int
    uid: int | None
    gid: int | None
    mode: int


@dataclass(frozen=True, slots=True)
class IndexFile:
    file: str
    sha256: str


@dataclass(frozen=True, slots=True)
class MachineFacts:
    key: str
    root: MachinePath
    name: str
    os: str
    architecture: str
    timezone: str
    boot_id: str
    foreign: bool


@dataclass(frozen=True, slots=True)
class Volume:
    id: str
    mount: MachinePath
    device: str
    file_system: str
    options: str
    read_only: bool
    capacity: int
    used: int
    free: int
    reserved: int
    inodes: int


@dataclass(frozen=True, slots=True)
class Person:
    """`read` says how much of the home could be read: all, part or none."""

    name: str
    uid: int
    home: MachinePath
    read: str = "all"


@dataclass(frozen=True, slots=True)
class Evidence:
    """What signs of use stand on; `little`: why there may be too few of them, in sentences.

    Below `folder_times_trusted` what stands in unchanged folders was taken from an earlier survey, read at `trusted_since`."""

    access_times: str
    journal_since: datetime | None = None
    logins_since: datetime | None = None
    little: list[str] = field(default_factory=list)
    folder_times_trusted: list[MachinePath] = field(default_factory=list)
    trusted_since: datetime | None = None


@dataclass(frozen=True, slots=True)
class SurveyHead:
    """Of a survey what says when, with which rights and on which evidence it was made."""

    surveyed_at: datetime
    rights: str
    evidence: Evidence


@dataclass(frozen=True, slots=True)
class SystemPart:
    """`made`: by package, places in nobody's list that go when the registry removes or forgets the package."""

    packages: list[str]
    bytes: int
    made: dict[str, list[MachinePath]] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Installed:
    first: datetime | None
    last: datetime | None

    @property
    def known(self) -> datetime | None:
        """When it came, or when its newest part did where that alone is known."""
        return self.first or self.last


@dataclass(frozen=True, slots=True)
class Origin:
    source: str
    reinstallable: bool | None


@dataclass(frozen=True, slots=True)
class Launcher:
    path: MachinePath
    id: str
    name: str
    visible: bool


@dataclass(frozen=True, slots=True)
class Start:
    how: str
    path: MachinePath
    person: str
    enabled: bool


@dataclass(frozen=True, slots=True)
class Running:
    pid: int
    started: datetime | None
    person: str


@dataclass(frozen=True, slots=True)
class Kinds:
    """Bytes by kind; the order is the fixed place in every band."""

    program: int = 0
    support: int = 0
    preferences: int = 0
    cache: int = 0
    state: int = 0
    log: int = 0

    @property
    def total(self) -> int:
        return self.program + self.support + self.preferences + self.cache + self.state + self.log


@dataclass(frozen=True, slots=True)
class BytesBy:
    volume: str
    person: str
    kind: Kind
    bytes: int


@dataclass(frozen=True, slots=True)
class ComesBack:
    """Bytes that return to a volume: now, when the shelf is emptied, when a process ends."""

    volume: str
    now: int = 0
    when_emptied: int = 0
    when_ended: int = 0

    @property
    def total(self) -> int:
        return self.now + self.when_emptied + self.when_ended


@dataclass(frozen=True, slots=True)
class Sign:
    """The newest trace of its kind, person and reason to set it aside; `months`: days of all of them, the newest month last."""

    kind: str
    at: datetime
    until: datetime | None
    person: str
    source: MachinePath
    trust: str
    doubt: str = ""
    set_aside: str = ""
    note: str = ""
    line: int = 0
    months: list[int] = field(default_factory=list)

    def __post_init__(self) -> None:
        object.__setattr__(self, "note", masked(self.note))


@dataclass(frozen=True, slots=True)
class PersonUse:
    person: str
    at: datetime


@dataclass(frozen=True, slots=True)
class LastUse:
    """`at` the newest sign says, between `from_` and `to` where only a span is known; `because`: why this certainty.

    `months`: days on which any sign counts, in each of the last 24 calendar months (UTC), the newest last."""

    __pydantic_config__: ClassVar[dict[str, Any]] = AS_SPELLED
    at: datetime | None
    from_: datetime | None
    to: datetime | None
    person: str
    certainty: str
    background: bool
    people: list[PersonUse]
    months: list[int]
    looked_at: list[str]
    signs: list[Sign]
    because: str = ""

    @property
    def wide(self) -> bool:
        """Whether only a span is known, not a day."""
        return self.at is not None and self.to is not None and self.to - self.at > timedelta(days=2)

    @property
    def no_later_than(self) -> datetime | None:
        """The end of the span: for questions that must not call used what was not."""
        return self.to or self.at


@dataclass(frozen=True, slots=True)
class Proof:
    proof: By
    path: MachinePath = ""
    line: int = 0
    text: str = ""

    def __post_init__(self) -> None:
        object.__setattr__(self, "text", masked(self.text))


@dataclass(frozen=True, slots=True)
class Belonging:
    """A path, or an object that is no file of its own (an account, a diversion ...): then `path` is its name.

    `certain`: the registry, a unit or a technician says so, or its own name stands at the place and in its program. What is
    not is named, with why; it counts in no sum."""

    __pydantic_config__: ClassVar[dict[str, Any]] = AS_SPELLED
    object: str
    path: MachinePath
    volume: str
    identity: Identity | None
    files: int
    newest_write: datetime | None
    person: str
    kind: Kind
    bytes: int
    proof: By
    reason: str
    share: Share
    shared_with: list[str]
    personal: bool
    ticked: bool
    evidence: list[Proof] = field(default_factory=list)
    except_: list[MachinePath] = field(default_factory=list)
    certain: bool = True

    @property
    def is_path(self) -> bool:
        return self.object == "path"


@dataclass(frozen=True, slots=True)
class Reference:
    """Anything elsewhere that points at the application. `key` finds it again inside its file."""

    id: str
    family: str
    kind: str
    path: MachinePath
    line: int
    key: str
    text: str
    person: str
    detail: str
    in_effect: bool
    mention: bool
    action: str
    whole: bool = False

    def __post_init__(self) -> None:
        object.__setattr__(self, "text", masked(self.text))
        object.__setattr__(self, "detail", masked(self.detail))
        object.__setattr__(self, "key", masked(self.key))


@dataclass(frozen=True, slots=True)
class Application:
    id: str
    name: str
    version: str
    registry: str
    type: str
    state: str
    summary: str
    publisher: str
    homepage: str
    icon: str
    categories: list[str]
    packages: list[str]
    own_packages: list[str]
    also_here_as: list[str]
    other_versions: list[str]
    installed: Installed
    requested_by: str
    why_here: list[str]
    needed_by: list[str]
    protected: str | None
    held: bool
    origin: Origin
    launchers: list[Launcher]
    executables: list[MachinePath]
    starts: list[Start]
    running: list[Running]
    bytes: Kinds
    bytes_by: list[BytesBy]
    comes_back: int
    comes_back_by: list[ComesBack]
    last_use: LastUse
    belongings: list[Belonging]
    references: list[Reference]
    pointed_at: dict[str, list[MachinePath]] = field(default_factory=dict)
    changed_files: list[MachinePath] = field(default_factory=list)
    named: int = 0
    receipt: MachinePath = ""

    @property
    def pointers(self) -> list[Reference]:
        """What surely points at it."""
        return [r for r in self.references if not r.mention]

    @property
    def mentions(self) -> list[Reference]:
        """Configuration that names it, nobody knows what for."""
        return [r for r in self.references if r.mention]

    @property
    def named_only(self) -> list[Belonging]:
        """Places that something says are its alone, and not surely enough to count: `named` bytes."""
        return [b for b in self.belongings if b.is_path and b.share == Share.SOLE and not b.certain]


@dataclass(frozen=True, slots=True)
class Was:
    registry: str
    name: str
    version: str


STORE = "store"  # what a shared store was registered in, where it stands on an order


def line_name(entry: Application | LeftBehind) -> str:
    """What an entry is called where all kinds of them stand."""
    left = isinstance(entry, LeftBehind) and entry.was.registry != STORE
    return f"left by {entry.name}" if left else entry.name


@dataclass(frozen=True, slots=True)
class LeftBehind:
    id: str
    name: str
    was: Was
    gone_since: datetime | None
    evidence: list[Proof]
    belongings: list[Belonging]

    @property
    def bytes(self) -> Kinds:
        sums = dict.fromkeys(Kind, 0)
        for b in self.belongings:
            sums[b.kind] += b.bytes
        return Kinds(**{kind.value: count for kind, count in sums.items()})


@dataclass(frozen=True, slots=True)
class SharedStore:
    """Space that no single application owns. `older_than_month`, `older_than_year`: bytes last written before then; `belongings`:
    what of it may stand on an order, empty where it is cleared in another way."""

    id: str
    kind: str
    name: str
    person: str
    volume: str
    path: MachinePath
    bytes: int
    oldest: datetime | None
    newest: datetime | None
    clear_by: str
    offered: bool
    older_than_month: int = 0
    older_than_year: int = 0
    files: int = 0
    belongings: list[Belonging] = field(default_factory=list)

    @property
    def entry(self) -> LeftBehind:
        """As a line of an order has it: what it holds may go, path by path."""
        return LeftBehind(self.id, self.name, Was(STORE, "", ""), None, [], self.belongings)


@dataclass(frozen=True, slots=True)
class CommonPlace:
    """A place in a home that toolkits or several unrelated programs write to: nobody's alone, never part of an order."""

    path: MachinePath
    person: str
    bytes: int
    reason: str
    evidence: list[Proof] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Obstacle:
    """What stands in the way of the work, or hides space: said before anything else."""

    kind: str
    path: MachinePath
    text: str
    bytes: int = 0


@dataclass(frozen=True, slots=True)
class AccountPart:
    what: str
    bytes: int


@dataclass(frozen=True, slots=True)
class Account:
    """What a volume says is used, by whose it is. `not_accounted`: what no part explains (it may be negative where files
    share their blocks); `reserved`: kept free for the system; `not_read`: places on it that could not be read."""

    volume: str
    used: int
    parts: list[AccountPart]
    not_accounted: int
    reserved: int
    not_read: list[MachinePath]


@dataclass(frozen=True, slots=True)
class NotRead:
    path: MachinePath
    reason: str


@dataclass(frozen=True, slots=True)
class Survey:
    """`left_of`: not of the whole machine, but of what a clearance (of the run of this id) or a trace ("trace") found left.

    `so_far`: how much is known while it is still being taken (a `SoFar`); "" when it is whole."""

    format: str
    version: int
    id: str
    surveyed_at: datetime
    finished_at: datetime
    complete: bool
    tool: str
    rights: str
    index: IndexFile
    machine: MachineFacts
    volumes: list[Volume]
    people: list[Person]
    evidence: Evidence
    system: SystemPart
    applications: list[Application]
    left_behind: list[LeftBehind]
    shared_stores: list[SharedStore]
    not_read: list[NotRead]
    in_the_way: list[Obstacle] = field(default_factory=list)
    accounts: list[Account] = field(default_factory=list)
    programs_not_read: list[NotRead] = field(default_factory=list)
    common: list[CommonPlace] = field(default_factory=list)
    left_of: str = ""
    so_far: str = ""

    def find(self, line: str) -> Application | LeftBehind | None:
        found = next((e for e in self.entries if e.id == line), None)
        return found or next((s.entry for s in self.shared_stores if s.id == line and s.belongings), None)

    @property
    def entries(self) -> list[Application | LeftBehind]:
        """Everything that may stand on an order, but for shared stores."""
        return [*self.applications, *self.left_behind]


SURVEY_FORMAT, SURVEY_VERSION = "swept-shelf/survey", 1
