"""Choices of update-alternatives(1) that lead to it: the registry's own tool takes them."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one
from swept_shelf.core.registries.debian.rows import read_alternative


def _parse(path: str, text: str) -> Iterator[Entry]:
    """Raises ValueError where it is no such file."""
    for choice, about in read_alternative(text).choices.items():
        key = f"{base(path)} {choice}"
        yield Entry(about.line, key, choice, one(By.PATH, choice), f"a choice for {base(path)}")


KIND = Kind(
    "alternative",
    "file_types",
    ("alternative", "alternatives"),
    (Place("/var/lib/dpkg/alternatives/*"),),
    _parse,
    table="alternatives",
)
