"""Sign: the newest write in an application's preferences or state, per person."""

from __future__ import annotations

from datetime import datetime

from swept_shelf.core.documents.survey import Belonging, Sign

KIND = "preferences written"
_STATE = "state written"


def signs(belongings: list[Belonging], installed: datetime | None, now: datetime) -> list[Sign]:
    """One sign per person: the newest write in what is that person's and this application's alone."""
    newest: dict[str, Belonging] = {}
    for b in belongings:
        if b.kind not in ("preferences", "state", "support", "log", "cache") or b.share != "sole" or b.person == "everyone":
            continue
        if b.newest_write is not None and not b.personal:
            kept = newest.get(b.person)
            if kept is None or (kept.newest_write or b.newest_write) < b.newest_write:
                newest[b.person] = b
    found = []
    for person, b in sorted(newest.items()):
        assert b.newest_write is not None
        aside = "lies in the future" if b.newest_write > now else ""
        if not aside and installed is not None and b.newest_write < installed and installed < now:
            aside = "older than its installation"
        kind = _STATE if b.kind == "state" else KIND
        found.append(Sign(kind, b.newest_write, None, person, b.path, "good", "a copied home keeps old times", aside))
    return found
