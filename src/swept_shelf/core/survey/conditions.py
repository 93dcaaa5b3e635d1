"""The filter line: plain words, and conditions written `name=value`. One grammar for desk and command line.

    used=90d usedby=hanne certainty=sure
    larger=200MB smaller=2GB unused=1y installed=2026-03-01 publisher=… registry=debian person=hanne volume=/home
    type=terminal asked=no starts=yes running=yes needed=no protected=no

Times are a day (2026-03-01), a month, a year, or a span back from now (90d, 6m, 2y). All must hold."""

from __future__ import annotations

import re
import shlex
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes, parse_bytes
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.terms import TYPES
from swept_shelf.core.documents.times import day

Entry = Application | LeftBehind
Test = Callable[[Entry, Survey], bool]
_CERTAINTIES = ("sure", "fairly", "barely", "none")
_SPANS = {"d": 1.0, "w": 7.0, "m": 30.44, "y": 365.25}


# Made once an entry: a word is looked for at every letter that is typed.
_TEXTS: dict[int, tuple[Entry, str]] = {}
_MOST_TEXTS = 4_000


@dataclass(frozen=True, slots=True)
class Condition:
    """One condition: `word` as it was written, `says` as people say it."""

    word: str
    says: str
    test: Test


@dataclass(frozen=True, slots=True)
class Conditions:
    """What a filter line asks for; `text` as it was written."""

    text: str
    parts: tuple[Condition, ...]

    def hold(self, entry: Entry, survey: Survey) -> bool:
        return all(part.test(entry, survey) for part in self.parts)

    def without(self, word: str) -> str:
        """The line with that condition left out."""
        return " ".join(shlex.quote(p.word) for p in self.parts if p.word != word)

    def matching(self, survey: Survey) -> list[Entry]:
        entries: list[Entry] = [*survey.applications, *survey.left_behind]
        return [e for e in entries if self.hold(e, survey)]


def read_conditions(text: str, now: datetime) -> Conditions:
    """A filter line. Raises Refused with the word that is not understood."""
    try:
        words = shlex.split(text)
    except ValueError:
        words = text.split()
    return Conditions(text, tuple(Condition(word, *_read(word, now)) for word in words))


def _read(word: str, now: datetime) -> tuple[str, Test]:
    """(what it says, its test)."""
    name, given, value = word.partition("=")
    if not given:
        wanted = word.lower()
        return f"“{word}”", lambda e, s: wanted in text_of(e)
    if name not in NAMES:
        raise Refused(f"{name}= is no condition; there are {', '.join(n + '=' for n in NAMES)}")
    try:
        test = NAMES[name](value, now)
        return _SAYS[name](value, now), test
    except ValueError as error:
        raise Refused(f"{word}: {error}") from None


def text_of(entry: Entry) -> str:
    """Everything of an entry that plain words are looked for in, in lower case."""
    known = _TEXTS.get(id(entry))
    if known is None or known[0] is not entry:
        if len(_TEXTS) > _MOST_TEXTS:
            _TEXTS.clear()
        known = _TEXTS[id(entry)] = entry, _text_of(entry)
    return known[1]


def _text_of(entry: Entry) -> str:
    more = ""
    if isinstance(entry, Application):
        more = (
            f"{entry.summary} {entry.publisher} {' '.join(entry.packages[:1])} {' '.join(entry.executables)}"
        )
    return (
        f"{entry.name} {entry.id} {more} {' '.join(b.path for b in entry.belongings)} "
        f"{' '.join(b.person for b in entry.belongings)}"
    ).lower()


def since(text: str, now: datetime) -> datetime:
    """A day, month or year as its first moment (local time), or a span back from `now`. Raises ValueError."""
    if match := re.fullmatch(r"(\d{1,5})\s*([dwmy])", text.strip().lower()):
        try:
            return now - timedelta(days=int(match[1]) * _SPANS[match[2]])
        except OverflowError:
            return datetime(1, 1, 2, tzinfo=UTC)
    if match := re.fullmatch(r"(\d{4})(?:-(\d{1,2}))?(?:-(\d{1,2}))?", text.strip()):
        try:
            return datetime(int(match[1]), int(match[2] or 1), int(match[3] or 1)).astimezone(UTC)
        except (ValueError, OverflowError):
            pass
    raise ValueError(f"{text} is neither a day like 2026-03-01 nor a span like 90d, 6m, 2y")


def _yes(text: str) -> bool:
    if text.lower() not in ("yes", "no"):
        raise ValueError("is answered with yes or no")
    return text.lower() == "yes"


def _larger(value: str, now: datetime) -> Test:
    count = parse_bytes(value)
    return lambda e, s: e.bytes.total > count


def _smaller(value: str, now: datetime) -> Test:
    count = parse_bytes(value)
    return lambda e, s: e.bytes.total < count


def _unused(value: str, now: datetime) -> Test:
    """Last used before then. No sign of use counts, where it did not come since: nothing says that it was used."""
    moment = since(value, now)

    def unused(app: Application) -> bool:
        at = app.last_use.no_later_than or app.installed.first
        return not app.running and (at is None or at < moment)

    return lambda e, s: isinstance(e, LeftBehind) or unused(e)


def _used(value: str, now: datetime) -> Test:
    """Last used since then."""
    moment = since(value, now)
    return lambda e, s: isinstance(e, Application) and e.last_use.at is not None and e.last_use.at >= moment


