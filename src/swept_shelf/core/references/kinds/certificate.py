"""Certificates and keys that are called like it: somebody else may use them, so they are asked about."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target


def _parse(path: str, _text: str) -> Iterator[Entry]:
    stem = base(path).rpartition(".")[0] or base(path)
    words = {stem, stem.split("-")[0], stem.split("_")[0], stem.split(".")[0]}
    yield whole_file(
        1,
        stem,
        base(path),
        tuple(Target(By.NAME, w) for w in sorted(words)),
        "a certificate or key called like it",
    )


KIND = Kind(
    "certificate",
    "security",
    ("certificate or key", "certificates or keys"),
    (
        Place("/usr/local/share/ca-certificates/**/*.crt"),
        Place("/etc/ssl/private/*.key"),
        Place("/etc/ssl/certs/*.pem"),
        Place("/etc/pki/ca-trust/source/anchors/*"),
        Place("~/.pki/*.pem"),
    ),
    _parse,
    whole=True,
    action="ask",
    head=4096,
)
