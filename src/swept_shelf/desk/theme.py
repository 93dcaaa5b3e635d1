"""Palette, type and measures in one place, light and dark; everything scales with the desktop's text size."""

from __future__ import annotations

import os
from dataclasses import dataclass
from functools import cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontMetricsF, QGuiApplication
from PySide6.QtWidgets import QApplication

_LIGHT = {
    "desk": "#F2EFE7",
    "paper": "#FCFBF6",
    "line": "#DCD5C6",
    "wood": "#A68E6B",
    "ink": "#22303A",
    "ink2": "#5A666F",
    "rust": "#A9481F",
    "used": "#51616C",
    "free": "#E3DCCB",
    "program": "#3B6670",
    "support": "#C69A38",
    "preferences": "#7C5487",
    "cache": "#94AE86",
    "state": "#6F7FA6",
    "log": "#B5A999",
    "well": "#EDE9DE",
}
_DARK = {
    "desk": "#1B1E21",
    "paper": "#24282C",
    "line": "#3B4046",
    "wood": "#83704F",
    "ink": "#ECE7DB",
    "ink2": "#A9B0B4",
    "rust": "#E88F62",
    "used": "#8C9BA5",
    "free": "#363B40",
    "program": "#6FA3AE",
    "support": "#D8B25C",
    "preferences": "#B08ABB",
    "cache": "#A9C49A",
    "state": "#95A5CC",
    "log": "#8A8277",
    "well": "#2C3136",
}
_FONTS = {
    "body": (13, False),
    "bold": (13, True),
    "small": (12, False),
    "small_bold": (12, True),
    "head": (15, True),
    "head_plain": (15, False),
    "title": (17, True),
    "figure": (19, True),
    "station": (14, False),
    "station_bold": (14, True),
}


@dataclass(frozen=True)
class Theme:
    """`scale`: 1.0 is text at 100 %."""

    dark: bool
    scale: float

    def hex(self, token: str) -> str:
        return (_DARK if self.dark else _LIGHT)[token]

    def color(self, token: str) -> QColor:
        return QColor(self.hex(token))

    def font(self, key: str) -> QFont:
        """A font of the desktop's family; figures keep their columns (tabular)."""
        return QFont(_made_font(self.scale, key, QApplication.font().family()))

    def metrics(self, key: str) -> QFontMetricsF:
        return _made_metrics(self.scale, key, QApplication.font().family())

    def px(self, pixels: float) -> int:
        """A measure that grows with the text."""
        return round(pixels * self.scale)

    @property
    def slip_width(self) -> int:
        return round(288 * (1 + (self.scale - 1) * 0.5))


@cache
def _made_font(scale: float, key: str, _family: str) -> QFont:
    if key == "mono":
        font = QFont("monospace")
        font.setStyleHint(QFont.StyleHint.Monospace)
        font.setPixelSize(round(12 * scale))
        return font
    size, bold = _FONTS[key]
    font = QFont(QApplication.font())
    font.setPixelSize(round(size * scale))
    font.setBold(bold)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


@cache
def _made_metrics(scale: float, key: str, family: str) -> QFontMetricsF:
    return QFontMetricsF(_made_font(scale, key, family))


_current: Theme | None = None


def theme() -> Theme:
    global _current
    if _current is None:
        _current = Theme(_is_dark(), _scale())
    return _current


def set_theme(dark: bool | None = None, scale: float | None = None) -> Theme:
    """Fix light or dark, or the text scale; None follows the desktop."""
    global _current
    _current = Theme(_is_dark() if dark is None else dark, _scale() if scale is None else scale)
    return _current


def is_out_of_date() -> bool:
    """Whether the desktop is another one by now: light or dark, or the size of its text."""
    return (theme().dark, theme().scale) != (_is_dark(), _scale())


def _is_dark() -> bool:
    hints = QGuiApplication.styleHints()
    return hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark


def _scale() -> float:
    told = os.environ.get("SWEPT_SHELF_TEXT_SCALE", "")
    try:
        return min(2.0, max(0.8, float(told)))
    except ValueError:
        pass
    if QGuiApplication.platformName() in ("offscreen", "minimal"):
        return 1.0
    return min(2.0, max(1.0, round(QApplication.font().pointSizeF() / 10, 2)))


