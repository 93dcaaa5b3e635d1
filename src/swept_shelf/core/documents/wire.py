"""Documents to and from JSON, checked with pydantic at this edge only, and their JSON Schemas."""

from __future__ import annotations

import codecs
import json
import re
from collections.abc import Callable, Iterator, Mapping
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar, get_args, get_origin, get_type_hints

from swept_shelf.core.documents.archive import Archive
from swept_shelf.core.documents.clearance import Clearance
from swept_shelf.core.documents.comparison import Comparison
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.order import ORDER_FORMAT, ORDER_VERSION, Order
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import as_written
from swept_shelf.core.documents.trace import Trace

_NAME = re.compile(r"[0-9A-Za-z._-]{1,60}")
T = TypeVar("T")

_NOTHING: Mapping[str, Callable[[], object]] = {}
_adapters: dict[Any, Any] = {}


def _adapter(kind: Any) -> Any:
    """The checker for a type, made once; pydantic is imported when first needed."""
    if kind not in _adapters:
        from pydantic import TypeAdapter

        _adapters[kind] = TypeAdapter(kind)
    return _adapters[kind]


def to_plain(document: object) -> Any:
    """The document as JSON-ready dicts and lists, members named as the format names them."""
    return _plain(type(document), document)


def _plain(kind: Any, value: Any) -> Any:
    return _adapter(kind).dump_python(value, mode="json", by_alias=True)


def to_json(document: object) -> bytes:
    return b"".join(json_parts(document))


def json_parts(document: object, later: Mapping[str, Callable[[], object]] = _NOTHING) -> Iterator[bytes]:
    """The document as JSON in UTF-8, piece by piece and never whole in memory: members and entries of lists a line each.
    `later`: members that stand last and are asked for when all else is written."""
    yield from _members(document, 1, later)
    yield b"\n"


def make_ready(kind: Any) -> None:
    """Makes all that writing such a document takes, which can be done while one waits for what is to be written."""
    for hint in _hints(kind).values():
        if get_origin(hint) is not list:
            _adapter(hint)
        elif not is_dataclass(entry := get_args(hint)[0]):
            _adapter(entry)
        else:
            for inner in _hints(entry).values():
                _adapter(get_args(inner)[0] if get_origin(inner) is list else inner)


def _members(value: Any, depth: int, later: Mapping[str, Callable[[], object]] = _NOTHING) -> Iterator[bytes]:
    """A dataclass member by member; entries of a document's own lists (depth 1) are taken apart in the same way."""
    hints, line = _hints(type(value)), b"\n" + b" " * depth
    before = b"{"
    for name in sorted(hints, key=later.__contains__):
        hint = hints[name]
        inner = later[name]() if name in later else getattr(value, name)
        yield before + line + json.dumps(as_written(name)).encode() + b": "
        before = b","
        if isinstance(inner, list) and get_origin(hint) is list:
            comma = b"["
            for entry in inner:
                yield comma + line + b" "
                comma = b","
                if depth == 1 and is_dataclass(entry):
                    yield from _members(entry, 3)
                else:
                    yield _text(get_args(hint)[0], entry)
            yield line + b"]" if inner else b"[]"
        else:
            yield _text(hint, inner)
    yield line[:-1] + b"}"


_members_of: dict[Any, dict[str, Any]] = {}


def _hints(kind: Any) -> dict[str, Any]:
    """The type of each member, in order, looked up once."""
    if kind not in _members_of:
        hints = get_type_hints(kind, include_extras=True)
        _members_of[kind] = {field.name: hints[field.name] for field in fields(kind)}
    return _members_of[kind]


def _text(kind: Any, value: Any) -> bytes:
    try:
        text: bytes = _adapter(kind).dump_json(value, by_alias=True)
        return text
    except ValueError:  # bytes that are no text
        pass
    return json.dumps(_plain(kind, value), ensure_ascii=False).encode("utf-8", "swept-shelf-spelled")


def _spelled(error: UnicodeError) -> tuple[str, int]:
    """Undecodable bytes within text, written out: \\xff, its backslash as JSON has it."""
    assert isinstance(error, UnicodeEncodeError)
    wrong = error.object[error.start : error.end]
    return "".join(
        f"\\\\x{ord(c) & 0xFF:02x}" if 0xDC80 <= ord(c) <= 0xDCFF else "�" for c in wrong
    ), error.end


codecs.register_error("swept-shelf-spelled", _spelled)


def from_plain(kind: type[T], value: Any) -> T:
    """Raises ValueError (pydantic's) when `value` is not such a document."""
    result: T = _adapter(kind).validate_python(value)
    return result


def read_document(kind: type[T], text: bytes, path: str) -> T:
    """A survey, clearance or run result; unknown members are accepted. Raises CouldNotRead."""
    try:
        result: T = _adapter(kind).validate_json(text)
        return result
    except ValueError as error:
        raise CouldNotRead(f"is not a {kind.__name__.lower()}: {first_line(error)}", path) from None


def read_order(text: bytes, path: str) -> Order:
    """An order, strictly. Raises Refused and names the member that is wrong."""
    try:
        plain = json.loads(text)
    except RecursionError:
        raise Refused("is not an order: it is nested without end", path) from None
    except ValueError as error:
        raise Refused(f"is not an order: {first_line(error)}", path) from None
    if not isinstance(plain, dict) or plain.get("format") != ORDER_FORMAT:
        raise Refused("is not an order of Swept Shelf", path)
    version = plain.get("version")
    if type(version) is not int or not 1 <= version <= ORDER_VERSION:
        raise Refused(
            f"is an order of version {str(version)[:20]}; this program reads up to {ORDER_VERSION}", path
        )
    try:
        order = from_plain(Order, plain)
    except (ValueError, RecursionError) as error:
        raise Refused(
            f"is not a valid order: {first_line(error) if isinstance(error, ValueError) else 'it is nested without end'}",
            path,
        ) from None
    if not _NAME.fullmatch(order.id):
        raise Refused("is not a valid order: its name is none", path)
    if any(n < 0 for c in order.comes_back for n in (c.now, c.when_emptied, c.when_ended)) or any(
        line.comes_back < 0 for line in order.lines
    ):
        raise Refused("is not a valid order: it promises less than no bytes", path)
    return order


def first_line(error: ValueError) -> str:
    """What is wrong first, in one line, with the member where the error names one."""
    details = getattr(error, "errors", None)
    if details is None:
        return str(error)
    first = details()[0]
    return ": ".join(filter(None, (".".join(map(str, first["loc"])), first["msg"])))


def schemas() -> dict[str, Any]:
    """JSON Schemas of the open documents, by name."""
    kinds: dict[str, type[Any]] = {
        "survey": Survey,
        "order": Order,
        "clearance": Clearance,
        "run": RunResult,
        "comparison": Comparison,
        "trace": Trace,
        "archive": Archive,
    }
    made = {}
    for name, kind in kinds.items():
        schema = _adapter(kind).json_schema(mode="validation")
        schema["required"] = schema.get("required", [])
        made[name] = {
            "$schema": "https://json-schema.org/draft/2020-12/schema",
            "title": f"swept-shelf/{name}",
            **schema,
        }
    return made