def _used_by(value: str, now: datetime) -> Test:
    return lambda e, s: isinstance(e, Application) and any(p.person == value for p in e.last_use.people)


def _sure(value: str, now: datetime) -> Test:
    if value not in _CERTAINTIES:
        raise ValueError(f"is {', '.join(_CERTAINTIES[:-1])} or {_CERTAINTIES[-1]}")
    return lambda e, s: isinstance(e, Application) and (e.last_use.certainty or "none") == value


def _installed(value: str, now: datetime) -> Test:
    moment = since(value, now)
    return lambda e, s: (
        isinstance(e, Application) and e.installed.known is not None and e.installed.known >= moment
    )


def _publisher(value: str, now: datetime) -> Test:
    wanted = value.lower()
    return lambda e, s: isinstance(e, Application) and wanted in e.publisher.lower()


def _registry(value: str, now: datetime) -> Test:
    wanted = value.lower()
    return lambda e, s: (e.registry if isinstance(e, Application) else "left") == wanted


def _person(value: str, now: datetime) -> Test:
    return lambda e, s: any(b.person == value for b in e.belongings)


def _volume(value: str, now: datetime) -> Test:
    return lambda e, s: any(
        b.bytes and b.volume in {v.id for v in s.volumes if value in (v.mount, v.id, v.device)}
        for b in e.belongings
    )


def _type(value: str, now: datetime) -> Test:
    if value not in TYPES:
        raise ValueError(f"is {', '.join(TYPES[:-1])} or {TYPES[-1]}")
    return lambda e, s: isinstance(e, Application) and e.type == value


def _asked(value: str, now: datetime) -> Test:
    wanted = "asked for" if _yes(value) else "pulled in"
    return lambda e, s: isinstance(e, Application) and e.requested_by.startswith(wanted)


def _starts(value: str, now: datetime) -> Test:
    wanted = _yes(value)
    return lambda e, s: isinstance(e, Application) and any(x.enabled for x in e.starts) == wanted


def _running(value: str, now: datetime) -> Test:
    wanted = _yes(value)
    return lambda e, s: isinstance(e, Application) and bool(e.running) == wanted


def _needed(value: str, now: datetime) -> Test:
    wanted = _yes(value)
    return lambda e, s: isinstance(e, Application) and bool(e.needed_by) == wanted


def _protected(value: str, now: datetime) -> Test:
    wanted = _yes(value)
    return lambda e, s: isinstance(e, Application) and (e.protected is not None) == wanted


NAMES: dict[str, Callable[[str, datetime], Test]] = {
    "larger": _larger,
    "smaller": _smaller,
    "unused": _unused,
    "installed": _installed,
    "publisher": _publisher,
    "registry": _registry,
    "used": _used,
    "usedby": _used_by,
    "certainty": _sure,
    "person": _person,
    "volume": _volume,
    "type": _type,
    "asked": _asked,
    "starts": _starts,
    "running": _running,
    "needed": _needed,
    "protected": _protected,
}


def _when(value: str, now: datetime) -> str:
    return day(since(value, now))


_SAYS: dict[str, Callable[[str, datetime], str]] = {
    "larger": lambda v, n: f"holds over {human_bytes(parse_bytes(v))}",
    "smaller": lambda v, n: f"holds under {human_bytes(parse_bytes(v))}",
    "used": lambda v, n: f"used since {_when(v, n)}",
    "usedby": lambda v, n: f"used by {v}",
    "certainty": lambda v, n: {"none": "no sign of use"}.get(v, f"last use {v} known"),
    "unused": lambda v, n: f"not used since {_when(v, n)}",
    "installed": lambda v, n: f"installed since {_when(v, n)}",
    "publisher": lambda v, n: f"published by {v}",
    "registry": lambda v, n: f"registered with {v}",
    "person": lambda v, n: f"something of {v}",
    "volume": lambda v, n: f"on {v}",
    "type": lambda v, n: f"{v} program",
    "asked": lambda v, n: "asked for" if _yes(v) else "pulled in",
    "starts": lambda v, n: "starts by itself" if _yes(v) else "does not start by itself",
    "running": lambda v, n: "running" if _yes(v) else "not running",
    "needed": lambda v, n: "needed by others" if _yes(v) else "needed by nothing else",
    "protected": lambda v, n: "protected" if _yes(v) else "not protected",
}


def sort_key(name: str) -> Callable[[Entry], tuple[object, ...]]:
    """The key to sort entries by one of SORTS; ties by name. Largest and newest stand last."""
    early = datetime(1, 1, 1, tzinfo=UTC)

    def key(e: Entry) -> tuple[object, ...]:
        app = e if isinstance(e, Application) else None
        value: object = {
            "size": e.bytes.total,
            "comes-back": app.comes_back if app else e.bytes.total,
            "last-use": (app.last_use.at if app else None) or early,
            "installed": (app.installed.known if app else None) or early,
            "publisher": app.publisher.lower() if app else "",
            "registry": app.registry if app else "left",
            "version": app.version if app else "",
            "name": "",
        }[name]
        return value, e.name.lower(), e.id

    return key


SORTS = ("size", "comes-back", "last-use", "installed", "name", "publisher", "registry", "version")
