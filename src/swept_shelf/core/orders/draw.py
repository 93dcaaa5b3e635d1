"""Draws an order from a survey: packages that go with the whole of it, ticks, what comes back, what to settle."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import cast

from swept_shelf.core.applications.graph import Graph, graph_from_rows
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import (
    ORDER_VERSION,
    Order,
    OrderLine,
    OrderMachine,
    OrderSurvey,
    Settle,
    Verdict,
    order_comes_back,
)
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application, Belonging, ComesBack, LeftBehind, Survey
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.settle import questions
from swept_shelf.core.tree.index import Index
from swept_shelf.core.tree.returning import Sized, returning_bytes


@dataclass(frozen=True, slots=True)
class Choice:
    """What a technician chose: verdict by line id, paths ticked and unticked by hand, answers by question id."""

    verdicts: Mapping[str, str] = field(default_factory=dict)
    ticked: frozenset[str] = frozenset()
    unticked: frozenset[str] = frozenset()
    answers: Mapping[str, str] = field(default_factory=dict)
    answered_at: Mapping[str, datetime] = field(default_factory=dict)


def line_name(entry: Application | LeftBehind) -> str:
    """What a line of an order is called."""
    return f"left by {entry.name}" if isinstance(entry, LeftBehind) else entry.name


def draw_order(survey: Survey, digest: str, index: Index, choice: Choice, id: str, now: datetime) -> Order:
    """The order for `choice`. Raises Refused for an unknown line, verdict, path or answer."""
    _known_paths(survey, choice)
    verdicts = dict(choice.verdicts)
    for line in verdicts:
        if survey.find(line) is None:
            raise Refused(f"no application {line} in this survey")
    lines = _with_dependents(survey, verdicts, choice)
    settle = [_answered(q, choice) for q in questions(survey, lines)]
    stay = {s.line for s in settle if s.answer == "leave_out"}
    lines = {k: ("keep" if k in stay else v) for k, v in lines.items()}
    graph = order_graph(index)
    removed = [a for a in survey.applications if lines.get(a.id) == "remove" and a.registry == "debian"]
    gone = graph.goes_with({a.own_packages[0] for a in removed})
    shares = _share_out(removed, graph)
    made, back = [], Returns(index, survey)
    personal = {s.line for s in settle if s.question == "personal" and s.answer == "go_too"}
    back.packages(gone)
    for line, verdict in lines.items():
        entry = survey.find(line)
        assert entry is not None
        ticks = ticks_of(entry, verdict, choice, line in personal)
        packages = shares.get(line, []) if verdict == "remove" else []
        if verdict == "remove" and isinstance(entry, LeftBehind) and index_knows(index, entry.was.name):
            packages = [entry.was.name]
        references = (
            [r.id for r in entry.references if r.action == "take_out"]
            if isinstance(entry, Application) and verdict == "remove"
            else []
        )
        name = line_name(entry)
        alone = Returns(index, survey)
        alone.packages([p for p in packages if p in gone])
        for b in entry.belongings:
            if b.is_path and b.path in ticks:
                back.tick(b, set(ticks))
                alone.tick(b, set(ticks))
        for path in settings_of_others(entry, packages, index):
            if path not in choice.unticked:
                ticks.append(path)
                back.path(path)
                alone.path(path)
        made.append(
            OrderLine(
                line,
                name,
                cast(Verdict, verdict),
                ticks,
                packages,
                references,
                sum(c.total for c in alone.by_volume()),
            )
        )
    return Order(
        "swept-shelf/order",
        ORDER_VERSION,
        id,
        now,
        OrderMachine(survey.machine.key, survey.machine.name, survey.machine.root),
        OrderSurvey(survey.id, digest),
        made,
        gone,
        order_comes_back(back.by_volume()),
        settle,
    )


def order_graph(index: Index) -> Graph:
    return graph_from_rows(
        [(n, root) for n, _, _, s, root in index.packages() if s not in ("not-installed", "config-files")],
        index.edges(),
    )


def index_knows(index: Index, package: str) -> bool:
    return any(n == package and s == "config-files" for n, _, _, s, _ in index.packages())


def tickable(entry: Application | LeftBehind, b: Belonging) -> bool:
    """True for what an order moves by path: not what the registry takes away with its package."""
    if isinstance(entry, Application) and any(r.path == b.path for r in entry.references):
        return False  # a pointer: taken out as a reference
    return (
        b.is_path
        and b.share != "common"
        and (b.proof != "registered" or b.kind != "program" or entry.id.startswith("files:"))
    )


def ticks_of(entry: Application | LeftBehind, verdict: str, choice: Choice, personal_too: bool) -> list[str]:
    """The belongings that go, by the defaults and what was ticked by hand."""
    found = []
    for b in entry.belongings:
        if not tickable(entry, b) or verdict == "keep" or (verdict == "clear_cache" and b.kind != "cache"):
            continue
        ticked = b.ticked or (b.personal and personal_too and b.share == "sole")
        if (ticked or b.path in choice.ticked) and b.path not in choice.unticked:
            found.append(b.path)
    return found


def settings_of_others(entry: Application | LeftBehind, packages: list[str], index: Index) -> list[str]:
    """Settings files of packages that go along but are not the application's own part: they go with them."""
    own = set(entry.own_packages) if isinstance(entry, Application) else set(packages)
    listed = index.listed_by([p for p in packages if p not in own])
    known = {b.path for b in entry.belongings if b.is_path}
    return sorted(
        p
        for p, owners in listed.items()
        if owners <= set(packages) and p not in known and is_settings_file(index, p)
    )


