"""What stands in a slot beside its item: small JSON documents, each sealed, and bound to the very folder it lies in.

A record without our seal is anybody's text. It is shown, and never obeyed."""

from __future__ import annotations

import os
import re
from collections.abc import Callable
from typing import Any

from swept_shelf.core.carry import durable
from swept_shelf.core.documents.paths import is_clean, parent
from swept_shelf.core.documents.times import is_moment
from swept_shelf.core.machine.machine import NO_UUID, Machine
from swept_shelf.core.machine.made_files import MADE
from swept_shelf.core.machine.sealing import is_sealed, seal
from swept_shelf.core.registries.debian.rows import TABLES

MANIFEST = "manifest.json"
_PURPOSE = "record on a shelf"
_MOST = 256 << 20


def write_record(machine: Machine, folder: int, name: str, content: Any) -> None:
    """Write `name` with its seal into the folder, on the disk when the call returns. Raises OSError."""
    durable.write_json(
        folder,
        name,
        {"content": content, "seal": seal(_PURPOSE, *_place(machine, folder), name, content=content)},
    )


def read_record(machine: Machine, folder: int, name: str) -> Any:
    """The content of a sealed record; None where there is none, it was cut off, or it is not ours."""
    content, ours = record_and_seal(machine, folder, name)
    return content if ours else None


def record_and_seal(machine: Machine, folder: int, name: str) -> tuple[Any, bool]:
    """The content, and whether it is sealed by us for this place."""
    plain = durable.read_json(folder, name, _MOST)
    if not isinstance(plain, dict) or set(plain) != {"content", "seal"}:
        return None, False
    content = plain["content"]
    return content, is_sealed(plain["seal"], _PURPOSE, *_place(machine, folder), name, content=content)


def _place(machine: Machine, folder: int) -> tuple[str, int]:
    status = os.fstat(folder)
    volume = machine.file_system(status.st_dev)
    return ("" if volume.startswith(NO_UUID) else volume), status.st_ino


def _is_text(value: Any) -> bool:
    return isinstance(value, str) and "\0" not in value


def _is_path(value: Any) -> bool:
    return _is_text(value) and is_clean(value)


def _is_count(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool) and 0 <= value < 1 << 63


def _is_digest(value: Any) -> bool:
    return isinstance(value, str) and re.fullmatch(r"[0-9a-f]{64}", value) is not None


def _is_object(value: Any) -> bool:
    return isinstance(value, dict)


def _is_name(value: Any) -> bool:
    """A bare name: it leads nowhere."""
    return _is_text(value) and value not in ("", ".", "..") and "/" not in value


def _is_flag(value: Any) -> bool:
    return isinstance(value, bool)


def _are_cuts(value: Any) -> bool:
    """Cuts as a manifest keeps them (see operations.Cut)."""
    counts = ("line", "start", "end", "whole_start", "whole_end", "pieces")
    return isinstance(value, list) and all(
        isinstance(c, dict)
        and set(c) in ({*counts, "separator"}, {*counts, "separator", "put"})
        and all(_is_count(c[name]) for name in counts)
        and c["start"] <= c["end"]
        and c["whole_start"] <= c["whole_end"]
        and _is_text(c["separator"])
        and _is_text(c.get("put", ""))
        for c in value
    )


def _are_texts(value: Any) -> bool:
    return isinstance(value, list) and all(_is_text(v) for v in value)


def _are_kept(value: Any) -> bool:
    """What a store of whole applications keeps (registries/flatpak/change.py, registries/rpm/change.py, snap/change.py)."""
    return isinstance(value, list) and all(_is_package(k) or _is_deployed(k) or _is_snap(k) for k in value)


def _is_package(k: Any) -> bool:
    return (
        isinstance(k, dict)
        and set(k) == {"ref", "version", "installed", "header", "paths"}
        and _is_text(k["ref"])
        and _is_text(k["version"])
        and _is_count(k["installed"])
        and _is_text(k["header"])
        and isinstance(k["paths"], dict)
        and all(
            _is_path(p) and _is_object(x) and _is_name(x.get("as", "0")) and _is_text(x.get("target", ""))
            for p, x in k["paths"].items()
        )
    )


def _is_deployed(k: Any) -> bool:
    return (
        isinstance(k, dict)
        and set(k) - {"needs"} == {"ref", "commit", "origin", "parts", "name", "remote"}
        and _is_text(k["ref"])
        and _is_digest(k["commit"])
        and _is_name(k["origin"])
        and _are_texts(k["parts"])
        and _is_text(k.get("needs", ""))
        and _is_name(k["name"])
        and isinstance(k["remote"], dict)
        and set(k["remote"]) == {"group", "keys"}
        and all(_is_text(v) for v in k["remote"].values())
    )


