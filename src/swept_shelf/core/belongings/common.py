"""The maintained list of what is common (common.toml), and how names are compared."""

from __future__ import annotations

import functools
import re
import tomllib
from importlib import resources

MINIMUM_NAME = 4


@functools.cache
def _lists() -> dict[str, frozenset[str]]:
    text = resources.files(__package__).joinpath("common.toml").read_text("utf-8")
    return {k: frozenset(v) for k, v in tomllib.loads(text).items()}


def is_common(name: str, system: bool) -> bool:
    return name in _lists()["system" if system else "folders"]


def normal(name: str) -> str:
    """Letters and digits in lower case; a leading dot, an ending and separators do not tell names apart."""
    return re.sub(r"[^a-z0-9]", "", name.lower().removesuffix(".desktop"))


_ENDINGS = re.compile(r"(\.(conf|cfg|ini|rc|json|xml|toml|ya?ml|db|sqlite3?|log|lock|dat|dir|d|state|history|png|svg|xpm|svgz|ttf|otf|menu|directory|metainfo\.xml|appdata\.xml)|rc|_history)$", re.I)


def stem(name: str) -> str:
    """A file's or folder's name without the endings that settings, states and histories carry."""
    return _ENDINGS.sub("", name) or name


def is_ordinary(name: str) -> bool:
    """A word that anybody may call a folder by."""
    return normal(name) in _lists()["words"]


def is_distinctive(name: str) -> bool:
    """False for names too short or too ordinary to prove anything."""
    plain = normal(name)
    return len(plain) >= MINIMUM_NAME and plain not in _lists()["words"]
