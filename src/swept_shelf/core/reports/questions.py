"""The question sheet: what the owner has to decide, on a page that can be answered with a pen, or as a file that comes back.

The file is Markdown with a task list for each question: `[x]` before the answer that holds."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from urllib.parse import quote, unquote

from swept_shelf.core.documents.answers import BOXES, Answers, OwnersAnswer
from swept_shelf.core.documents.errors import CouldNotRead, printable
from swept_shelf.core.documents.order import Order, Settle
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import STORE, Application, LastUse, LeftBehind, Survey
from swept_shelf.core.documents.terms import Share
from swept_shelf.core.documents.times import day
from swept_shelf.core.documents.used import last_used
from swept_shelf.core.reports.visit import page

_NUMBERS = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine")
_LONGEST = 400
_MARK = re.compile(r"<!-- about (\S+) -->")
_BOX = re.compile(r"[-*+] \[(.?)\] (.+)")
_BY = re.compile(r"Answered by:(.*)")
_NOTE = re.compile(r"Note:(.*)")


@dataclass(frozen=True, slots=True)
class Question:
    """`boxes`: the answers that it offers; `remark`: what the owner should know, "" for nothing."""

    line: str
    name: str
    what: str
    used: str
    remark: str
    bytes: int
    boxes: list[str]


def owner_questions(order: Order, survey: Survey) -> list[Question]:
    """What the order asks the owner, in its sequence; answered ones too."""
    return [_question(q, e) for q in order.settle if q.question == "owner" and (e := survey.find(q.line))]


def _question(asked: Settle, entry: Application | LeftBehind) -> Question:
    app = entry if isinstance(entry, Application) else None
    versions = f"; version {app.version}, another one is here too" if app and app.other_versions else ""
    store = isinstance(entry, LeftBehind) and entry.was.registry == STORE
    what = app.summary if app else "a shared store" if store else "left behind by what was removed before"
    used = _used(app.last_use) if app else ""
    size = app.comes_back if app else sum(b.bytes for b in entry.belongings if b.is_path)
    return Question(
        entry.id,
        printable(entry.name),
        printable(what or "nothing says what this is") + versions,
        printable(used),
        " ".join(_remarks(entry)),
        size,
        asked.answers,
    )


def _used(used: LastUse) -> str:
    return last_used(used) + {"fairly": ", fairly sure", "barely": ", barely sure"}.get(used.certainty, "")


def _remarks(entry: Application | LeftBehind) -> Iterator[str]:
    own = [b for b in entry.belongings if b.is_path and b.personal and b.share == Share.SOLE]
    if own:
        files, people = sum(b.files for b in own), sorted({b.person for b in own})
        size = human_bytes(sum(b.bytes for b in own))
        yield f"What {printable(', '.join(people))} made with it ({plural(files, 'file')}, {size}) stays unless you say otherwise."
    if isinstance(entry, Application):
        if any(s.enabled and s.how == "login" for s in entry.starts):
            yield "It starts at every login."
        if not entry.summary and entry.last_use.at is None:
            yield "Do you know it? Did somebody ask for it?"


def questions_html(order: Order, survey: Survey, now: datetime, by: str = "", printed: bool = False) -> str:
    """By itself: no scripts, nothing fetched. `printed`: for paper. `by`: who asks."""
    asked = owner_questions(order, survey)
    count = _NUMBERS[len(asked)] if len(asked) < len(_NUMBERS) else str(len(asked))
    return page(
        "questions.html",
        machine=survey.machine.name,
        count=f"{count} question{'' if len(asked) == 1 else 's'}",
        asked=asked,
        boxes=BOXES,
        order=order,
        now=now,
        visit=order.id.partition(".")[0],
        by=by,
        total=sum(q.bytes for q in asked),
        printed=printed,
    )


def questions_markdown(order: Order, survey: Survey) -> str:
    """The same as a file that comes back: `read_sheet` reads it."""
    asked = owner_questions(order, survey)
    lines = [
        f"# {printable(survey.machine.name)}: {plural(len(asked), 'question')}",
        "",
        "Put an x between the brackets before your answer, one for each question, and send this file back.",
        "Nothing of it goes before that; everything that goes can be put back until the shelf is emptied.",
        "",
        f"Order {order.id}, {day(order.drawn_at)}",
        "",
        "Answered by:",
    ]
    for number, q in enumerate(asked, 1):
        lines += [
            "",
            f"## {number}. {q.name} ({human_bytes(q.bytes)})",
            "",
            f"<!-- about {quote(q.line, safe='')} -->",
        ]
        lines += [f"> {text}" for text in (q.what, q.used, q.remark) if text]
        lines += ["", *(f"- [ ] {BOXES[b]}" for b in q.boxes), "", "Note:"]
    return "\n".join(lines) + "\n"


def read_sheet(data: bytes, path: str) -> Answers:
    """What somebody answered. Raises CouldNotRead naming the line that cannot be understood."""
    words = {text: answer for answer, text in BOXES.items()}
    by, found, here = "", dict[str, OwnersAnswer](), ""
    for number, line in enumerate(data.decode("utf-8", "replace").splitlines(), 1):
        text = line.strip()
        if match := _MARK.fullmatch(text):
            here = unquote(match[1])
            if here in found:
                raise CouldNotRead(f"line {number}: asks about {here} twice", path)
            found[here] = OwnersAnswer(here, "")
        elif not here and (match := _BY.fullmatch(text)):
            by = printable(" ".join(match[1].split()))[:_LONGEST]
        elif here and (match := _NOTE.fullmatch(text)):
            found[here] = OwnersAnswer(here, found[here].answer, " ".join(match[1].split())[:_LONGEST])
        elif here and (match := _BOX.fullmatch(text)):
            if not match[1].strip():
                continue
            if match[2] not in words:
                raise CouldNotRead(
                    f"line {number}: “{printable(match[2])[:60]}” is none of the answers", path
                )
            if found[here].answer:
                raise CouldNotRead(f"line {number}: a second answer about {here}", path)
            found[here] = OwnersAnswer(here, words[match[2]], found[here].note)
    if not found:
        raise CouldNotRead("is no question sheet: nothing is asked in it", path)
    return Answers(by, list(found.values()))
