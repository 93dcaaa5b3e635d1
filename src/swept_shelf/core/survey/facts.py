"""Facts of an application as lines: why it is here, who needs it, who asked, whether it can be had again."""

from __future__ import annotations

from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.times import day
from swept_shelf.core.survey.places import owner_name


def why_here(survey: Survey, entry: Application) -> list[str]:
    """Why an application is here, who needs it and who asked, as lines."""
    lines = []
    if entry.requested_by == "asked for":
        lines.append("asked for" + (f", {day(entry.installed.first)}" if entry.installed.first else ""))
    elif entry.why_here:
        lines.append(f"pulled in: {' → '.join(entry.why_here)}")
    elif entry.requested_by:
        lines.append(f"{entry.requested_by}, and nothing that is asked for needs it any more")
    else:
        lines.append("no registry knows who asked for it")
    needed = [owner_name(survey, i) for i in entry.needed_by]
    lines.append(f"needed by {', '.join(needed)}" if needed else "nothing else needs it")
    if entry.protected:
        lines.append(f"protected: {entry.protected}")
    if entry.held:
        lines.append("held at its version")
    return lines
