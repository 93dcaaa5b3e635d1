"""The maintained list of what is common (common.toml), how ordinary a word is (ordinary.txt), and how names are compared."""

from __future__ import annotations

import functools
import re
import tomllib
from collections.abc import Container
from importlib import resources

from swept_shelf.core.documents.version_control import VERSION_CONTROL

MINIMUM_NAME = 4


@functools.cache
def _lists() -> dict[str, frozenset[str]]:
    text = resources.files(__package__).joinpath("common.toml").read_text("utf-8")
    return {k: frozenset(v) for k, v in tomllib.loads(text).items()}


def is_common(name: str, system: bool) -> bool:
    """Whether the list has it; the list's names that end in a star stand for every name that begins so."""
    listed = _lists()["system" if system else "folders"]
    return (
        name in listed
        or name in VERSION_CONTROL
        or any(name.startswith(entry[:-1]) for entry in listed if entry.endswith("*"))
    )


def normal(name: str) -> str:
    """Letters and digits in lower case; a leading dot, an ending and separators do not tell names apart, a plus is the word."""
    return re.sub(r"[^a-z0-9]", "", name.lower().removesuffix(".desktop").replace("+", "plus"))


_ENDINGS = re.compile(
    r"(\.(conf|cfg|ini|rc|json|xml|toml|ya?ml|db|sqlite3?|log|lock|dat|dir|d|state|history|png|svg|xpm|svgz|ttf|otf"
    r"|menu|directory|metainfo\.xml|appdata\.xml|gschema\.xml|kcache)"
    r"|rc|[-_](history|cache|config|settings|prefs|state|scores?|hiscores?|highscores?)|\.(scores?|hiscores?|hs)|[-_]\d+"
    r"|[-_ ]v?\d+([._]\d+)+|[-_](py|python|qt|gtk|kf)\d+)$",
    re.I,
)


_VERSION = re.compile(r"([-_ ]v?\d+(\.\d+)+|[-_](py|python|qt|gtk|kf)\d+)$")


def without_version(name: str) -> str:
    """A name without the version behind it, its own (Thing-3.2) or that of what it is made with (thing-py3); a plain number may be
    another program's."""
    return _VERSION.sub("", name)


def stem(name: str) -> str:
    """A file's or folder's name without the endings that settings, states and histories carry, however many."""
    while (shorter := _ENDINGS.sub("", name)) and shorter != name:
        name = shorter
    return name


def spellings(name: str, gone: Container[str] = ()) -> tuple[str, ...]:
    """Normalised names that a place called `name` may mean, the nearest first: as it is, without endings, the last part of a
    reverse domain name (org.example.Thing), without the number of a later generation (thing2). What is called like something
    that is `gone` means that and nothing nearer."""
    plain = stem(name)
    last = plain.rsplit(".", 1)[1] if plain.count(".") >= 2 and not plain.startswith(".") else ""
    found = [normal(name), normal(plain), normal(last)]
    found += [shorter for n in found if len(shorter := n.rstrip("0123456789")) >= MINIMUM_NAME]
    nearest = [n for n in dict.fromkeys(found) if n]
    former = next((i for i, n in enumerate(nearest) if n in gone), len(nearest))
    return tuple(nearest[: former + 1])


@functools.cache
def _measured() -> dict[str, int]:
    """Word to the number of projects that write it in their descriptions (ordinary.txt, made by tools/ordinary_words.py)."""
    lines = resources.files(__package__).joinpath("ordinary.txt").read_text("utf-8").splitlines()
    return {word: int(count) for word, count in (line.split() for line in lines if not line.startswith("#"))}


def projects_using(name: str) -> int:
    """How many of some 34,000 projects write it as an ordinary word; 0 below the fewest that were kept."""
    return _measured().get(normal(name), 0)


def is_ordinary(name: str) -> bool:
    """A word that anybody may call a folder by: many projects write it, or people do at home."""
    return projects_using(name) > 0 or normal(name) in _lists()["words"]


def is_distinctive(name: str) -> bool:
    """False for names too short or too ordinary to prove anything."""
    return len(normal(name)) >= MINIMUM_NAME and not is_ordinary(name)
