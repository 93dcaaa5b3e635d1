"""Facts of an application in words: what registered it, why it is here, who asked, whether it can be had again."""

from __future__ import annotations

from collections.abc import Iterable

from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Application, NotRead, Survey
from swept_shelf.core.documents.times import day
from swept_shelf.core.survey.places import owner_name


def registered_as(entry: Application) -> str:
    """What registered it, as people say it."""
    if entry.registry == "debian":
        return "system package" + entry.origin.source.removeprefix("Debian packages")
    return "no registry" if entry.registry == "files" else entry.origin.source


def had_again(entry: Application) -> str:
    """Whether it can be installed again from what is configured on this computer; "" where nobody knows."""
    if entry.registry == "files" or entry.registry == "appimage":
        return "comes from no source that is configured here"
    if entry.origin.reinstallable is None:
        return ""
    return "can be installed again" if entry.origin.reinstallable else "no configured source offers it"


def why_here(survey: Survey, entry: Application) -> list[str]:
    """Why an application is here, who needs it, who asked, and whether it can be had again, as lines."""
    lines = []
    if entry.requested_by.startswith("asked for"):
        lines.append(
            entry.requested_by + (f", {day(entry.installed.first)}" if entry.installed.first else "")
        )
    elif entry.why_here:
        lines.append(f"pulled in: {' → '.join(entry.why_here)}")
    elif entry.requested_by:
        lines.append(f"{entry.requested_by}, and nothing that is asked for needs it any more")
    else:
        lines.append("no registry knows who asked for it")
    needed = [owner_name(survey, i) for i in entry.needed_by]
    lines.append(f"needed by {', '.join(needed)}" if needed else "nothing else needs it")
    lines += [
        f"also here as {owner_name(survey, i)} ({i})" for i in (*entry.also_here_as, *entry.other_versions)
    ]
    if entry.protected:
        lines.append(f"protected: {entry.protected}")
    if entry.held:
        lines.append("held at its version")
    if again := had_again(entry):
        lines.append(again)
    if entry.named:
        places = sorted(entry.named_only, key=lambda b: -b.bytes)[:3]
        few = "; ".join(f"{b.path}: {b.reason}" for b in places)
        lines.append(f"named in {human_bytes(entry.named)} more, which count in no sum: {few}")
    if entry.changed_files:
        few = ", ".join(entry.changed_files[:3])
        lines.append(f"{plural(len(entry.changed_files), 'file')} changed since installed: {few}")
    return lines


def about(survey: Survey, entry: Application) -> list[str]:
    """Everything known of what it is, as lines: for the hand that asks."""
    who = " · ".join(x for x in (entry.version, registered_as(entry), entry.publisher, entry.homepage) if x)
    return [x for x in (entry.summary, who) if x] + why_here(survey, entry)


def grouped(places: Iterable[NotRead]) -> list[tuple[str, str]]:
    """(place, reason), where many places of one folder have one reason as one: the folder, and how many."""
    by_top: dict[tuple[str, str], list[str]] = {}
    for place in places:
        by_top.setdefault(("/".join(place.path.split("/")[:3]), place.reason), []).append(place.path)
    found = []
    for (top, reason), paths in by_top.items():
        if len(paths) > 3:
            found.append((top, f"{reason} ({len(paths)} places below it)"))
        else:
            found += [(path, reason) for path in paths]
    return found
