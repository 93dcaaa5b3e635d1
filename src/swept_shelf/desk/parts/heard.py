"""What a painted widget shows, piece by piece, for assistive programs: each has a name, a role, a place and a state of its own."""

from __future__ import annotations

from PySide6.QtCore import QObject, QPoint, QRect
from PySide6.QtGui import QAccessible, QAccessibleEvent, QAccessibleInterface, QWindow
from PySide6.QtWidgets import QAccessibleWidget

from swept_shelf.desk.parts.painted import Painted, Piece

_ROLES = QAccessible.Role
_TEXTS = QAccessible.Text
_kept: dict[int, _Whole] = {}  # Qt holds them by address alone


def make_pieces_heard() -> None:
    """From here on: every painted widget that has pieces tells them."""
    QAccessible.installFactory(_made)


def tell_piece(widget: Painted, number: int) -> None:
    """The piece in hand is another one: whoever listens hears it."""
    widget.forget_pieces()
    if QAccessible.isActive() and 0 <= number < len(widget.pieces()):
        event = QAccessibleEvent(widget, QAccessible.Event.Focus)
        event.setChild(number)
        QAccessible.updateAccessibility(event)


def _made(_name: str, thing: QObject) -> QAccessibleInterface | None:
    if not isinstance(thing, Painted) or not thing.has_pieces:
        return None
    whole = _Whole(thing)
    _kept[id(thing)] = whole
    thing.destroyed.connect(lambda _=None, key=id(thing): _kept.pop(key, None))
    return whole


class _Whole(QAccessibleWidget):
    def __init__(self, widget: Painted) -> None:
        super().__init__(widget, _ROLES.List)
        self.widget_ = widget
        self._made: list[_Piece] = []

    def childCount(self) -> int:
        return len(self.widget_.pieces())

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        if not 0 <= index < self.childCount():
            return None
        while len(self._made) <= index:
            piece = _Piece(self.widget_, len(self._made))
            QAccessible.registerAccessibleInterface(piece)
            self._made.append(piece)
        return self._made[index]

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        at = self.widget_.mapFromGlobal(QPoint(x, y)).toPointF()
        found = (n for n, p in enumerate(self.widget_.pieces()) if p.rect.contains(at))
        return self.child(next(found, -1))

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return next((n for n, made in enumerate(self._made) if made is child), -1)

    def focusChild(self) -> QAccessibleInterface | None:  # type: ignore[override]
        return self.child(next((n for n, p in enumerate(self.widget_.pieces()) if p.in_hand), -1))


class _Piece(QAccessibleInterface):
    """One piece, by its number: what stands there now."""

    def __init__(self, widget: Painted, number: int) -> None:
        super().__init__()
        self._widget, self._number = widget, number

    @property
    def _piece(self) -> Piece | None:
        pieces = self._widget.pieces()
        return pieces[self._number] if self._number < len(pieces) else None

    def isValid(self) -> bool:
        return self._piece is not None

    def object(self) -> QObject | None:  # type: ignore[override]
        return None

    def window(self) -> QWindow | None:  # type: ignore[override]
        return self._widget.window().windowHandle()

    def parent(self) -> QAccessibleInterface:
        return QAccessible.queryAccessibleInterface(self._widget)

    def childCount(self) -> int:
        return 0

    def child(self, index: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def childAt(self, x: int, y: int) -> QAccessibleInterface | None:  # type: ignore[override]
        return None

    def indexOfChild(self, child: QAccessibleInterface) -> int:
        return -1

    def role(self) -> QAccessible.Role:
        return _ROLES.ListItem

    def text(self, kind: QAccessible.Text) -> str:
        piece = self._piece
        if piece is None:
            return ""
        return (
            piece.name
            if kind == _TEXTS.Name
            else piece.says
            if kind in (_TEXTS.Description, _TEXTS.Value)
            else ""
        )

    def setText(self, kind: QAccessible.Text, text: str) -> None:
        """Nothing of it is written."""

    def rect(self) -> QRect:
        piece = self._piece
        if piece is None:
            return QRect()
        place = piece.rect.toAlignedRect()
        return QRect(self._widget.mapToGlobal(place.topLeft()), place.size())

    def state(self) -> QAccessible.State:
        state, piece = QAccessible.State(), self._piece
        if piece is None:
            state.invalid = True
            return state
        state.selectable = state.focusable = True
        state.selected = piece.in_hand
        state.focused = piece.in_hand and self._widget.hasFocus()
        return state
