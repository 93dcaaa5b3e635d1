"""Why a volume is full, in one sentence whose parts lead to what they speak of."""

from __future__ import annotations

from dataclasses import dataclass

from swept_shelf.core.documents.comparison import Comparison, What
from swept_shelf.core.documents.sizes import human_bytes, signed_bytes
from swept_shelf.core.documents.survey import Account, Application, Survey, Volume
from swept_shelf.core.documents.times import short_day

UNMISSED = "unused=1y needed=no protected=no"
_NAMES = {
    "application": "applications",
    "shared store": "shared stores",
    "left behind": "left behind",
    "system": "the system",
    "person": "people’s own files",
    "nobody": "nobody’s",
    "common": "desktops’ and toolkits’",
}
_LEADS = {"application": "where:", "left behind": "where:registry=left", "shared store": "stores"}
_SMALL = 0.005  # part of what is used: less is not spoken of
_GREW = 2  # of what grew so many are named


@dataclass(frozen=True, slots=True)
class Part:
    """A piece of the sentence; `leads`: "where:CONDITIONS", "line:ID", "stores", or "" for plain text. `loud`: what to look at."""

    text: str
    leads: str = ""
    loud: bool = False
    bold: bool = False


def why_full(survey: Survey, unmissed: list[Application], since: Comparison | None = None) -> list[Part]:
    """About the fullest volume: what holds it, what of it nobody would miss (`unmissed`: what UNMISSED leaves), and what has
    grown since an earlier survey. Empty where no volume says how large it is."""
    volume = max((v for v in survey.volumes if v.capacity > 0), key=_fullness, default=None)
    account = next((a for a in survey.accounts if volume and a.volume == volume.id), None)
    if volume is None or account is None:
        return []
    parts = [Part(f"{volume.mount} is {_fullness(volume):.0%} full.".replace("%", " %"), bold=True)]
    parts += _held(account)
    back = sum(c.total for a in unmissed for c in a.comes_back_by if c.volume == volume.id)
    if back:
        parts += [
            Part(" "),
            Part(human_bytes(back), f"where:{UNMISSED}", loud=True, bold=True),
            Part(" of it shows no use within a year, and nothing else needs it."),
        ]
    return parts + (_grown(volume, survey, since) if since else [])


def _fullness(volume: Volume) -> float:
    return volume.used / max(1, volume.used + volume.free)


def _held(account: Account) -> list[Part]:
    """What holds it: what can be taken in hand first, then the rest."""
    total = sum(p.bytes for p in account.parts if p.what in _NAMES)
    sizes = {p.what: p.bytes for p in account.parts if p.bytes > _SMALL * max(1, total)}
    named = [w for w in _NAMES if w in sizes]
    found: list[Part] = []
    for what in named:
        leads = _LEADS.get(what, "")
        text = f"{_NAMES[what]} {human_bytes(sizes[what])}"
        found += [Part(", " if found else " "), Part(text, leads, bold=bool(leads))]
    return [*found, Part(".")] if found else []


def _grown(volume: Volume, survey: Survey, since: Comparison) -> list[Part]:
    """What has changed since then: of which application or store, by how much."""
    change = next((v for v in since.volumes if v.mount == volume.mount), None)
    if change is None or change.used_before is None or change.used_after is None:
        return []
    more = change.used_after - change.used_before
    when = short_day(since.before.surveyed_at, survey.surveyed_at)
    if abs(more) < _SMALL * volume.used:
        return [Part(f" Since {when} it is as full as it was.")]
    grown = sorted(
        ((c.volumes.get(volume.mount, 0), c) for c in since.changes if more > 0 and c.what != What.WENT),
        key=lambda g: (-g[0], g[1].id),
    )
    grown = [g for g in grown if g[0] > 0]
    said = f" Since {when} it {'grew by' if more > 0 else 'has'} {human_bytes(abs(more))}{'' if more > 0 else ' more free'}"
    if not grown:
        return [Part(f"{said}.")]
    parts = [Part(f"{said}, most of it " if grown[0][0] * 2 > more else f"{said}, among it ")]
    for number, (there, c) in enumerate(grown[:_GREW]):
        parts += [Part(" and ")] if number else []
        parts.append(Part(f"{c.name} {signed_bytes(there)}", f"line:{c.id}", bold=True))
    return [*parts, Part(".")]


def in_words(parts: list[Part]) -> str:
    """The sentence as plain text."""
    return "".join(p.text for p in parts)
