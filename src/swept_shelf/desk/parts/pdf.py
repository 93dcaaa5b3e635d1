"""A page of ours as PDF, by Qt's own writer."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QMarginsF
from PySide6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPainter, QPdfWriter, QTextDocument

from swept_shelf.core.documents.errors import Refused

_SMALLER = (1.0, 1.15, 1.3, 1.5)  # how much more than a sheet holds may be drawn on one


def write_pdf(html: str, path: Path, title: str, one_sheet: bool = False) -> int:
    """Write `html` on sheets of A4; returns how many. `one_sheet`: drawn smaller where that puts it on one.

    Raises Refused where the file cannot be written."""
    if QGuiApplication.instance() is None:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        QGuiApplication([])
    try:
        path.open("wb").close()
    except OSError as error:
        raise Refused(f"cannot be written: {error.strerror}", str(path)) from None
    writer = QPdfWriter(str(path))
    writer.setTitle(title)
    writer.setCreator("Swept Shelf")
    writer.setPageLayout(
        QPageLayout(
            QPageSize(QPageSize.PageSizeId.A4),
            QPageLayout.Orientation.Portrait,
            QMarginsF(16, 14, 16, 14),
            QPageLayout.Unit.Millimeter,
        )
    )
    writer.setResolution(96)
    document = QTextDocument()
    document.setDocumentMargin(0)
    document.setHtml(html)
    sheet = writer.pageLayout().paintRectPixels(96).size().toSizeF()
    for smaller in _SMALLER if one_sheet else ():
        document.setPageSize(sheet * smaller)
        if document.pageCount() == 1:
            painter = QPainter(writer)
            painter.scale(1 / smaller, 1 / smaller)
            document.drawContents(painter)
            painter.end()
            return 1
    document.setPageSize(sheet)
    document.print_(writer)
    return document.pageCount()
