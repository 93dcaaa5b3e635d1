"""Tool tips as plain text, all of them: names come from the machine, and Qt would read markup in them and fetch what it names."""

from __future__ import annotations

from html import escape

from PySide6.QtCore import QEvent, QObject, QPoint, Qt
from PySide6.QtGui import QHelpEvent
from PySide6.QtWidgets import QAbstractItemView, QApplication, QToolTip, QWidget

from swept_shelf.core.documents.errors import printable_lines
from swept_shelf.desk.language import spoken

_LONGEST = 4000


def show_tip(at: QPoint, text: str, widget: QWidget) -> None:
    """Show `text` as it stands; nothing where it is empty. `at`: on the screen."""
    QToolTip.showText(at, as_markup(text), widget)


def as_markup(text: str) -> str:
    """`text` as rich text in which nothing of it is markup: said so openly, since Qt guesses otherwise."""
    shown = spoken(printable_lines(text[:_LONGEST]))
    return f"<p style='white-space: pre-wrap'>{escape(shown)}</p>" if shown.strip() else ""


class PlainTips(QObject):
    """Answers every wish for a tool tip in the whole application."""

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if (
            event.type() != QEvent.Type.ToolTip
            or not isinstance(event, QHelpEvent)
            or not isinstance(watched, QWidget)
        ):
            return False
        text = watched.toolTip()
        view = watched.parentWidget()
        if isinstance(view, QAbstractItemView) and view.viewport() is watched:
            told = view.indexAt(event.pos()).data(Qt.ItemDataRole.ToolTipRole)
            text = str(told) if told else ""
        if not text:
            return False
        show_tip(event.globalPos(), text, watched)
        return True


def keep_tips_plain() -> None:
    """Once for the application; a second time changes nothing."""
    app = QApplication.instance()
    if app is not None and app.findChild(PlainTips) is None:
        app.installEventFilter(PlainTips(app))
