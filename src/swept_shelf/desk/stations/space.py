"""Space that came back: promised by the order against measured on the volume."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QSize
from PySide6.QtWidgets import QSizePolicy

from swept_shelf.core.documents.clearance import VolumeResult
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.band import paint_hatch
from swept_shelf.desk.parts.painted import Painted, line_height, text_width


class Space(Painted):
    def __init__(self) -> None:
        super().__init__()
        self._volumes: list[VolumeResult] = []
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName(spoken("Space that came back"))

    def show_volumes(self, volumes: list[VolumeResult]) -> None:
        self._volumes = volumes
        self.setAccessibleDescription(spoken("; ".join(f"{v.mount}: {space_words(v)}" for v in volumes)))
        self.setFixedHeight(self.sizeHint().height())
        self.refresh()

    def _pitch(self) -> float:
        return (
            max(34.0, line_height("small") * 2 + 8)
            if self._narrow()
            else max(34.0, line_height("small") + 12)
        )

    def _narrow(self) -> bool:
        return any(text_width(space_words(v), "small") > self.width() * 0.58 for v in self._volumes)

    def sizeHint(self) -> QSize:
        return QSize(400, round(self._pitch() * max(1, len(self._volumes))))

    def minimumSizeHint(self) -> QSize:
        return QSize(200, self.sizeHint().height())

    def lay_out(self) -> None:
        most = max((v.promised for v in self._volumes), default=1) or 1
        name = max((text_width(v.mount, "bold") for v in self._volumes), default=0) + 24
        narrow = self._narrow()
        room = (self.width() - name) * (1.0 if narrow else 0.36)
        for i, v in enumerate(self._volumes):
            y = self._pitch() * i + 4
            self.text(0, y, name - 8, v.mount, "bold")
            whole = room * v.promised / most
            back = max(0.0, whole * min(1.0, max(0, v.came_back) / max(1, v.promised)))
            self.fill(name, y + 3, back, 12, "used")
            rect = QRectF(name + back, y + 3, max(0.0, whole - back), 12)
            self.shapes.append(lambda p, r=rect: paint_hatch(p, r))  # type: ignore[misc]
            at = (name, y + line_height("small") + 2) if narrow else (name + room + 16, y)
            self.text(at[0], at[1], self.width() - at[0], space_words(v), "small", "ink2")
        if self.height() != self.sizeHint().height():
            self.setFixedHeight(self.sizeHint().height())


def space_words(v: VolumeResult) -> str:
    back = f"{human_bytes(v.came_back)} back now" if v.came_back > 0 else "nothing back yet"
    words = f"{human_bytes(v.promised)} promised · {back}"
    if v.on_shelf:
        words += f" · {human_bytes(v.on_shelf)} on the holding shelf"
    return words