def is_settings_file(index: Index, path: str) -> bool:
    """A file below /etc that a package lists (Debian Policy 10.7.1: such files are conffiles)."""
    return path.startswith("/etc/") and (row := index.row(path)) is not None and row.identity.type == "file"


class Returns:
    """Adds up what comes back per volume, each path once, hard links with their last name."""

    def __init__(self, index: Index, survey: Survey) -> None:
        self._index, self._survey = index, survey
        self._now: list[Sized] = []
        self._later: dict[str, list[Sized]] = defaultdict(list)

    def packages(self, names: list[str]) -> None:
        """Files that no staying package lists too, and the packages' own folders."""
        gone = set(names)
        for path, owners in self._index.listed_by(names).items():
            row = self._index.row(path)
            if row and owners <= gone and not is_settings_file(self._index, path):
                self._now.append(row.sized)

    def path(self, path: str) -> None:
        """One settings file of a package that goes along."""
        row = self._index.row(path)
        if row:
            self._later[volume_of(self._survey.volumes, path).id].append(row.sized)

    def tick(self, b: Belonging, ticks: set[str]) -> None:
        left = [x for x in b.except_ if x not in ticks]
        for path, row in self._index.below(b.path).items():
            if not any(within(path, x) for x in left) and not (left and any(within(x, path) for x in left)):
                self._later[b.volume].append(row.sized)

    def by_volume(self) -> list[ComesBack]:
        first = self._survey.volumes[0].id
        now = returning_bytes(self._now)
        found = [
            ComesBack(v.id, now if v.id == first else 0, returning_bytes(self._later[v.id]))
            for v in self._survey.volumes
        ]
        return [c for c in found if c.total]


def _known_paths(survey: Survey, choice: Choice) -> None:
    entries: list[Application | LeftBehind] = [*survey.applications, *survey.left_behind]
    known = {b.path: b for e in entries for b in e.belongings if b.is_path}
    for path in (*choice.ticked, *choice.unticked):
        if path not in known:
            raise Refused("is not a belonging of anything in this survey", path)
    for path in choice.ticked:
        if known[path].share == "common":
            raise Refused("is common to many programs and never part of an order", path)


def _with_dependents(survey: Survey, verdicts: dict[str, str], choice: Choice) -> dict[str, str]:
    """The lines, and those that need one of them where the answer was to remove both."""
    lines = {k: v for k, v in verdicts.items()}
    for line in list(lines):
        entry = survey.find(line)
        if (
            lines[line] == "remove"
            and isinstance(entry, Application)
            and choice.answers.get(f"needed_by:{line}") == "remove_both"
        ):
            for other in entry.needed_by:
                lines[other] = "remove"
    return lines


def _answered(question: Settle, choice: Choice) -> Settle:
    answer = choice.answers.get(question.id, "")
    if answer and answer not in question.answers:
        raise Refused(f"{question.id} is answered by one of {', '.join(question.answers)}, not {answer}")
    return replace(question, answer=answer, answered_at=choice.answered_at.get(question.id))


def _share_out(removed: list[Application], graph: Graph) -> dict[str, list[str]]:
    """Every package to exactly one line: the first at which the registry would take it, the lines before it done.

    So each line's removal is one that the registry accepts, and what several lines free together goes with the
    last of them."""
    shares: dict[str, list[str]] = {}
    before: set[str] = set()
    heads: set[str] = set()
    for a in removed:
        heads.add(a.own_packages[0])
        taken = [p for p in graph.goes_with(heads) if p not in before]
        before |= set(taken)
        shares[a.id] = sorted(taken, key=lambda n, a=a: (n not in a.own_packages, n != a.own_packages[0], n))  # type: ignore[misc]
    return shares
