"""What must be settled before an order is carried out: each question with its evidence and its answers."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from swept_shelf.core.documents.answers import BOXES
from swept_shelf.core.documents.order import Settle
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import STORE, Application, LeftBehind, Reference, Survey
from swept_shelf.core.documents.terms import GONE, PARTS, Share, Verdict
from swept_shelf.core.documents.times import clock, day
from swept_shelf.core.documents.used import last_used
from swept_shelf.core.orders.scope import Scope, goes_by_tool
from swept_shelf.core.orders.stopping import to_stop
from swept_shelf.core.registries.ways import way_of

ANSWER_WORDS = {
    "leave_out": "Leave it out",
    "remove_both": "Remove both",
    "they_stay": "They stay",
    "go_too": "Take them along",
    "when_ended": "Only if it has ended",
    "end_it": "Ask it to end",
    "end_hard": "End it in any case",
    "by_its_scripts": "Its own way",
    "without_scripts": "Last resort: without its scripts",
    **{answer: f"{words[0].upper()}{words[1:]}" for answer, words in BOXES.items()},
}


def questions(scope: Scope, lines: Mapping[str, str]) -> list[Settle]:
    """All questions of these lines, answers empty."""
    found: list[Settle] = []
    for line, verdict in lines.items():
        entry = scope.entries.get(line)
        if entry is None or verdict == Verdict.KEEP:
            continue
        if verdict == Verdict.ASK_OWNER:
            found.append(_of_owner(entry))
            continue
        if isinstance(entry, Application):
            found += _of_application(scope.survey, entry, verdict, lines)
            if verdict == Verdict.REMOVE and (why := scope.why_last_resort(entry)):
                found.append(_last_resort(entry, why))
        found += _personal(scope, entry, verdict)
    return found + list(_of_all(scope, lines, {q.line for q in found if q.question == "protected"}))


def _of_all(scope: Scope, lines: Mapping[str, str], asked: set[str]) -> Iterator[Settle]:
    """What is protected and goes only with all of them together: asked of the first line that completes the set."""
    heads = [
        (k, a.own_packages[0])
        for k, v in lines.items()
        if v == Verdict.REMOVE and goes_by_tool(a := scope.entries[k])
    ]
    gone = scope.goes_with([h for _, h in heads]) if heads else []
    for package in gone:
        reason = scope.packages[package].protected
        if not reason or any(package in scope.goes_alone(h) for _, h in heads):
            continue
        count = next(
            n for n in range(1, len(heads) + 1) if package in scope.goes_with([h for _, h in heads[:n]])
        )
        line = heads[count - 1][0]
        if line not in asked:
            asked.add(line)
            yield Settle(
                f"protected:{line}",
                line,
                "protected",
                f"With {scope.entries[line].name} the order would take {package} along",
                f"{reason[0].upper()}{reason[1:]}.",
                ["leave_out"],
            )


def _of_application(
    survey: Survey, app: Application, verdict: str, lines: Mapping[str, str]
) -> Iterator[Settle]:
    if verdict == Verdict.REMOVE:
        staying = [n for n in app.needed_by if lines.get(n) != Verdict.REMOVE]
        added = [n for n in app.needed_by if lines.get(n) == Verdict.REMOVE]
        if staying or (added and app.type not in PARTS):
            names = ", ".join(e.name for n in (staying or added) if (e := survey.find(n)))
            yield Settle(
                f"needed_by:{app.id}",
                app.id,
                "needed_by",
                f"{names} needs {app.name}",
                f"Its package depends on {(app.packages or [app.name])[0]}; the package tool would take it along."
                if goes_by_tool(app)
                else f"{app.origin.source[:1].upper()}{app.origin.source[1:]}: it is a part of {app.name}, or would not work without it.",
                ["remove_both", "leave_out"],
            )
        if app.registry != GONE and way_of(app.registry) is None:
            yield Settle(
                f"registry:{app.id}",
                app.id,
                "registry",
                f"{app.name} is registered elsewhere: {app.origin.source}",
                "Nothing is removed through that registry yet; its cache can be cleared.",
                ["leave_out"],
            )
        if app.protected:
            yield Settle(
                f"protected:{app.id}",
                app.id,
                "protected",
                f"{app.name} is protected",
                f"{app.protected[0].upper()}{app.protected[1:]}.",
                ["leave_out"],
            )
        if asked := [r for r in app.references if r.action == "ask"]:
            yield _pointed_at(app, asked)
    if app.running and verdict != Verdict.STOP_STARTING:
        first = app.running[0]
        since = f" since {clock(first.started)}" if first.started else ""
        yield Settle(
            f"running:{app.id}",
            app.id,
            "running",
            f"{app.name} is running",
            f"{first.person or 'Somebody'} has it open{since}, process {first.pid}.",
            ["end_it", "end_hard", "when_ended", "leave_out"],
        )


def _last_resort(app: Application, why: str) -> Settle:
    """Its package is broken, or was refused before: whether its own scripts are to be run at all."""
    return Settle(
        f"scripts:{app.id}",
        app.id,
        "scripts",
        f"{app.name} may not go its own way",
        f"{why} As a last resort its package goes without its own scripts: what they would have tidied up stays. "
        "Put back brings it back as it stands now.",
        ["by_its_scripts", "leave_out", "without_scripts"],
    )


def _said_of(entry: Application | LeftBehind) -> str:
    """How big, and last used when: what whoever is asked by word of mouth wants to know first."""
    if isinstance(entry, LeftBehind):
        what = (
            "which no single application owns"
            if entry.was.registry == STORE
            else "left behind by what was removed before"
        )
        return f"{human_bytes(sum(b.bytes for b in entry.belongings if b.is_path))}, {what}."
    return f"{human_bytes(entry.comes_back)}, {last_used(entry.last_use)}{f': {entry.summary}' if entry.summary else ''}."


def _of_owner(entry: Application | LeftBehind) -> Settle:
    """Whose computer it is decides."""
    answers = ["remove", "keep"]
    if any(True for _ in _personal_of(entry, Verdict.REMOVE)):
        answers.insert(1, "remove_all")
    if any(to_stop(entry)):
        answers.append("stop_starting")
    return Settle(f"owner:{entry.id}", entry.id, "owner", f"May {entry.name} go?", _said_of(entry), answers)


def _pointed_at(app: Application, asked: list[Reference]) -> Settle:
    """What points at it and is somebody's own, or serves others too: a person has to say whether it goes."""
    first = "; ".join(f"{r.path}{f', line {r.line}' if r.line else ''}: {r.detail}" for r in asked[:3])
    more = f"; and {len(asked) - 3} more" if len(asked) > 3 else ""
    count = plural(len(asked), "place")
    made = f"{count} that somebody made {'points' if len(asked) == 1 else 'point'} at {app.name}"
    accounts = f"The account of {app.name} stands in {count}"
    return Settle(
        f"pointed_at:{app.id}",
        app.id,
        "pointed_at",
        accounts if all(r.family == "accounts" for r in asked) else made,
        f"{first}{more}.",
        ["they_stay", "go_too", "leave_out"],
    )


def _personal(scope: Scope, entry: Application | LeftBehind, verdict: str) -> list[Settle]:
    key = ("personal", entry.id, verdict)
    if key not in scope.memory:
        scope.memory[key] = list(_personal_of(entry, verdict))
    asked: list[Settle] = scope.memory[key]
    return asked


def _personal_of(entry: Application | LeftBehind, verdict: str) -> Iterator[Settle]:
    own = [b for b in entry.belongings if b.is_path and b.personal and b.share == Share.SOLE]
    if verdict != Verdict.REMOVE or not own:
        return
    files, size = sum(b.files for b in own), sum(b.bytes for b in own)
    newest = max((b.newest_write for b in own if b.newest_write), default=None)
    people = ", ".join(sorted({b.person for b in own}))
    yield Settle(
        f"personal:{entry.id}",
        entry.id,
        "personal",
        f"Personal content inside {entry.name}",
        f"{plural(files, 'file')} of {people}, {human_bytes(size)}, last written {day(newest)}.",
        ["they_stay", "go_too", "leave_out"],
    )
