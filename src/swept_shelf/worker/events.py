"""What a worker says, read: a JSON object on each line. Anything else is passed over; the last one says how it ended."""

from __future__ import annotations

import json
from typing import Any

from swept_shelf.core.documents import errors
from swept_shelf.rights.asking import why_no_word

Event = dict[str, Any]


class Heard:
    """Takes the pieces as they come, keeps the last event, and says at the end what came of it."""

    def __init__(self, by_rights: bool = False) -> None:
        """`by_rights`: it is a helper, for which somebody is asked first."""
        self._by_rights = by_rights
        self._rest = b""
        self._last: Event = {}

    def take(self, piece: bytes) -> list[Event]:
        """The events that `piece` makes whole."""
        *lines, self._rest = (self._rest + piece).split(b"\n")
        found = [event for line in lines if (event := _event(line))]
        self._last = found[-1] if found else self._last
        return found

    def outcome(self, status: int) -> Event:
        """The result. Raises the worker's own error, or Interrupted when it died."""
        self.take(b"\n")
        last = self._last
        if last.get("event") == "failed":
            kind = getattr(errors, str(last["kind"]), errors.SweptShelfError)
            raise kind(last["reason"], last["path"])
        if self._by_rights and not last:
            raise errors.Refused(why_no_word(status))
        if last.get("event") != "result":
            raise errors.Interrupted(f"the worker ended early (status {status})")
        return last


def _event(line: bytes) -> Event:
    try:
        said = json.loads(line)
    except ValueError:
        return {}
    return said if isinstance(said, dict) else {}
