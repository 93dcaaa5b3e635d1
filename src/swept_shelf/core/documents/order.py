"""An order: the list of verdicts to carry out, what comes back, and what must be settled first.

Orders are read strictly: an unknown member, verdict or a newer version is refused."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import datetime
from typing import ClassVar, Literal

from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.survey import ComesBack
from swept_shelf.core.documents.terms import Verdict

STRICT: dict[str, str] = {"extra": "forbid"}


@dataclass(frozen=True, slots=True)
class Settle:
    """A question that must be answered before the order is carried out, with its evidence."""

    __pydantic_config__: ClassVar = STRICT
    id: str
    line: str
    question: Literal[
        "needed_by", "protected", "personal", "running", "registry", "pointed_at", "owner", "scripts"
    ]
    title: str
    evidence: str
    answers: list[str]
    answer: str = ""
    answered_at: datetime | None = None
    answered_by: str = ""


@dataclass(frozen=True, slots=True)
class OrderLine:
    """One verdict. `ticks` are the belongings that go, path by path; `references` those taken out. `comes_back_on`: by volume;
    `note`: the technician's own words; `to`: the folder on another volume that data is moved to.

    The last line may be FREED: packages that no line takes by itself, and their settings. They go after all others."""

    __pydantic_config__: ClassVar = STRICT
    id: str
    name: str
    verdict: Verdict
    ticks: list[MachinePath]
    packages: list[str]
    references: list[str]
    comes_back: int
    comes_back_on: dict[str, int] = field(default_factory=dict)
    note: str = ""
    to: MachinePath = ""


@dataclass(frozen=True, slots=True)
class OrderMachine:
    __pydantic_config__: ClassVar = STRICT
    key: str
    name: str
    root: MachinePath


@dataclass(frozen=True, slots=True)
class OrderSurvey:
    __pydantic_config__: ClassVar = STRICT
    id: str
    sha256: str


@dataclass(frozen=True, slots=True)
class OrderComesBack:
    __pydantic_config__: ClassVar = STRICT
    volume: str
    now: int
    when_emptied: int
    when_ended: int


@dataclass(frozen=True, slots=True)
class Order:
    __pydantic_config__: ClassVar = STRICT
    format: Literal["swept-shelf/order"]
    version: int
    id: str
    drawn_at: datetime
    machine: OrderMachine
    survey: OrderSurvey
    lines: list[OrderLine]
    packages: list[str]
    comes_back: list[OrderComesBack]
    settle: list[Settle] = field(default_factory=list)

    def line(self, id: str) -> OrderLine | None:
        return next((line for line in self.lines if line.id == id), None)

    @property
    def total(self) -> int:
        return sum(c.now + c.when_emptied + c.when_ended for c in self.comes_back)

    @property
    def unsettled(self) -> list[Settle]:
        return [s for s in self.settle if not s.answer]


def order_comes_back(parts: list[ComesBack]) -> list[OrderComesBack]:
    return [OrderComesBack(p.volume, p.now, p.when_emptied, p.when_ended) for p in parts]


ORDER_FORMAT, ORDER_VERSION = "swept-shelf/order", 6
LONGEST_NOTE = 400  # characters
FREED, FREED_NAME = (
    "freed",
    "what nothing else needs any more",
)  # the line of what several lines free together
