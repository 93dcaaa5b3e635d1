"""Sources of modules that are built again with each kernel (dkms(8)), by the name of their settings."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target


def _parse(path: str, text: str) -> Iterator[Entry]:
    folder, name = base(parent(path)), base(path)
    words = {name.rpartition(".")[0], folder, folder.rpartition("-")[0]}
    for line in said_lines(text):
        key, sign, value = line.text.partition("=")
        if sign and key.strip().startswith(("PACKAGE_NAME", "BUILT_MODULE_NAME")):
            words.add(value.strip().strip("\"'"))
    targets = tuple(t for w in sorted(words) for t in (Target(By.NAME, w), Target(By.LIBRARY, f"{w}.ko")))
    yield whole_file(1, name, text.split("\n", 1)[0], targets, "its module is built with each kernel")


KIND = Kind(
    "module's source",
    "registry",
    ("source of its module", "sources of its modules"),
    (Place("/etc/dkms/*.conf"), Place("/usr/src/*/dkms.conf")),
    _parse,
    whole=True,
)
