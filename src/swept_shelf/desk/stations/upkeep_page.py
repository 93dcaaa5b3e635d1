"""Keeping it so: what upkeep may do, whether its timer is set, and what its last round found."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from swept_shelf.core.belongings.store_parts import TRIMMED
from swept_shelf.core.documents.errors import SweptShelfError, printable
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.times import clock, day
from swept_shelf.core.documents.upkeep import Settings, Upkeep
from swept_shelf.core.documents.wire import read_document
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, rule
from swept_shelf.desk.parts.segments import Segments
from swept_shelf.desk.session import Session
from swept_shelf.desk.theme import theme
from swept_shelf.upkeep.round import in_words, reports_folder, settings_file
from swept_shelf.upkeep.settings import changed, read_settings, write_settings
from swept_shelf.upkeep.timer import timer

_EVERY = {"Every day": "day", "Every week": "week", "Every month": "month"}
_MOST = 14  # lines of what the last round found


class UpkeepPage(QDialog):
    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._session, self._settings = session, Settings()
        self._every, self._by = "week", ""
        self.setWindowTitle(spoken("Upkeep"))
        self.setAccessibleName(spoken("Upkeep"))
        self.resize(theme().px(860), theme().px(520))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 24, 24, 24)
        outer.setSpacing(12)
        outer.addWidget(label("Keep it so", "head"))
        outer.addWidget(
            label(
                "A timer looks, says what grew and what nobody uses, and does only what is set here. It never removes a program.",
                "small",
                second=True,
                wrap=True,
            )
        )
        columns = QHBoxLayout()
        columns.setSpacing(32)
        columns.addLayout(self._fields(), 4)
        columns.addLayout(self._last(), 5)
        outer.addLayout(columns, 1)
        self.said = label("", "small", loud=True, wrap=True)
        outer.addWidget(self.said)
        self.keep_button, self.turn_button, close = (
            button("Save", filled=True),
            button("Turn it on"),
            button("Close"),
        )
        self.keep_button.clicked.connect(self._keep)
        self.turn_button.clicked.connect(self._turn)
        close.clicked.connect(self.reject)
        row = QHBoxLayout()
        row.setSpacing(12)
        row.addWidget(self.turn_button)
        row.addStretch(1)
        row.addWidget(close)
        row.addWidget(self.keep_button)
        outer.addLayout(row)
        self._read()

    def _fields(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(8)
        self.every = Segments(tuple(_EVERY))
        self.every.chosen.connect(self._take_every)
        column.addWidget(self.every)
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(6)
        self.fields: dict[str, QLineEdit] = {}
        asked = {
            "free": "Free on every volume, at least",
            "unused": "Named when nobody used it for",
            "grew": "Named when it grew by",
            "empty": "The holding shelf is emptied after",
            **{f"trim:{kind}": f"Trim {kind.replace('_', ' ')} older than" for kind in TRIMMED},
        }
        for number, (name, words) in enumerate(asked.items()):
            field = QLineEdit()
            field.setAccessibleName(spoken(words))
            field.setFixedWidth(theme().px(96))
            grid.addWidget(label(words), number, 0)
            grid.addWidget(field, number, 1)
            self.fields[name] = field
        grid.setColumnStretch(0, 1)
        column.addLayout(grid)
        column.addStretch(1)
        return column

    def _last(self) -> QVBoxLayout:
        column = QVBoxLayout()
        column.setSpacing(4)
        self.last_head = label("No round was made yet", "bold", wrap=True)
        column.addWidget(self.last_head)
        column.addWidget(rule())
        self.last = [Elided("", "small") for _ in range(_MOST)]
        for line in self.last:
            column.addWidget(line)
        column.addStretch(1)
        return column

    # -- what is set ------------------------------------------------------------------------------------------

    def _read(self) -> None:
        shop = self._session.shop
        try:
            self._settings = read_settings(settings_file(shop))
        except SweptShelfError as error:
            self.said.setText(spoken(printable(str(error))))
            self.keep_button.setEnabled(False)
        s = self._settings
        self._take_every(next(words for words, value in _EVERY.items() if value == s.every))
        shown = {
            "free": human_bytes(s.free) if s.free else "0",
            "unused": s.unused,
            "grew": human_bytes(s.grew),
            "empty": f"{s.empty_after}d" if s.empty_after else "never",
            **{f"trim:{kind}": f"{s.trim[kind]}d" if kind in s.trim else "never" for kind in TRIMMED},
        }
        for name, text in shown.items():
            self.fields[name].setText(text)
        self._session.behind.do("upkeep", self._stands, self._show, self.said.setText)

    def _stands(self) -> tuple[str, Upkeep | None]:
        """By what the timer is on, and the newest round."""
        shop = self._session.shop
        rounds = sorted(reports_folder(shop).glob("*.json"))
        newest = rounds[-1] if rounds else None
        last = read_document(Upkeep, newest.read_bytes(), str(newest)) if newest else None
        return (timer().on if shop.machine.live else ""), last

    def _show(self, stands: tuple[str, Upkeep | None]) -> None:
        by, last = stands
        live = self._session.shop.machine.live
        self.turn_button.setText(spoken("Turn it off" if by else "Turn it on"))
        self.turn_button.setAccessibleName(self.turn_button.text())
        self.turn_button.setEnabled(live)
        self.turn_button.setToolTip(
            spoken("" if live else "A timer is set on this computer’s own root alone")
        )
        self._by = by
        if last is not None:
            words = in_words(last)
            self.last_head.setText(spoken(f"The round of {day(last.at)}, {clock(last.at)}"))
            if not words:
                words = ["Nothing that anybody has to look at."]
            elif len(words) > _MOST:
                words = [
                    *words[: _MOST - 1],
                    f"and {len(words) - _MOST + 1} more: swept-shelf upkeep says all",
                ]
            for line, text in zip(self.last, [*words, *[""] * _MOST], strict=False):
                line.set(text)

    def _take_every(self, words: str) -> None:
        self._every = _EVERY[words]
        self.every.take(words)

    def _keep(self) -> bool:
        told = [
            f"every={self._every}",
            *(f"{name}={field.text().strip()}" for name, field in self.fields.items()),
        ]
        try:
            self._settings = changed(self._settings, told)
            path: Path = settings_file(self._session.shop)
            write_settings(path, self._settings)
        except SweptShelfError as error:
            self.said.setText(spoken(printable(str(error))))
            return False
        self.said.setText(spoken("Saved."))
        if self._by:
            self._set_timer(True)
        return True

    def _turn(self) -> None:
        if self._keep():
            self._set_timer(not self._by)

    def _set_timer(self, on: bool) -> None:
        every = self._settings.every

        def act() -> tuple[str, Upkeep | None]:
            if on:
                timer().turn_on(every)
            else:
                timer().turn_off()
            return self._stands()

        self._session.behind.do(
            "upkeep", act, self._show, lambda why: self.said.setText(spoken(printable(why)))
        )
