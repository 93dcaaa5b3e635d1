"""The page of keys, made from what can be done."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QGridLayout, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.drawn import drawn
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.theme import theme


class KeysPage(QDialog):
    """`rows`: (group, what it does, keys); `marks`: what the drawings on boxes say, by name."""

    def __init__(
        self, rows: list[tuple[str, str, str]], marks: Mapping[str, str], parent: QWidget | None = None
    ) -> None:
        super().__init__(parent)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setWindowTitle(spoken("Keys"))
        self.setAccessibleName(spoken("Keys"))
        groups = defaultdict[str, list[tuple[str, str]]](list)
        for group, said, keys in rows:
            groups[group].append((said, keys))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 24, 24, 24)
        outer.setSpacing(16)
        columns = QHBoxLayout()
        columns.setSpacing(theme().px(40))
        halves = [QVBoxLayout(), QVBoxLayout()]
        for half in halves:
            half.setSpacing(16)
            columns.addLayout(half, 1)
        length = [0, 0]
        parts = [(len(members), self._group(group, members)) for group, members in groups.items()]
        parts.append((len(marks), self._marks(marks)))
        for rows_, part in sorted(
            parts, key=lambda p: -p[0]
        ):  # the longest first: both halves end at one height
            place = length.index(min(length))
            length[place] += rows_ + 2
            halves[place].addLayout(part)
        for half in halves:
            half.addStretch(1)
        outer.addLayout(columns)
        close = button("Close", filled=True)
        close.clicked.connect(self.accept)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(close)
        outer.addLayout(row)
        width = self.sizeHint().width()
        self.setMinimumHeight(
            max(self.sizeHint().height(), outer.totalHeightForWidth(width))
        )  # words that wrap whole

    def _marks(self, marks: Mapping[str, str]) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(12)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(1, 1)
        grid.addWidget(label("On a box", "head"), 0, 0, 1, 2)
        for row, (name, said) in enumerate(marks.items(), 1):
            picture = QLabel()
            picture.setPixmap(drawn(name, "ink2", theme().px(14)))
            grid.addWidget(picture, row, 0)
            grid.addWidget(label(said, wrap=True), row, 1)
        return grid

    def _group(self, name: str, members: list[tuple[str, str]]) -> QGridLayout:
        grid = QGridLayout()
        grid.setHorizontalSpacing(24)
        grid.setVerticalSpacing(4)
        grid.setColumnStretch(0, 1)
        grid.addWidget(label(name, "head"), 0, 0, 1, 2)
        for row, (said, keys) in enumerate(members, 1):
            words = label(said, wrap=True)
            words.setMinimumWidth(theme().px(230))
            grid.addWidget(words, row, 0)
            grid.addWidget(
                label(keys, "bold"), row, 1, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignTop
            )
        return grid
