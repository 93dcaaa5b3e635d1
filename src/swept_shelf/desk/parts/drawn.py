"""Our own small drawings, kept as SVG beside the code: read once, painted in any colour of the theme and any size."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

from PySide6.QtCore import QByteArray, QRectF, Qt
from PySide6.QtGui import QGuiApplication, QIcon, QPainter, QPixmap
from PySide6.QtSvg import QSvgRenderer

from swept_shelf.desk.theme import theme

_DRAWN = {p.stem: p.read_bytes() for p in (Path(__file__).parents[1] / "drawn").glob("*.svg")}


def paint_drawn(painter: QPainter, name: str, rect: QRectF, token: str) -> None:
    """`name`: of the file; `token`: what stands black in it takes this colour."""
    _renderer(name, theme().hex(token)).render(painter, rect)


def drawn(name: str, token: str, size: int) -> QPixmap:
    """A pixmap of `size` pixels, sharp on this screen."""
    ratio = QGuiApplication.primaryScreen().devicePixelRatio()
    pixmap = QPixmap(round(size * ratio), round(size * ratio))
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    paint_drawn(painter, name, QRectF(0, 0, size, size), token)
    painter.end()
    return pixmap


def own_icon() -> QIcon:
    """The program's own, in the sizes that desktops ask for."""
    icon = QIcon()
    for size in (16, 24, 32, 48, 64, 128, 256):
        icon.addPixmap(drawn("swept-shelf", "ink", size))
    return icon


@lru_cache(maxsize=64)
def _renderer(name: str, color: str) -> QSvgRenderer:
    return QSvgRenderer(QByteArray(_DRAWN[name].replace(b"#000", color.encode())))
