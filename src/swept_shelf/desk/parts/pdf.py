"""A page of ours as PDF, by Qt's own writer."""

from __future__ import annotations

import os
from pathlib import Path

from PySide6.QtCore import QMarginsF
from PySide6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPdfWriter, QTextDocument

from swept_shelf.core.documents.errors import Refused


def write_pdf(html: str, path: Path, title: str) -> int:
    """Write `html` on sheets of A4; returns how many. Raises Refused where the file cannot be written."""
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
    document.setPageSize(writer.pageLayout().paintRectPixels(96).size().toSizeF())
    document.print_(writer)
    return document.pageCount()
