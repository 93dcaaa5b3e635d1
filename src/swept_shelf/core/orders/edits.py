"""Edits of files that an order takes entries out of, or turns off in: read as they were surveyed, cut so that the rest stays good."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import Cut, EditLines, LeftAlone
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application, Reference
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.moving import LARGEST, OWN_SETTING, named_anew
from swept_shelf.core.orders.scope import Scope
from swept_shelf.core.references.cutting import without
from swept_shelf.core.references.kind import TEXT
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.references.take_out import codec_of, cuts_for, why_broken
from swept_shelf.core.references.turn_off import BY_HIDDEN, off_cuts


class Edits:
    """`rights`: whose a path's folder is; what cannot be edited is added to `left_alone`, once."""

    def __init__(
        self, scope: Scope, machine: Machine, rights: Callable[[str], str], left_alone: list[LeftAlone]
    ) -> None:
        self._scope, self._machine, self._rights, self._left_alone = scope, machine, rights, left_alone
        self._contents: dict[str, bytes | None] = {}

    def take_out(
        self, app: Application, path: str, references: list[Reference], gone: Pointees
    ) -> EditLines | None:
        """None where the file is left."""
        kind = references[0].kind
        if (text := self._text(path, kind)) is None:
            return None
        try:
            home = next((p.home for p in self._scope.survey.people if within(path, p.home)), "")
            cuts = cuts_for(kind, path, text, gone, {(r.line, r.key) for r in references}, home)
        except ValueError as error:
            self._left_alone.append(LeftAlone(path, str(error)))
            return None
        why = why_broken(kind, path, text, without(text, cuts)) if cuts else ""
        if not cuts or why:
            why = why or "is written so that no single line can be taken out"
            self._left_alone.append(LeftAlone(path, why))
            return None
        return self._edit(app, path, text, kind, cuts, ", ".join(dict.fromkeys(r.kind for r in references)))

    def name_anew(self, app: Application, path: str, places: Mapping[str, str]) -> EditLines | None:
        """A file of its settings names the new of `places` (new by old); None where it names none of the old, or is left."""
        home = next((p.home for p in self._scope.survey.people if within(path, p.home)), "")
        try:
            now = TEXT.text_of(self._machine.read_bytes(path, LARGEST))
        except CouldNotRead:
            return None  # gone, or nobody's to read by now
        if not named_anew(now, places, home) or (text := self._text(path, OWN_SETTING)) is None:
            return None  # what names none of them is left without a word, whoever wrote to it meanwhile
        cuts = named_anew(text, places, home)
        return self._edit(app, path, text, OWN_SETTING, cuts, "names where its data is") if cuts else None

    def turn_off(self, app: Application, path: str) -> EditLines | None:
        """An entry for login says that it is hidden; None where the file is left."""
        if (text := self._text(path, BY_HIDDEN)) is None:
            return None
        try:
            return self._edit(app, path, text, BY_HIDDEN, off_cuts(text), "starts at login: turned off")
        except ValueError as error:
            self._left_alone.append(LeftAlone(path, str(error)))
            return None

    def _edit(
        self, app: Application, path: str, text: str, kind: str, cuts: list[Cut], why: str
    ) -> EditLines | None:
        row, data = self._scope.index.row(path), self._contents.get(path)
        if row is None or data is None:
            return None
        return EditLines(
            app.id,
            path,
            row.identity,
            hashlib.sha256(data).hexdigest(),
            kind,
            cuts,
            len(data),
            self._rights(path),
            why,
            volume_of(self._scope.survey.volumes, path).id,
            [
                hashlib.sha256(text[c.start : c.end].encode("utf-8", "surrogateescape")).hexdigest()
                for c in cuts
            ],
        )

    def _text(self, path: str, kind: str) -> str | None:
        """What a file to be edited holds, where it still is what was surveyed; else why it is left is said."""
        data = self._content(path)
        if data is None:
            return None
        try:
            return codec_of(kind).text_of(data)
        except ValueError as error:
            self._contents[path] = None
            self._left_alone.append(LeftAlone(path, str(error)))
            return None

    def _content(self, path: str) -> bytes | None:
        if path not in self._contents:
            self._contents[path] = None
            row = self._scope.index.row(path)
            try:
                status = self._machine.lstat(path)
                if row is None or status is None or self._machine.identity(status) != row.identity:
                    raise CouldNotRead(
                        "has changed since it was surveyed: survey again, and it can be edited", path
                    )
                self._contents[path] = self._machine.read_bytes(path)
            except CouldNotRead as error:
                self._left_alone.append(LeftAlone(path, error.reason))
        return self._contents[path]
