"""Reads a window as a stern eye would: every visible text, its place, its contrast, every control."""

from __future__ import annotations

import itertools
import math

import numpy as np
import numpy.typing as npt
from PySide6.QtCore import QPoint, QRect, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage
from PySide6.QtWidgets import QAbstractButton, QAbstractItemView, QLabel, QLineEdit, QWidget

from swept_shelf.desk.parts.labels import Elided
from swept_shelf.desk.parts.painted import Painted
from swept_shelf.desk.parts.rows import RowTable
from swept_shelf.desk.theme import theme

LEAST = 4.5
Pixels = npt.NDArray[np.uint32]


def audit(window: QWidget) -> list[str]:
    """Everything wrong with what is visible in `window` now."""
    image = _pixels(window.grab().toImage())
    wrong: list[str] = []
    texts: list[tuple[str, QRectF]] = []
    for widget in window.findChildren(QWidget):
        if widget.isVisible() and widget.visibleRegion().boundingRect().isValid():
            wrong += _named_and_reachable(widget)
            if isinstance(widget, Painted):
                wrong += _painted(widget, window, texts)
            elif isinstance(widget, QLabel):
                wrong += _label(widget, window, image, texts)
            elif isinstance(widget, QAbstractButton):
                wrong += _button(widget, window, image, texts)
            elif isinstance(widget, RowTable):
                wrong += _table(widget)
    return wrong + _overlaps(texts)


