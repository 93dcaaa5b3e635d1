"""What a package needs that went with another line: it comes back along, or nothing could be configured."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import Any

from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.read import query

_NAME = re.compile(r"^\s*([^\s(:\[]+)")
_FIELD = re.compile(r"^(Package|Provides|Depends|Pre-Depends):((?:.*)(?:\n[ \t].*)*)", re.M)


def needed_from(
    machine: Machine, originals: list[dict[str, Any]], slots: Iterable[Slot]
) -> list[tuple[Slot, list[dict[str, Any]]]]:
    """Per other slot, the originals that must come back with these so that each finds what it depends on."""
    waiting = {
        o["package"]: (slot, o)
        for slot in slots
        if slot.sealed and not slot.emptying and slot.manifest["do"] == "remove_packages"
        for o in slot.manifest["originals"]
    }
    there = {n for p in query(machine) if p.installed for n in (p.plain_name, *_names(p.provides))}
    meets: dict[str, list[str]] = {}
    for name, (_, o) in waiting.items():
        fields = _fields(o)
        for called in (fields.get("Package", name), *_names(fields.get("Provides", ""))):
            meets.setdefault(called, []).append(name)
    found: dict[str, list[dict[str, Any]]] = {}
    stack, seen = list(originals), {o["package"] for o in originals}
    for o in originals:
        fields = _fields(o)
        there |= {fields.get("Package", o["package"]), *_names(fields.get("Provides", ""))}
    chosen: dict[str, Slot] = {}
    while stack:
        fields = _fields(stack.pop())
        for group in (fields.get("Pre-Depends", "") + "," + fields.get("Depends", "")).split(","):
            words = [m[1] for word in group.split("|") if (m := _NAME.match(word))]
            if not words or any(w in there for w in words):
                continue
            name = next((n for w in words for n in meets.get(w, ()) if n not in seen), None)
            if name is not None:
                slot, original = waiting[name]
                seen.add(name)
                more = _fields(original)
                there |= {more.get("Package", name), *_names(more.get("Provides", ""))}
                chosen[f"{slot.shelf}/{slot.number}"] = slot
                found.setdefault(f"{slot.shelf}/{slot.number}", []).append(original)
                stack.append(original)
    return [(chosen[key], some) for key, some in found.items()]


def _fields(original: dict[str, Any]) -> dict[str, str]:
    return {m[1]: m[2].strip() for m in _FIELD.finditer(str(original.get("status", {}).get("stanza", "")))}


def _names(provided: str) -> list[str]:
    return [m[1] for word in provided.split(",") if (m := _NAME.match(word))]
