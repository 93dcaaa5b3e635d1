"""Draws an order from a survey: packages that go with the whole of it, ticks, what comes back, what to settle."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import (
    FREED,
    FREED_NAME,
    LONGEST_NOTE,
    ORDER_VERSION,
    Order,
    OrderLine,
    OrderMachine,
    OrderSurvey,
    Settle,
    order_comes_back,
)
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application, ComesBack, LeftBehind, line_name
from swept_shelf.core.documents.terms import Kind, Share, Verdict
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.moving import large, movable, why_not_to
from swept_shelf.core.orders.scope import (
    Entry,
    Scope,
    Weight,
    goes_by_tool,
    goes_whole,
    is_program,
    is_settings_file,
    tickable,
)
from swept_shelf.core.orders.settle import questions
from swept_shelf.core.orders.shares import share_out
from swept_shelf.core.orders.stopping import to_stop
from swept_shelf.core.references.take_out import table_of
from swept_shelf.core.registries.ways import names_in_its_store

_OF_OWNER = {
    "remove": Verdict.REMOVE,
    "remove_all": Verdict.REMOVE,
    "keep": Verdict.KEEP,
    "stop_starting": Verdict.STOP_STARTING,
}
_GO_TOO = ("personal", "pointed_at")  # questions whose answer may take something along


@dataclass(frozen=True, slots=True)
class Choice:
    """What a technician chose: verdict by line id, paths ticked and unticked by hand, answers by question id. `only`: of all that
    points at the lines nothing but these references, by id; None: all that can be taken out. `notes`: by line id; `to`: where data is moved, likewise."""

    verdicts: Mapping[str, str] = field(default_factory=dict)
    ticked: frozenset[str] = frozenset()
    unticked: frozenset[str] = frozenset()
    answers: Mapping[str, str] = field(default_factory=dict)
    answered_at: Mapping[str, datetime] = field(default_factory=dict)
    answered_by: Mapping[str, str] = field(default_factory=dict)
    only: frozenset[str] | None = None
    notes: Mapping[str, str] = field(default_factory=dict)
    to: Mapping[str, str] = field(default_factory=dict)


def draw_order(scope: Scope, choice: Choice, id: str, now: datetime) -> Order:
    """The order for `choice`. Raises Refused for an unknown line, verdict, path or answer, and where what is to be kept would
    go along."""
    _known_paths(scope, choice)
    for line in choice.verdicts:
        if line not in scope.entries:
            raise Refused(f"no application {line} in this survey")
    lines, settle = settled(scope, choice)
    removed = [scope.entries[k] for k, v in lines.items() if v == Verdict.REMOVE]
    packaged = [a for a in removed if goes_by_tool(a)]
    shares = share_out(scope, packaged)
    kept_but_taken(scope, lines, shares.all)
    back = Returns(scope)
    back.packages(shares.all)
    too = {q: {s.line for s in settle if (s.question, s.answer) == (q, "go_too")} for q in _GO_TOO}
    order = [*shares.lines, *_dependents_first(scope, [k for k in lines if k not in shares.lines])]
    drawn = [
        _line(scope, line, lines[line], choice, [line in too[q] for q in _GO_TOO], shares.lines.get(line, []))
        for line in order
    ]
    if shares.freed:
        drawn.append(_freed(scope, shares.freed, choice))
    for part in drawn:
        back.paths(part.paths)
    made = [replace(part.line, note=note_for(choice, part.line.id)) for part in drawn]
    return Order(
        "swept-shelf/order",
        ORDER_VERSION,
        id,
        now,
        OrderMachine(scope.survey.machine.key, scope.survey.machine.name, scope.survey.machine.root),
        OrderSurvey(scope.survey.id, scope.digest),
        made,
        shares.all,
        order_comes_back(back.by_volume()),
        settle,
    )


def _dependents_first(scope: Scope, lines: list[str]) -> list[str]:
    """These lines, each behind those of them that need it: its registry would not let it go before."""
    found: dict[str, None] = {}

    def add(line: str, way: tuple[str, ...]) -> None:
        entry = scope.entries[line]
        for other in entry.needed_by if isinstance(entry, Application) else ():
            if other in lines and other not in way:
                add(other, (*way, line))
        found.setdefault(line)

    for line in lines:
        add(line, (line,))
    return list(found)


def note_for(choice: Choice, line: str) -> str:
    """One line of text, whatever was written. Raises Refused for one that is too long."""
    note = " ".join(choice.notes.get(line, "").split())
    if len(note) > LONGEST_NOTE:
        raise Refused(f"the note for {line} has {len(note)} characters, {LONGEST_NOTE} at most")
    return note


@dataclass(frozen=True, slots=True)
class _Drawn:
    """A line, and what its paths bring back: (path, volume, weight), those left out that lie inside another."""

    line: OrderLine
    paths: list[tuple[str, str, Weight]]


def _line(
    scope: Scope, id: str, verdict: str, choice: Choice, too: list[bool], packages: list[str]
) -> _Drawn:
    """Drawn once for all that it depends on: a tick elsewhere changes nothing of it."""
    entry = scope.entries[id]
    places = scope.places(id)
    ticked, unticked = frozenset(places & choice.ticked), frozenset(places & choice.unticked)
    key = (id, verdict, *too, tuple(packages), ticked, unticked, choice.only, choice.to.get(id, ""))
    if key not in scope.memory:
        mine = replace(choice, ticked=ticked, unticked=unticked)
        scope.memory[key] = _draw_line(scope, entry, verdict, mine, too, packages)
    drawn: _Drawn = scope.memory[key]
    return drawn


def _draw_line(
    scope: Scope, entry: Entry, verdict: str, choice: Choice, too: list[bool], packages: list[str]
) -> _Drawn:
    personal, pointed_at = too
    if verdict == Verdict.STOP_STARTING:
        return _Drawn(_stopped(scope, entry, choice), [])
    if verdict == Verdict.MOVE_DATA:
        return _moved(scope, entry, choice)
    ticks = ticks_of(entry, verdict, choice, personal)
    references: list[str] = []
    if verdict == Verdict.REMOVE:
        if isinstance(entry, LeftBehind) and scope.is_rest(entry.was.name):
            packages = [entry.was.name]
        if isinstance(entry, Application):
            wanted = ("take_out", "ask") if pointed_at else ("take_out",)
            references = [
                r.id
                for r in entry.references
                if r.action in wanted
                and (choice.only is None or r.id in choice.only)
                and (table_of(r.kind) or not scope.why_protected(r.path, edited=not r.whole))
            ]
    settings = [p for p in settings_of_others(scope, entry, packages) if p not in choice.unticked]
    paths = [*_weighed(scope, entry, ticks), *_of_settings(scope, settings)]
    alone = Returns(scope)
    alone.packages([p for p in packages if not scope.is_rest(p)])
    alone.paths(paths)
    on = {c.volume: c.total for c in alone.by_volume()}
    name, kind = line_name(entry), Verdict(verdict)
    ticks = [*ticks, *settings]
    return _Drawn(OrderLine(entry.id, name, kind, ticks, packages, references, sum(on.values()), on), paths)


def _stopped(scope: Scope, entry: Entry, choice: Choice) -> OrderLine:
    """Nothing comes back of it; where nothing starts it any more, nothing is done."""
    ticks, references = to_stop(entry)
    ticks = [t for t in ticks if t not in choice.unticked and not scope.why_protected(t, edited=True)]
    return OrderLine(entry.id, line_name(entry), Verdict.STOP_STARTING, ticks, [], references, 0, {})


def _moved(scope: Scope, entry: Entry, choice: Choice) -> _Drawn:
    """What its volume has again when the shelf is emptied. Raises Refused where it cannot go there."""
    to = choice.to.get(entry.id, "")
    ticks = [
        b.path
        for b in movable(entry)
        if (large(b) or b.path in choice.ticked)
        and b.path not in choice.unticked
        and (row := scope.index.row(b.path)) is not None
        and row.identity.type == "folder"
        and not scope.why_protected(b.path)
    ]
    if why := why_not_to(to, ticks, scope.survey.volumes):
        raise Refused(f"{to or 'nothing'} {why}")
    paths = _weighed(scope, entry, ticks)
    alone = Returns(scope)
    alone.paths(paths)
    on = {c.volume: c.total for c in alone.by_volume()}
    made = OrderLine(
        entry.id, line_name(entry), Verdict.MOVE_DATA, ticks, [], [], sum(on.values()), on, to=to
    )
    return _Drawn(made, paths)


def _freed(scope: Scope, packages: list[str], choice: Choice) -> _Drawn:
    settings = [p for p in freed_settings(scope, packages) if p not in choice.unticked]
    paths = _of_settings(scope, settings)
    alone = Returns(scope)
    alone.packages(packages)
    alone.paths(paths)
    on = {c.volume: c.total for c in alone.by_volume()}
    made = OrderLine(FREED, FREED_NAME, Verdict.REMOVE, settings, packages, [], sum(on.values()), on)
    return _Drawn(made, paths)


def _of_settings(scope: Scope, settings: list[str]) -> list[tuple[str, str, Weight]]:
    found = []
    for path in settings:
        if scope.index.row(path):
            found.append((path, volume_of(scope.survey.volumes, path).id, scope.weigh_below(path, [])))
    return found


def _weighed(scope: Scope, entry: Entry, ticks: list[str]) -> list[tuple[str, str, Weight]]:
    """The ticked belongings that do not go with another one which they lie in."""
    chosen = set(ticks)
    going = [b for b in entry.belongings if b.is_path and b.path in chosen]
    above: list[tuple[str, list[str]]] = []
    found = []
    for b in sorted(going, key=lambda b: b.path.split("/")):
        while above and not within(b.path, above[-1][0]):
            above.pop()
        left = [x for x in b.except_ if x not in chosen]
        covered = any(not any(within(b.path, x) for x in stays) for _, stays in above)
        above.append((b.path, left))
        if not covered:
            besides = names_in_its_store(entry.registry) if goes_whole(entry) and is_program(b) else 0
            found.append((b.path, b.volume, scope.weigh_below(b.path, left, besides)))
    return found


def settled(scope: Scope, choice: Choice) -> tuple[dict[str, str], list[Settle]]:
    """The lines with their verdicts when every answer has had its effect, and all questions that were asked on the way.

    To leave one out may ask others again: until nothing changes any more."""
    lines = dict(choice.verdicts)
    asked: dict[str, Settle] = {}
    while True:
        lines = _with_dependents(scope, lines, choice)
        for question in questions(scope, lines):
            asked[question.id] = _answered(question, choice)
        said = {
            s.line: _OF_OWNER[s.answer]
            for s in asked.values()
            if s.question == "owner" and s.answer and lines.get(s.line) == Verdict.ASK_OWNER
        }
        if said:
            lines |= said
            continue
        out = {
            s.line for s in asked.values() if s.answer == "leave_out" and lines.get(s.line) != Verdict.KEEP
        }
        out |= {
            s.line for s in asked.values() if s.answer == "remove_both" and _must_stay(scope, s.line, lines)
        }
        if out:
            lines |= dict.fromkeys(out, Verdict.KEEP)
        elif freed := _freed_whole(scope, lines):
            lines |= dict.fromkeys(freed, Verdict.REMOVE)
        else:
            return lines, list(asked.values())


def _freed_whole(scope: Scope, lines: Mapping[str, str]) -> list[str]:
    """Runtimes that only applications use which all go, where nothing else was said of them."""
    return [
        id
        for id, users in scope.runtimes.items()
        if id not in lines and all(lines.get(u) == Verdict.REMOVE for u in users)
    ]


def _must_stay(scope: Scope, line: str, lines: Mapping[str, str]) -> bool:
    """Whether it was to go together with another that stays by now."""
    entry = scope.entries[line]
    return (
        lines[line] == Verdict.REMOVE
        and isinstance(entry, Application)
        and any(lines.get(other) == Verdict.KEEP for other in entry.needed_by)
    )


def kept_but_taken(scope: Scope, lines: Mapping[str, str], gone: Iterable[str]) -> None:
    """Raises Refused where the registry would take along what the order keeps."""
    for package in gone:
        line = scope.head_of.get(package)
        if line is not None and lines.get(line) == Verdict.KEEP:
            taking = ", ".join(
                line_name(scope.entries[k])
                for k, v in lines.items()
                if v == Verdict.REMOVE and package in scope.goes_alone(_head(scope.entries[k]))
            )
            raise Refused(
                f"{scope.entries[line].name} is to be kept, and {taking or 'the others together'} would take it along: "
                "leave that out, or let both go"
            )
    for app in scope.survey.applications:
        newer = scope.newer_of(app)
        if newer and lines.get(app.id) == Verdict.KEEP and lines.get(newer) == Verdict.REMOVE:
            raise Refused(
                f"{app.name} is to be kept, and its registry takes it along with {scope.entries[newer].name}: "
                "leave that out, or let both go"
            )


def _head(entry: Entry) -> str:
    return entry.own_packages[0] if goes_by_tool(entry) and entry.own_packages else ""


def ticks_of(entry: Entry, verdict: str, choice: Choice, personal_too: bool) -> list[str]:
    """The belongings that go, by the defaults and what was ticked by hand."""
    found = []
    for b in entry.belongings:
        if (
            not tickable(entry, b)
            or verdict in (Verdict.KEEP, Verdict.ASK_OWNER)
            or (verdict == Verdict.CLEAR_CACHE and b.kind != Kind.CACHE)
            or b.path in choice.unticked
        ):
            continue
        if b.ticked or (b.personal and personal_too and b.share == Share.SOLE) or b.path in choice.ticked:
            found.append(b.path)
    return found


def settings_of_others(scope: Scope, entry: Entry, packages: list[str]) -> list[str]:
    """Settings files of packages that go along but are not the application's own part, and what those made: they go with them."""
    own = set(entry.own_packages) if isinstance(entry, Application) else set(packages)
    others = [p for p in packages if p not in own]
    if not others:
        return []
    known = {b.path for b in entry.belongings if b.is_path}
    gone = set(packages)
    listed = {
        path
        for path, (row, owners) in scope.listed(others).items()
        if is_settings_file(row) and path not in known and owners <= gone
    }
    return sorted(listed | {p for p in made_by(scope, others) if p not in known})


