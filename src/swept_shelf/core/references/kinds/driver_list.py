"""Lists in which drivers stand with the library that loads: OpenCL, Vulkan and EGL vendors, ODBC, tokens."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.references.building import all_of_it, group_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one

_DETAIL = "a driver of its is loaded"


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    if name.endswith(".ini"):
        for group in groups_of(text, comments="#;"):
            for item in group.items:
                if item.key.lower() in ("driver", "driver64", "setup", "setup64"):
                    yield group_entry(group, _library(item.value), _DETAIL)
        return
    if name.endswith(".json"):
        try:
            said = json.loads(text)
        except ValueError:
            return
        parts = said.values() if isinstance(said, dict) else ()
        found: list[object] = [p.get("library_path") for p in parts if isinstance(p, dict)]
    elif name.endswith(".module"):
        found = re.findall(r"(?m)^\s*module:\s*(\S+)", text)
    else:
        found = [*text.split()[:1]]
    targets = tuple(t for x in found if isinstance(x, str) for t in _library(x))
    yield all_of_it(text, name, ", ".join(str(x) for x in found)[:200], targets, _DETAIL)


def _library(value: str) -> tuple[Target, ...]:
    return (*one(By.LIBRARY, value), *one(By.PATH, value if value.startswith("/") else ""))


KIND = Kind(
    "driver",
    "services",
    ("driver of its in a list", "drivers of its in lists"),
    (
        Place("/etc/OpenCL/vendors/*.icd"),
        *(
            Place(f"/etc/{x}.d/*.json")
            for x in ("vulkan/icd", "vulkan/implicit_layer", "vulkan/explicit_layer", "glvnd/egl_vendor")
        ),
        Place("~data/vulkan/*.d/*.json"),
        Place("~config/pkcs11/modules/*.module"),
        Place("/etc/pkcs11/modules/*.module"),
        Place("/usr/share/p11-kit/modules/*.module"),
        Place("/etc/odbcinst.ini"),
        Place("~/.odbcinst.ini"),
    ),
    _parse,
    alone="lines",
)
