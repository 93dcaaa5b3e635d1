"""The desk's language: every text goes through `spoken` before it is shown.

English is what the code and all documents are written in; another language comes through Qt's translation (words/, a .ts file and
what lrelease makes of it). A text that was put together is known by its template, "{} of {}", and its parts are said for
themselves; names of the machine's own things are left as they are. Figures and days follow the language's locale."""

from __future__ import annotations

import os
import re
from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from functools import lru_cache, partial
from pathlib import Path

from PySide6.QtCore import QCoreApplication, QLibraryInfo, QLocale, QTranslator

WORDS = Path(__file__).parent / "words"
TEXTS, COUNTS = "texts", "counts"  # the contexts of the file
_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
_DAY = re.compile(rf"\b(\d{{1,2}}) ({'|'.join(_MONTHS)})\b(?! \d\d?:)")
_DECIMAL = re.compile(r"(?<![\w.])(\d+)\.(\d+)(?= (?:kB|MB|GB|TB|PB|s)\b)")
_COUNTED = re.compile(r"([\d\u2009\u202f\u00a0 ]*\d) (\S.*)", re.S)
_WORD = re.compile(r"[^\W\d_]{3,}")
_LEAD = re.compile(r"((?:\d+(?:–\d+)? {2,}|[+▾▸·,;(]\s*|(?:and|or) (?=\d))+)(?=\S)")
_SENTENCES = re.compile(r"(?<=[.?!]) (?=[A-Z])")
_SURE = 0.45  # of a text: a template that is so much of it is taken before the text is taken apart
_LONGEST = 400  # characters of a text that was put together: a longer one is not taken apart without end
_MOST_TRIES = 1000  # templates that one text is held against, with all of its parts
_MOST = 50_000  # texts of our own that are remembered
_PLACE = re.compile(r"(?:/|~/|…/)(?:(?! · |: |, line )[^\n])*$")


@dataclass(frozen=True, slots=True)
class _Template:
    """`size`: characters of its own, `words`: how many words those are."""

    source: str
    pattern: re.Pattern[str]
    size: int
    words: int


@dataclass(slots=True)
class _Spoken:
    """One language other than English."""

    locale: QLocale
    sources: frozenset[str]
    counted: dict[str, str]  # what is counted, in English, one or many: the source in the file
    by_word: dict[str, list[_Template]]
    without_word: list[_Template]
    translators: list[QTranslator] = field(default_factory=list)


_spoken: _Spoken | None = None
_names: frozenset[str] = frozenset()
_tries = 0
_ours: set[str] = set()  # what was said already is not said again
not_known: set[str] = set()  # texts of which nothing is known, for whoever asks


def languages() -> list[str]:
    """Those that there are words for, beside English."""
    return sorted(p.stem.rpartition("_")[2] for p in WORDS.glob("*.ts"))


def wished() -> str:
    """The language that the person's session is in, where there are words for it; else English."""
    said_by = os.environ.get("LC_ALL") or os.environ.get("LC_MESSAGES") or os.environ.get("LANG") or ""
    for wish in (*os.environ.get("LANGUAGE", "").split(":"), said_by):
        code = re.split(r"[_.@]", wish)[0]
        if code in languages():
            return code
        if code:
            return "en"
    return "en"


def speak(code: str) -> None:
    """From now on: this language. Raises ValueError where there are no words for it."""
    global _spoken
    _said.cache_clear()
    _ours.clear()
    if _spoken is not None:
        for old in _spoken.translators:
            QCoreApplication.removeTranslator(old)
        _spoken = None
    if code == "en":
        return
    file = WORDS / f"swept-shelf_{code}.ts"
    if not file.exists():
        raise ValueError(f"there are no words of the language {code}")
    made = _read(file, QLocale(code))
    ours, qts = QTranslator(), QTranslator()
    ours.load(str(file.with_suffix(".qm")))
    qts.load(f"qtbase_{code}", QLibraryInfo.path(QLibraryInfo.LibraryPath.TranslationsPath))
    for one in (qts, ours):
        QCoreApplication.installTranslator(one)
        made.translators.append(one)
    _spoken = made


def leave_as_they_are(names: Iterable[str]) -> None:
    """Names of applications and people: they are never words."""
    global _names
    if (kept := frozenset(names)) != _names:
        _names = kept
        _ours.clear()
        _said.cache_clear()


class AsItIs(str):
    """What a file or a folder is called."""


def spoken(text: str) -> str:
    """`text` in the language that is spoken."""
    global _tries
    _tries = _MOST_TRIES
    return text if _spoken is None or isinstance(text, AsItIs) else _said(text)


