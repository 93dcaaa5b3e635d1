"""The band of kinds: a colour, a texture and a fixed place for each kind; and the bar of a volume."""

from __future__ import annotations

from PySide6.QtCore import QLineF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPen

from swept_shelf.core.documents.survey import Kinds
from swept_shelf.core.documents.terms import KINDS, Kind
from swept_shelf.desk.theme import theme


def band_parts(kinds: Kinds, width: float) -> list[tuple[Kind, float, float]]:
    """(kind, x, width) for each kind that holds anything, in the fixed order, adding up to `width`."""
    total = kinds.total
    parts, x, done = [], 0.0, 0
    for kind in KINDS:
        size = getattr(kinds, kind)
        if size and total:
            done += size
            end = width * done / total
            parts.append((kind, x, end - x))
            x = end
    return parts


def paint_band(painter: QPainter, rect: QRectF, kinds: Kinds) -> None:
    for kind, x, width in band_parts(kinds, rect.width()):
        paint_kind(painter, QRectF(rect.x() + x, rect.y(), width, rect.height()), kind)


def paint_kind(painter: QPainter, rect: QRectF, kind: str) -> None:
    """The kind's colour with its texture: slanted support, dotted preferences, lying lines for cache."""
    painter.save()
    painter.setClipRect(rect)
    painter.fillRect(rect, theme().color(kind))
    ink = theme().color("paper" if not theme().dark else "desk")
    ink.setAlpha(150)
    painter.setPen(QPen(ink, 1))
    if kind == Kind.SUPPORT:
        _slants(painter, rect, 6)
    elif kind == Kind.PREFERENCES:
        painter.setPen(QPen(ink, 1.4))
        y = rect.y() + 1.5
        while y < rect.bottom():
            x = rect.x() + 1.5
            while x < rect.right():
                painter.drawPoint(QPointF(x, y))
                x += 3
            y += 3
    elif kind == Kind.CACHE:
        y = rect.y() + 2.5
        while y < rect.bottom():
            painter.drawLine(QLineF(rect.x(), y, rect.right(), y))
            y += 3
    painter.restore()


def paint_hatch(painter: QPainter, rect: QRectF) -> None:
    """Rust hatching: promised, not yet back."""
    painter.save()
    painter.setClipRect(rect)
    painter.fillRect(rect, theme().color("free"))
    painter.setPen(QPen(theme().color("rust"), 2))
    _slants(painter, rect, 5)
    painter.restore()


def _slants(painter: QPainter, rect: QRectF, step: float) -> None:
    x = rect.x() - rect.height()
    while x < rect.right():
        painter.drawLine(QLineF(x, rect.bottom(), x + rect.height(), rect.y()))
        x += step


def paint_swatch(painter: QPainter, rect: QRectF, kind: str) -> None:
    painter.setPen(Qt.PenStyle.NoPen)
    paint_kind(painter, rect, kind)
