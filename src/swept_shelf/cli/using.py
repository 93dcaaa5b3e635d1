"""use: when an application was last used, and every sign that says so."""

from __future__ import annotations

import click

from swept_shelf.cli.common import find_line, format_option, out, out_json, table, with_workshop
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.survey import Application, Sign
from swept_shelf.core.documents.times import day_and_clock
from swept_shelf.core.documents.used import months_of_use, used_in_words
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.workshop import Workshop


@click.command()
@click.argument("app")
@format_option
@with_workshop
def use(shop: Workshop, app: str, form: str) -> None:
    """When an application was last used, by whom, how sure that is, and which signs say so."""
    _, surveyed = shop.latest()
    entry = find_line(surveyed.survey, app)
    if not isinstance(entry, Application):
        raise Refused(f"{entry.id} is not installed any more")
    used = entry.last_use
    if form == "json":
        out_json({"id": entry.id, "evidence": to_plain(surveyed.survey.evidence), "last_use": to_plain(used)})
        return
    out(f"{entry.name} {entry.version} · {entry.id}")
    for line in used_in_words(used):
        out(line)
    for person in used.people if len(used.people) > 1 else ():
        out(f"  {person.person}: {day_and_clock(person.at)}")
    if strip := months_of_use(used, surveyed.survey.surveyed_at):
        out(f"days with a sign of use, month by month: {strip}")
    counted, aside = [s for s in used.signs if not s.set_aside], [s for s in used.signs if s.set_aside]
    if counted:
        table(
            ["Sign", "When", "Person", "Days", "Trust", "Read from", "What could make it wrong"],
            ([*_row(s), s.doubt] for s in counted),
            right=(3,),
        )
    if aside:
        table(
            ["Set aside", "When", "Person", "Days", "Trust", "Read from", "Why it does not count"],
            ([*_row(s), s.set_aside] for s in aside),
            right=(3,),
        )
    missing = [k for k in used.looked_at if k not in {s.kind for s in used.signs}]
    if missing:
        out(f"nothing of it in: {', '.join(missing)}")
    for why in surveyed.survey.evidence.little:
        out(f"little evidence on this computer: {why}")


def _row(s: Sign) -> list[str]:
    when = day_and_clock(s.at)
    if s.until is not None and s.until != s.at:
        when += f" – {day_and_clock(s.until)}"
    where = s.source + (f", line {s.line}" if s.line else "") + (f": {s.note}" if s.note else "")
    return [s.kind, when, s.person, str(sum(s.months) or ""), s.trust, where]
