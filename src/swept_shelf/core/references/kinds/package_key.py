"""Keys of a maker's source, by the name of their file."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target


def _parse(path: str, _text: str) -> Iterator[Entry]:
    stem = base(path).rpartition(".")[0]
    words = {stem, *stem.split("-"), stem.removesuffix("-archive-keyring"), stem.removesuffix("-keyring")}
    targets = tuple(Target(By.NAME, w) for w in sorted(words) if len(w) > 3)
    yield Entry(1, stem, f"key {base(path)}", targets, "a key of its packages' source", ask=True)


KIND = Kind(
    "key of a source",
    "sources",
    ("key of a source", "keys of sources"),
    (
        Place("/etc/apt/keyrings/*.*"),
        Place("/etc/apt/trusted.gpg.d/*.*"),
        Place("/usr/share/keyrings/*.*"),
        Place("/usr/local/share/keyrings/*.*"),
    ),
    _parse,
    whole=True,
    action="ask",
    head=4096,
)