def _read(file: Path, locale: QLocale) -> _Spoken:
    from xml.etree import ElementTree as etree  # English has no use for it

    tree = etree.parse(file)
    by_context = {
        context.findtext("name"): [m.findtext("source") or "" for m in context.iter("message")]
        for context in tree.iter("context")
    }
    counted: dict[str, str] = {}
    for source in by_context.get(COUNTS, ()):
        one, many = source.removeprefix("%n ").split("|")
        counted |= {one: source, many: source}
    by_word: dict[str, list[_Template]] = defaultdict(list)
    without: list[_Template] = []
    sources = by_context.get(TEXTS, [])
    for source in sources:
        if "{}" not in source:
            continue
        parts = [re.escape(part) for part in source.split("{}")]
        own, pattern = source.replace("{}", ""), re.compile("(.*?)".join(parts), re.S)
        row = _Template(source, pattern, len(own), len(re.findall(r"[^\W\d_]+", own)))
        words = sorted(_WORD.findall(source), key=len)
        (by_word[words[-1]] if words else without).append(row)
    return _Spoken(locale, frozenset(sources), counted, by_word, without)


@lru_cache(maxsize=20_000)
def _said(text: str) -> str:
    assert _spoken is not None
    if text in _names or text in _ours or not any(c.isalpha() for c in text):
        return text
    if _PLACE.match(text):
        return _by_template(text, _SURE, words=2) or text
    found = _known(text)
    if found is None:
        if "…" not in text and any(w.islower() for w in _WORD.findall(text)):
            not_known.add(text)
        found = _figures(text)
    if len(_ours) < _MOST:
        _ours.add(found)
    return found


def _known(text: str) -> str | None:
    """In the language, by the surest way that knows it; None where none does."""
    bare = text.strip()
    if bare != text:
        return None if (inner := _known(bare)) is None else text.replace(bare, inner, 1)
    if text in _names or not text or _tries <= 0:
        return None
    if len(text) > _LONGEST:
        return _apart(text, text.split("\n"), "\n") or _apart(text, text.split(" · "), " · ") or None
    forms = _forms(text)
    for way in (_exact, _counted, partial(_by_template, least=_SURE)):
        for form, back in forms:
            if found := way(form):
                return back(found)
    for mark in ("\n", " · "):
        if found := _apart(text, text.split(mark), mark):
            return found
    if found := _apart(text, _SENTENCES.split(text), " "):
        return found
    if (lead := _LEAD.match(text)) and (rest := _known(text[lead.end() :])) is not None:
        return re.sub(r"and|or", lambda m: _exact(m[0]) or m[0], lead[0]) + rest
    for mark in ("; ", ": "):
        if mark in text and _surely(text.split(mark)[0]):
            return _apart(text, text.split(mark), mark)
    for form, back in forms:
        if found := _by_template(form):
            return back(found)
    for mark in ("; ", ": ", " → ", ", "):
        if found := _apart(text, text.split(mark), mark):
            return found
    figures = _figures(text)
    return figures if figures != text else None


def _forms(text: str) -> list[tuple[str, Callable[[str], str]]]:
    """As a text may stand in the file, and how what is said of that is made like the text again."""
    small, short = text[:1].lower() + text[1:], text.removesuffix(".")
    rows: list[tuple[str, Callable[[str], str]]] = [(text, str), (small, _capital), (short, _stopped)]
    return [*rows, (small.removesuffix("."), lambda found: _capital(_stopped(found)))]


def _surely(text: str) -> str:
    return _exact(text) or _counted(text) or _by_template(text, _SURE)


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]


def _stopped(text: str) -> str:
    return text if text.endswith((".", "…", "?")) else f"{text}."


def _exact(text: str) -> str:
    assert _spoken is not None
    return QCoreApplication.translate(TEXTS, text) if text in _spoken.sources else ""


def _counted(text: str) -> str:
    assert _spoken is not None
    match = _COUNTED.fullmatch(text)
    source = _spoken.counted.get(match[2]) if match else None
    if match is None or source is None:
        return ""
    count = int(re.sub(r"\D", "", match[1]) or 0)
    return QCoreApplication.translate(COUNTS, source, "", count).replace(str(count), match[1], 1)


def _apart(text: str, pieces: list[str], mark: str) -> str:
    """The pieces for themselves, where one of them at least is known."""
    if len(pieces) < 2:
        return ""
    known = [_known(p) for p in pieces]
    if not any(known):
        return ""
    return mark.join(_figures(p) if k is None else k for p, k in zip(pieces, known, strict=True))


def _by_template(text: str, least: float = 0, words: int = 0) -> str:
    """`least`: the part of the text that the template's own words must be, `words`: how many those must be."""
    assert _spoken is not None
    global _tries
    rows = [row for word in {*_WORD.findall(text)} for row in _spoken.by_word.get(word, ())]
    stopped = text.endswith(".")  # that full stop is none of what is put in
    for row in (*sorted(rows, key=lambda r: -r.size), *_spoken.without_word):
        if row.size < least * len(text) or row.words < words or (stopped and row.source.endswith("{}")):
            continue
        _tries -= 1
        if _tries > 0 and (match := row.pattern.fullmatch(text)):
            return QCoreApplication.translate(TEXTS, row.source).format(*(_said(g) for g in match.groups()))
    return ""


def _figures(text: str) -> str:
    """Days and sizes as the language writes them."""
    assert _spoken is not None
    locale = _spoken.locale
    text = _DECIMAL.sub(rf"\1{locale.decimalPoint()}\2", text)
    return _DAY.sub(
        lambda m: f"{m[1]}. {locale.monthName(_MONTHS.index(m[2]) + 1, QLocale.FormatType.ShortFormat)}", text
    )
