"""A row of choices of which one is taken, underlined: the lenses."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QPushButton, QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import on_taken, set_taken
from swept_shelf.desk.theme import theme


class Segments(QWidget):
    chosen = Signal(str)

    def __init__(self, names: tuple[str, ...]) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(theme().px(20))
        self.buttons: dict[str, QPushButton] = {}
        for name in names:
            made = QPushButton(spoken(name))
            made.setCheckable(True)
            made.setAccessibleName(spoken(name))
            made.setFont(theme().font("station"))
            made.setStyleSheet(
                f"QPushButton {{ border: none; font-weight: normal; padding: 2px 1px; color: {theme().hex('ink2')}; }}"
                f"QPushButton:checked {{ font-weight: bold; color: {theme().hex('ink')}; border-bottom: 2px solid {theme().hex('ink')}; }}"
                f"QPushButton:focus {{ background: {theme().hex('well')}; }}"
            )
            on_taken(made, lambda n=name: self.chosen.emit(n))  # type: ignore[misc]
            made.setMinimumWidth(round(theme().metrics("station_bold").horizontalAdvance(spoken(name))) + 8)
            row.addWidget(made)
            self.buttons[name] = made
        self.take(names[0])

    def allow(self, name: str, on: bool) -> None:
        """Whether it can be chosen now."""
        self.buttons[name].setEnabled(on)
        self.buttons[name].setVisible(on)

    def take(self, name: str) -> None:
        for other, made in self.buttons.items():
            set_taken(made, other == name)
