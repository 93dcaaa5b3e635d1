"""What the helper takes: one JSON line, read strictly. Orders, names and numbers; never a command, never a program to be started.

The folder of the person who asked is opened with that person's rights alone; the paths by which a trace knows an application are
looked for in what others say."""

from __future__ import annotations

import json
import uuid
from dataclasses import dataclass, field
from typing import Any, ClassVar, Literal

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.order import STRICT
from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.documents.wire import from_plain

LONGEST = 256 << 20


@dataclass(frozen=True, slots=True)
class Look:
    """A survey; `ours` and `rules` as a looking worker takes them."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal["survey"]
    folder: MachinePath
    ours: list[tuple[str, str]] = field(default_factory=list)
    rules: list[dict[str, str]] = field(default_factory=list)
    whole: bool = False


@dataclass(frozen=True, slots=True)
class Prove:
    """A clearance of a run that was carried out here."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal["clearance"]
    run: str
    folder: MachinePath


@dataclass(frozen=True, slots=True)
class Follow:
    """Whether anything of a name is left; `id`, `names`, `since`: of the application as a survey knew it."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal["trace"]
    name: str
    folder: MachinePath
    id: str = ""
    names: dict[str, list[MachinePath]] = field(default_factory=dict)
    since: str = ""


@dataclass(frozen=True, slots=True)
class Carry:
    """An order, which a survey of the helper's own must bear out; with the same `run` again, what was left of it."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal[Task.CARRY_OUT]
    run: str
    folder: MachinePath
    order: dict[str, Any]


@dataclass(frozen=True, slots=True)
class Shelf:
    """Putting back or emptying a run, or some lines of it."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal[Task.PUT_BACK, Task.EMPTY]
    run: str
    folder: MachinePath
    lines: list[str] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class Pack:
    """What waits of a run as an archive, into the person's folder."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal["archive"]
    run: str
    folder: MachinePath


@dataclass(frozen=True, slots=True)
class Unpack:
    """Putting back from an archive, which is read with the person's rights. `run` names this try of it."""

    __pydantic_config__: ClassVar = STRICT
    do: Literal["restore"]
    run: str
    file: MachinePath
    lines: list[str] = field(default_factory=list)
    elsewhere: bool = False


Request = Look | Prove | Follow | Carry | Shelf | Pack | Unpack
_KINDS: dict[str, type[Request]] = {
    "survey": Look,
    "clearance": Prove,
    "trace": Follow,
    Task.CARRY_OUT: Carry,
    Task.PUT_BACK: Shelf,
    Task.EMPTY: Shelf,
    "archive": Pack,
    "restore": Unpack,
}


def read_request(line: bytes) -> Request:
    """Raises Refused for whatever is not such a request."""
    try:
        plain = json.loads(line)
        kind = _KINDS[plain["do"]]
        request = from_plain(kind, plain)
        if not isinstance(request, Look | Follow) and str(uuid.UUID(request.run)) != request.run:
            raise ValueError("a run’s number is a UUID")
    except (ValueError, KeyError, TypeError, RecursionError) as error:
        first = str(error).split("\n", 1)[0][:200]
        raise Refused(f"is no request that is answered with these rights: {first}") from None
    return request