def _is_snap(k: Any) -> bool:
    return (
        isinstance(k, dict)
        and set(k) - {"in_use"} == {"ref", "revisions", "version", "id", "aside"}
        and _is_text(k["ref"])
        and _is_name(k["ref"].partition("/")[0])
        and re.fullmatch(r"[^/]+(/[0-9]{1,9})?", k["ref"]) is not None
        and _are_texts(k["revisions"])
        and all(re.fullmatch(r"x?[0-9]{1,9}", r) for r in k["revisions"])
        and re.fullmatch(r"(x?[0-9]{1,9})?", str(k.get("in_use", ""))) is not None
        and _is_text(k["version"])
        and _is_text(k["id"])
        and isinstance(k["aside"], dict)
        and all(_is_path(p) and _is_path(a) and parent(p) == parent(a) for p, a in k["aside"].items())
    )


def _is_before(value: Any) -> bool:
    return (
        isinstance(value, dict)
        and set(value) == {"names", "config"}
        and _are_texts(value["names"])
        and _is_text(value["config"])
    )


def _are_held(value: Any) -> bool:
    """Files that a tool made, as a manifest keeps them: by name below their folder, what they were and became."""
    return isinstance(value, list) and all(
        isinstance(h, dict)
        and set(h) == {"name", "beside", "old", "new"}
        and _is_text(h["name"])
        and _is_path("/" + h["name"])
        and _is_name(h["beside"])
        and _is_digest(h["old"])
        and (h["new"] == "" or _is_digest(h["new"]))
        for h in value
    )


def _are_originals(value: Any) -> bool:
    return isinstance(value, list) and all(
        isinstance(o, dict)
        and _is_name(o.get("file"))
        and _is_digest(o.get("sha256"))
        and _is_count(o.get("bytes"))
        and _is_text(o.get("package"))
        and _is_text(o.get("version"))
        for o in value
    )


_COMMON: dict[str, Callable[[Any], bool]] = {
    "format": lambda v: v == "swept-shelf/slot",
    "version": lambda v: v == 3 and not isinstance(v, bool),
    "run": _is_name,
    "order": _is_text,
    "machine": _is_text,
    "number": lambda v: _is_count(v) and v > 0,
    "line": _is_text,
    "name": _is_text,
    "do": _is_text,
    "at": is_moment,
    "bytes": _is_count,
    "files": _is_count,
    "volume": _is_text,
}
_SURROUNDINGS: dict[str, Callable[[Any], bool]] = {
    "folders": _is_object,
    "made": _is_object,
    "accounts": _is_object,
}
_BY_OPERATION: dict[str, dict[str, Callable[[Any], bool]]] = {
    "uninstall": {
        "registry": _is_name,
        "place": _is_path,
        "person": _is_text,
        "refs": _are_texts,
        "commits": _are_texts,
        "kept": _are_kept,
        "around": _is_object,
        "before": _is_before,
    },
    "shelve": {
        "path": _is_path,
        "identity": _is_object,
        "parent": _is_object,
        "copied": _is_flag,
        "surveyed_mode": _is_count,
    },
    "move_data": {
        "path": _is_path,
        "identity": _is_object,
        "parent": _is_object,
        "to": _is_path,
        "made": lambda v: isinstance(v, list) and all(map(_is_path, v)),
    },
    "edit_lines": {
        "path": _is_path,
        "identity": _is_object,
        "parent": _is_object,
        "surveyed_mtime_ns": _is_count,
        "surveyed_sha256": _is_digest,
        "old_sha256": _is_digest,
        "new_sha256": _is_digest,
        "kind": _is_text,
        "cuts": _are_cuts,
        "beside": _is_name,
    },
    "remove_packages": {
        "originals": _are_originals,
        "originals_in": lambda v: v == "" or _is_path(v),
        "other_names": _is_object,
        **_SURROUNDINGS,
    },
    "take_row": {
        "table": lambda v: v in TABLES,
        "row": lambda v: isinstance(v, list) and all(map(_is_text, v)),
        "by_hand": _is_flag,
        "renamed": _is_flag,
        "folders": _is_object,
        "made": _is_object,
    },
    "make_anew": {"path": _is_path, "made": lambda v: v in MADE, "held": _are_held, "folders": _is_object},
    "purge_packages": {"packages": lambda v: isinstance(v, list) and all(map(_is_text, v)), **_SURROUNDINGS},
}
FORMAT, VERSION = "swept-shelf/slot", 3


def why_no_manifest(content: Any, run: str, number: int) -> str:
    """What keeps a record from being the manifest of slot `number` of `run`; "" when it is one, member for member."""
    if not isinstance(content, dict):
        return "is no manifest"
    wanted = {**_COMMON, **_BY_OPERATION.get(str(content.get("do")), {})}
    if len(wanted) == len(_COMMON):
        return "names an operation that is not known"
    if set(content) != set(wanted):
        return f"lacks or adds {', '.join(sorted(set(content) ^ set(wanted)))[:100]}"
    wrong = [name for name, holds in wanted.items() if not holds(content[name])]
    if wrong:
        return f"is wrong in {', '.join(wrong)}"
    return "" if (content["run"], content["number"]) == (run, number) else "is another slot’s"