def freed_settings(scope: Scope, packages: list[str]) -> list[str]:
    """Settings files of what several lines free together, and what those packages made."""
    listed = [
        p for p in scope.settings_files(packages) if p not in scope.shares_of and not scope.why_protected(p)
    ]
    return [*listed, *(p for p in made_by(scope, packages) if p not in listed)]


def made_by(scope: Scope, packages: Iterable[str]) -> list[str]:
    """Places in nobody's list that the registry takes away when it forgets these packages, and that are nobody's belonging."""
    made = scope.survey.system.made
    return sorted(
        path
        for package in packages
        for path in made.get(package, ())
        if path not in scope.shares_of and not scope.why_protected(path) and scope.index.row(path)
    )


class Returns:
    """Adds up what comes back per volume, each path once, hard links with their last name."""

    def __init__(self, scope: Scope) -> None:
        self._scope = scope
        self._now = Weight()
        self._later: dict[str, Weight] = defaultdict(Weight)
        self._seen: set[str] = set()

    def packages(self, names: Iterable[str]) -> None:
        """Files that no staying package lists too, and the packages' own folders."""
        self._now.include(self._scope.weigh_packages(list(names)))

    def paths(self, parts: Iterable[tuple[str, str, Weight]]) -> None:
        for path, volume, weight in parts:
            if path not in self._seen:
                self._seen.add(path)
                self._later[volume].include(weight)

    def by_volume(self) -> list[ComesBack]:
        volumes = self._scope.survey.volumes
        now = self._now.bytes
        found = [
            ComesBack(
                v.id,
                now if v.id == volumes[0].id else 0,
                self._later[v.id].bytes if v.id in self._later else 0,
            )
            for v in volumes
        ]
        return [c for c in found if c.total]


