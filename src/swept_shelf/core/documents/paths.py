"""Paths inside the machine: absolute, '/'-separated, decoded with surrogateescape so that no byte is lost."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator
from typing import Annotated, Any
from urllib.parse import quote_from_bytes, unquote_to_bytes


class PercentOnTheWire:
    """How a path is written in documents: a string, or {"percent": "..."} where it is not UTF-8."""

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> Any:
        from pydantic_core import core_schema

        spelled_otherwise = core_schema.no_info_plain_validator_function(path_from_wire)
        most = core_schema.str_schema(strict=True, pattern=r"^[^\x00]*$")
        return core_schema.union_schema(
            [most, spelled_otherwise],
            mode="left_to_right",
            serialization=core_schema.plain_serializer_function_ser_schema(path_to_wire),
        )

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        percent = {"type": "object", "properties": {"percent": {"type": "string"}}, "required": ["percent"]}
        return {"anyOf": [{"type": "string"}, percent]}


MachinePath = Annotated[str, PercentOnTheWire()]


def path_to_wire(path: str) -> str | dict[str, str]:
    try:
        path.encode("utf-8")
    except UnicodeEncodeError:
        return {"percent": quote_from_bytes(os.fsencode(path))}
    return path


def path_from_wire(value: Any) -> str:
    if isinstance(value, dict) and set(value) == {"percent"} and isinstance(value["percent"], str):
        value = os.fsdecode(unquote_to_bytes(value["percent"]))
    if not isinstance(value, str):
        raise ValueError("a path is a string or {'percent': string}")
    if "\0" in value:
        raise ValueError("a path holds no zero byte")
    return value


def spelled(text: str) -> str:
    """`text` for names and ids: what is not UTF-8 in it is written out, \\xff, so that every document can hold it."""
    try:
        text.encode("utf-8")
    except UnicodeEncodeError:
        return os.fsencode(text).decode("utf-8", "backslashreplace")
    return text


def is_clean(path: str) -> bool:
    """True for an absolute path without '.', '..', doubled or trailing slashes."""
    return path == "/" or (
        path.startswith("/") and all(p not in ("", ".", "..") for p in path[1:].split("/"))
    )


def ways_up(path: str) -> Iterator[str]:
    """The path and every folder above it, innermost first."""
    while path != "/":
        yield path
        path = parent(path)
    yield path


def compiled_from(path: str) -> str:
    """The module that byte code beside it was made from (PEP 3147); "" where it is none."""
    folder, _, name = path.rpartition("/")
    return f"{parent(folder)}/{name.split('.')[0]}.py" if folder.endswith("/__pycache__") else ""


def parent(path: str) -> str:
    return path.rsplit("/", 1)[0] or "/"


def plain(path: str) -> str:
    """An absolute path without its steps back, as names alone, links not followed."""
    done: list[str] = []
    for part in path.split("/"):
        if part == "..":
            done = done[:-1]
        elif part not in ("", "."):
            done.append(part)
    return "/" + "/".join(done)


def base(path: str) -> str:
    return path.rsplit("/", 1)[1]


def join(folder: str, *names: str) -> str:
    return "/".join(("" if folder == "/" else folder, *names))


def within(path: str, folder: str) -> bool:
    """True when `path` is `folder` or below it."""
    return folder == "/" or path == folder or path.startswith(folder + "/")


def outermost(paths: Iterable[str]) -> list[str]:
    """`paths` without those that lie below another one, sorted."""
    kept: list[str] = []
    for path in sorted(set(paths), key=folder_order):
        if not kept or not within(path, kept[-1]):
            kept.append(path)
    return kept


def folder_order(path: str) -> str:
    """Sorts a folder directly before what is below it: '/' before every other character."""
    return path.replace("/", "\0")