def _pixels(image: QImage) -> Pixels:
    image = image.convertToFormat(QImage.Format.Format_RGB32)
    rows = np.frombuffer(image.constBits(), np.uint32).reshape(image.height(), image.bytesPerLine() // 4)
    return rows[:, : image.width()].copy()


def _mapped(widget: QWidget, window: QWidget, rect: QRectF) -> QRectF:
    at = widget.mapTo(window, QPoint(0, 0))
    return rect.translated(at.x(), at.y())


def _named_and_reachable(widget: QWidget) -> list[str]:
    control = isinstance(widget, QAbstractButton | QLineEdit | QAbstractItemView | Painted)
    if (
        not control
        or widget.parent() is None
        or "qt_" in widget.objectName()
        or type(widget).__name__ in ("QHeaderView", "QToolButton")
    ):
        return []
    if isinstance(widget.parent(), QAbstractItemView | QLineEdit):
        return []
    wrong = []
    if not widget.accessibleName():
        wrong.append(f"{type(widget).__name__} has no accessible name")
    acts = (
        isinstance(widget, QAbstractButton | QLineEdit | QAbstractItemView)
        or widget.focusPolicy() != Qt.FocusPolicy.NoFocus
    )
    if acts and widget.isEnabled() and not widget.focusPolicy() & Qt.FocusPolicy.TabFocus:
        wrong.append(f"{widget.accessibleName() or type(widget).__name__} is not reached by keyboard")
    return wrong


def _painted(widget: Painted, window: QWidget, texts: list[tuple[str, QRectF]]) -> list[str]:
    wrong = []
    for mark in widget.texts:
        wide = theme().metrics(mark.font).horizontalAdvance(mark.text)
        if not mark.angle:
            if (
                wide > mark.rect.width() + 1
                or mark.rect.right() > widget.width() + 1
                or mark.rect.bottom() > widget.height() + 1
                or mark.rect.x() < -1
            ):
                wrong.append(f"“{mark.text}” is cut in {widget.accessibleName()}")
            left = mark.rect.x()
            if mark.align & Qt.AlignmentFlag.AlignRight:
                left = mark.rect.right() - wide
            elif mark.align & Qt.AlignmentFlag.AlignHCenter:
                left = mark.rect.center().x() - wide / 2
            shown = QRectF(widget.visibleRegion().boundingRect()).intersected(
                QRectF(left, mark.rect.y(), wide, mark.rect.height())
            )
            if not shown.isEmpty():
                texts.append((mark.text, _mapped(widget, window, shown)))
        if contrast(theme().color(mark.color), theme().color(mark.background)) < LEAST:
            wrong.append(f"“{mark.text}” has too little contrast")
    return wrong + _standing(widget)


def _standing(widget: Painted) -> list[str]:
    """Turned texts: neighbours must keep a line's distance across their direction."""
    turned = [m for m in widget.texts if m.angle]
    wrong = []
    for a, b in itertools.pairwise(turned):
        if abs(b.rect.bottom() - a.rect.bottom()) >= max(a.rect.width(), b.rect.width()):
            continue  # on another board
        across = abs(b.rect.x() - a.rect.x()) * math.sin(math.radians(abs(a.angle)))
        if across < QFontMetricsF(theme().font(a.font)).ascent() * 0.8:
            wrong.append(f"“{a.text}” overlaps “{b.text}”")
    return wrong


def _label(label: QLabel, window: QWidget, image: Pixels, texts: list[tuple[str, QRectF]]) -> list[str]:
    if not label.text():
        return []
    metrics = QFontMetricsF(label.font())
    inner = QRectF(label.contentsRect())
    wrong = []
    if isinstance(label, Elided):
        shown = metrics.elidedText(label.text(), Qt.TextElideMode.ElideRight, inner.width())
        if shown in ("…", "") and len(label.text()) > 3:
            wrong.append(f"“{label.text()}” is cut to nothing")
        rect = QRectF(
            inner.x(), inner.y(), min(inner.width(), metrics.horizontalAdvance(label.text())), inner.height()
        )
        if inner.height() + 1 < metrics.height():
            wrong.append(f"“{label.text()}” is cut in height")
    elif label.wordWrap():
        need = label.heightForWidth(label.width())
        if need > label.height() + 2:
            wrong.append(f"“{label.text()[:40]}” is cut: {label.height()} of {need} pixels high")
        rect = inner
    else:
        wide = metrics.horizontalAdvance(label.text())
        if wide > inner.width() + 1 or metrics.height() > inner.height() + 2:
            wrong.append(f"“{label.text()}” is cut")
        rect = QRectF(inner.x(), inner.y(), min(wide, inner.width()), inner.height())
    visible = QRectF(label.visibleRegion().boundingRect()).intersected(rect)
    if not visible.isEmpty():
        texts.append((label.text()[:40], _mapped(label, window, visible)))
        wrong += _contrast_on(image, label, window, label.palette().windowText().color(), label.text())
    return wrong


def _button(
    button: QAbstractButton, window: QWidget, image: Pixels, texts: list[tuple[str, QRectF]]
) -> list[str]:
    if not button.text():
        return []
    wide = QFontMetricsF(button.font()).horizontalAdvance(button.text())
    wrong = []
    if wide > button.width() - 6 or QFontMetricsF(button.font()).height() > button.height():
        wrong.append(f"button “{button.text()}” is cut")
    if not button.visibleRegion().isEmpty():
        texts.append((button.text(), _mapped(button, window, QRectF(button.visibleRegion().boundingRect()))))
        wrong += _contrast_on(image, button, window, button.palette().buttonText().color(), button.text())
    return wrong


def _table(table: RowTable) -> list[str]:
    """Figures are never cut; a column that has no room is left out whole. Headings fit their columns."""
    wrong = []
    header = table.horizontalHeader()
    metrics = QFontMetricsF(header.font())
    for column, (name, right) in enumerate(table.rows.columns):
        if table.isColumnHidden(column) or header.isHidden():
            continue
        if metrics.horizontalAdvance(name) > table.columnWidth(column) - 12:
            wrong.append(f"heading “{name}” of {table.accessibleName()} is cut")
        if right:
            for row in table.rows.rows[:200]:
                cell = row.cells[column] if column < len(row.cells) else None
                if (
                    cell
                    and cell.text
                    and theme().metrics(cell.font).horizontalAdvance(cell.text)
                    > table.columnWidth(column) - 14
                ):
                    wrong.append(f"“{cell.text}” is cut in {table.accessibleName()}")
    return wrong


def _overlaps(texts: list[tuple[str, QRectF]]) -> list[str]:
    wrong = []
    for i, (a, first) in enumerate(texts):
        for b, second in texts[i + 1 :]:
            both = first.adjusted(1, 3, -1, -3).intersected(second.adjusted(1, 3, -1, -3))
            if both.width() > 1 and both.height() > 1:
                wrong.append(f"“{a}” overlaps “{b}”")
    return wrong


def _contrast_on(image: Pixels, widget: QWidget, window: QWidget, ink: QColor, text: str) -> list[str]:
    """Contrast of the ink against the ground really painted there (its most frequent colour)."""
    rect = QRect(widget.mapTo(window, QPoint(0, 0)), widget.size()).intersected(
        QRect(0, 0, image.shape[1], image.shape[0])
    )
    rect = rect.intersected(
        QRect(
            widget.mapTo(window, widget.visibleRegion().boundingRect().topLeft()),
            widget.visibleRegion().boundingRect().size(),
        )
    )
    pixels, counts = np.unique(
        image[rect.top() : rect.bottom(), rect.left() : rect.right()], return_counts=True
    )
    if not len(counts):
        return []
    ground = QColor(int(pixels[counts.argmax()]))
    value = contrast(ink, ground)
    return [f"“{text[:40]}” has contrast {value:.1f}"] if value < LEAST else []


def contrast(a: QColor, b: QColor) -> float:
    """Contrast ratio (WCAG 2.2, relative luminance)."""

    def luminance(c: QColor) -> float:
        parts = [
            x / 12.92 if x <= 0.04045 else ((x + 0.055) / 1.055) ** 2.4
            for x in (c.redF(), c.greenF(), c.blueF())
        ]
        return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]

    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)
