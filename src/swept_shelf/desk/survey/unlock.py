"""The offer to look with the administrator's rights, where a person's own did not show everything."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QWidget

from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button
from swept_shelf.desk.theme import theme


class UnlockLine(QWidget):
    wanted = Signal()

    def __init__(self) -> None:
        super().__init__()
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 8, 0)
        row.setSpacing(12)
        self.words = Elided("", "small", second=True)
        self.button = button("Unlock", name="Unlock: look with the administrator’s rights")
        self.button.setToolTip(
            spoken("Look again with the administrator’s rights: somebody is asked for them first")
        )
        self.button.setFont(theme().font("small"))
        self.button.setProperty("font_key", "small")
        self.button.setMinimumHeight(theme().px(24))
        self.button.clicked.connect(self.wanted)
        row.addWidget(self.words, 1)
        row.addWidget(self.button)
        self.hide()

    def show_survey(self, survey: Survey, offered: bool) -> None:
        """`offered`: whether there is anybody to ask, and anything to gain."""
        self.words.set(unseen(survey))
        self.setVisible(offered)


def unseen(survey: Survey) -> str:
    """What a person's rights did not show, in words."""
    unread = [x.path for x in survey.not_read]
    homes = [p for p in survey.people if any(within(path, p.home) for path in unread)]
    others = [path for path in unread if not any(within(path, p.home) for p in homes)]
    parts = [plural(len(homes), "home")] if homes else []
    parts += [plural(len(others), "other place" if homes else "place")] if others else []
    not_shown = f", which did not show all of {' and '.join(parts)}" if parts else ""
    return f"Looked with a person’s rights{not_shown}. What belongs to everyone goes with the administrator’s alone."
