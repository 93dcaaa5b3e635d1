"""The header: whose computer, the five stations in the order of work, and the machine in hand."""

from __future__ import annotations

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QFrame, QHBoxLayout, QPushButton, QVBoxLayout

from swept_shelf.desk.language import spoken
from swept_shelf.desk.names import STATIONS
from swept_shelf.desk.parts.labels import Elided, on_taken, set_taken
from swept_shelf.desk.theme import theme


class Header(QFrame):
    station_chosen = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("header")
        self.setAccessibleName(spoken("Stations"))
        self.setFixedHeight(max(64, theme().px(60)))
        row = QHBoxLayout(self)
        row.setContentsMargins(24, 0, 24, 0)
        row.setSpacing(12)
        self._name, self._sub = Elided("", "title"), Elided("", "small", second=True)
        left = QVBoxLayout()
        left.setSpacing(2)
        left.addStretch(1)
        left.addWidget(self._name)
        left.addWidget(self._sub)
        left.addStretch(1)
        row.addLayout(left, 5)
        self.buttons: dict[str, QPushButton] = {}
        for i, name in enumerate(STATIONS):
            if i:
                line = QFrame()
                line.setFixedSize(round(28 / theme().scale ** 2.4), 1)
                line.setStyleSheet(f"background: {theme().hex('line')};")
                row.addWidget(line)
            made = QPushButton(spoken(name))
            made.setCheckable(True)
            made.setFocusPolicy(
                Qt.FocusPolicy.TabFocus
            )  # a click goes to the station, and so does the keyboard
            made.setAccessibleName(spoken(name))
            made.setFont(theme().font("station"))
            made.setFixedHeight(self.height() - 1)
            made.setStyleSheet(
                f"QPushButton {{ border: none; border-bottom: 4px solid transparent; border-top: 4px solid transparent; padding: 0 6px;"
                f" font-weight: normal; border-radius: 0; color: {theme().hex('ink')}; }}"
                f"QPushButton:checked {{ border-bottom: 4px solid {theme().hex('rust')}; font-weight: bold; }}"
                f"QPushButton:focus {{ background: {theme().hex('well')}; }}"
            )
            made.setMinimumWidth(round(theme().metrics("station_bold").horizontalAdvance(spoken(name))) + 18)
            on_taken(made, lambda n=name: self.station_chosen.emit(n))  # type: ignore[misc]
            made.setToolTip(spoken(f"Alt+{i + 1}"))
            self.buttons[name] = made
            row.addWidget(made)
        self._machine, self._rights = Elided("", "small_bold", middle=True), Elided("", "small", second=True)
        for shown in (self._machine, self._rights):
            shown.setAlignment(Qt.AlignmentFlag.AlignRight)
        right = QVBoxLayout()
        right.setSpacing(2)
        right.addStretch(1)
        right.addWidget(self._machine)
        right.addWidget(self._rights)
        right.addStretch(1)
        row.addLayout(right, 4)

    def show_machine(self, name: str, sub: str, machine: str, rights: str, foreign: bool) -> None:
        self._name.set(name)
        self._sub.set(sub)
        self._machine.set(machine)
        self._rights.set(rights)
        self._machine.setStyleSheet(f"color: {theme().hex('rust')};" if foreign else "")

    def take(self, station: str) -> None:
        for name, made in self.buttons.items():
            set_taken(made, name == station)
