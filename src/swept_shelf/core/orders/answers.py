"""The owner's answers become decisions: who gave them, and when, stands with each."""

from __future__ import annotations

from dataclasses import replace
from datetime import datetime

from swept_shelf.core.documents.answers import Answers
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.orders.draw import Choice


def with_answers(choice: Choice, sheet: Answers, now: datetime) -> Choice:
    """`choice` with what stands on the sheet. Raises Refused for an answer about what nobody asked."""
    lines = [a.line for a in sheet.answers]
    for line in lines:
        if choice.verdicts.get(line) != Verdict.ASK_OWNER:
            raise Refused(f"answers about {line}, which the owner was not asked")
    given = {f"owner:{a.line}": a.answer for a in sheet.answers if a.answer}
    notes = {a.line: a.note for a in sheet.answers if a.note}
    return replace(
        choice,
        answers={**choice.answers, **given},
        answered_at={**choice.answered_at, **dict.fromkeys(given, now)},
        answered_by={**choice.answered_by, **dict.fromkeys(given, sheet.by)},
        notes={**choice.notes, **notes},
    )
