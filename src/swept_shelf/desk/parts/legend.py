"""The legend of kinds: swatch and word, in the band's order."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.terms import KINDS
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.band import paint_swatch
from swept_shelf.desk.parts.painted import Painted, line_height, text_width


class Legend(Painted):
    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(spoken("Kinds: " + ", ".join(KINDS)))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(round(sum(text_width(k, "small") + 29 for k in KINDS)), round(line_height("small")) + 4)

    def minimumSizeHint(self) -> QSize:
        return QSize(0, self.sizeHint().height())  # left out where there is no room

    def lay_out(self) -> None:
        """From the right; kinds that have no room are left out, swatches explain themselves in the drawer."""
        whole = sum(text_width(k, "small") + 29 for k in KINDS)
        x = self.width() - whole + 10
        if x < 0:
            return
        for kind in KINDS:
            rect = QRectF(x, (self.height() - 11) / 2, 11, 11)
            self.shapes.append(lambda p, r=rect, k=kind: paint_swatch(p, r, k))  # type: ignore[misc]
            self.text(
                x + 16,
                (self.height() - line_height("small")) / 2,
                text_width(kind, "small") + 2,
                kind,
                "small",
                "ink2",
            )
            x += text_width(kind, "small") + 29