def style_sheet(t: Theme) -> str:
    """The one style sheet: plain fields, outlined buttons, one filled button."""
    c = t.hex
    pad_v, pad_h = t.px(5), t.px(10)
    return f"""
    QWidget {{ color: {c("ink")}; background: transparent; selection-background-color: {c("free")};
               selection-color: {c("ink")}; }}
    QMainWindow, #desk {{ background: {c("desk")}; }}
    #header, #drawer, #side {{ background: {c("paper")}; }}
    #header {{ border-bottom: 1px solid {c("line")}; }}
    #side {{ border: 1px solid {c("line")}; }}
    #drawer {{ border-top: 1px solid {c("line")}; border-right: 1px solid {c("line")}; }}
    QToolTip {{ color: {c("ink")}; background: {c("paper")}; border: 1px solid {c("line")}; }}
    QLabel[second="true"] {{ color: {c("ink2")}; }}
    QLabel[loud="true"] {{ color: {c("rust")}; }}
    QLineEdit {{ background: {c("paper")}; border: 1px solid {c("line")}; border-radius: 3px; padding: {t.px(4)}px {pad_h}px;
                 color: {c("ink")}; placeholder-text-color: {c("ink2")}; }}
    QLineEdit:focus {{ border: 1px solid {c("ink")}; }}
    QPushButton {{ background: transparent; border: 1px solid {c("ink2")}; border-radius: 3px; padding: {pad_v}px {pad_h}px;
                   font-weight: bold; color: {c("ink")}; }}
    QPushButton:hover {{ background: {c("well")}; }}
    QPushButton:focus {{ border: 2px solid {c("ink")}; padding: {pad_v - 1}px {pad_h - 1}px; }}
    QPushButton:disabled {{ color: {c("ink2")}; border: 1px solid {c("line")}; font-weight: normal; }}
    QPushButton[filled="true"] {{ background: {c("ink")}; color: {c("paper")}; border: 1px solid {c("ink")}; }}
    QPushButton[filled="true"]:focus {{ border: 2px solid {c("rust")}; }}
    QPushButton[filled="true"]:disabled {{ background: transparent; color: {c("ink2")}; border: 1px solid {c("line")}; }}
    QPushButton[slim="true"] {{ padding: 2px {pad_h}px; }}
    QPushButton[plain="true"] {{ border: none; font-weight: normal; text-align: left; padding: 0px; }}
    QPushButton[plain="true"]:focus {{ background: {c("well")}; }}
    QPushButton[chip="true"] {{ border: none; border-bottom: 2px solid {c("wood")}; border-radius: 0; font-weight: normal; padding: 1px 2px 2px 2px; }}
    QPushButton[chip="true"]:focus {{ background: {c("well")}; border-bottom: 2px solid {c("ink")}; padding: 1px 2px 2px 2px; }}
    QPushButton::menu-indicator {{ width: 0px; image: none; }}
    QDialog {{ background: {c("paper")}; }}
    QMenu {{ background: {c("paper")}; border: 1px solid {c("ink2")}; padding: 4px 0; }}
    QMenu::item {{ padding: {t.px(4)}px {t.px(20)}px {t.px(4)}px {t.px(24)}px; color: {c("ink")}; }}
    QMenu::item:selected {{ background: {c("well")}; }}
    QMenu::item:disabled {{ color: {c("ink2")}; }}
    QMenu::separator {{ height: 1px; background: {c("line")}; margin: 4px 0; }}
    QTableView, QTreeView {{ background: transparent; border: none; outline: none; }}
    QHeaderView {{ background: transparent; border: none; }}
    QHeaderView::section {{ background: transparent; color: {c("ink2")}; border: none; border-bottom: 1px solid {c("ink2")};
                            padding: {t.px(4)}px 6px {t.px(4)}px 8px; }}
    QScrollArea {{ background: transparent; border: none; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar::handle:vertical {{ background: {c("line")}; min-height: 24px; border-radius: 3px; margin: 0 2px; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle:horizontal {{ background: {c("line")}; min-width: 24px; border-radius: 3px; margin: 2px 0; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    """