def _known_paths(scope: Scope, choice: Choice) -> None:
    for path in (*choice.ticked, *choice.unticked):
        if path not in scope.shares_of:
            raise Refused("is not a belonging of anything in this survey", path)
    for path in choice.ticked:
        if scope.shares_of[path] == Share.COMMON:
            raise Refused("is common to many programs and never part of an order", path)


def _with_dependents(scope: Scope, verdicts: dict[str, str], choice: Choice) -> dict[str, str]:
    """The lines, and all that need one of them, and those in turn, where the answer was to remove both."""
    lines = dict(verdicts)
    stack = list(lines)
    while stack:
        line = stack.pop()
        entry = scope.entries[line]
        both = choice.answers.get(f"needed_by:{line}") == "remove_both"
        if lines[line] == Verdict.REMOVE and isinstance(entry, Application) and both:
            for other in entry.needed_by:
                if lines.get(other) not in (Verdict.REMOVE, Verdict.KEEP):
                    lines[other] = Verdict.REMOVE
                    stack.append(other)
    return lines


def _answered(question: Settle, choice: Choice) -> Settle:
    answer = choice.answers.get(question.id, "")
    if answer and answer not in question.answers:
        raise Refused(f"{question.id} is answered by one of {', '.join(question.answers)}, not {answer}")
    id = question.id
    if (
        question.question == "personal" and not answer
    ):  # with the application the owner spoke of what was made with it
        id = f"owner:{question.line}"
        answer = {"remove": "they_stay", "remove_all": "go_too"}.get(choice.answers.get(id, ""), "")
    return replace(
        question,
        answer=answer,
        answered_at=choice.answered_at.get(id) if answer else None,
        answered_by=choice.answered_by.get(id, "") if answer else "",
    )
