"""An order leaves as a file, and one that was drawn on another day or at another desk comes in."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.wire import read_order, to_json
from swept_shelf.core.orders.again import Again
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.session import Session
from swept_shelf.desk.theme import theme
from swept_shelf.handed_in import read_handed_in

_KIND = "Orders (*.json)"


class OrderFile:
    """Two buttons, and below them in what an order that came in is not what its file says."""

    def __init__(self, session: Session, above: QWidget) -> None:
        self._session, self._above = session, above

    def show(self, body: QVBoxLayout) -> None:
        s = self._session
        body.addSpacing(theme().px(8))
        row = QHBoxLayout()
        row.setSpacing(8)
        into, out = (
            button("From a file…", name="An order from a file…"),
            button("As a file…", name="This order as a file…"),
        )
        into.setEnabled(s.survey is not None and not s.past)
        out.setEnabled(s.ordering.order is not None)
        for made, act in ((into, self._ask_which), (out, self._ask_where)):
            made.setMinimumHeight(theme().px(26))
            made.clicked.connect(act)
            row.addWidget(made)
        row.addStretch(1)
        body.addLayout(row)
        if s.ordering.differs and s.ordering.order is not None:
            body.addWidget(label("Not as in its file", "bold", wrap=True))
            for words in s.ordering.differs:
                body.addWidget(label(words, "small", second=True, wrap=True))

    def _ask_where(self) -> None:
        order = self._session.ordering.order
        start = str(Path.home() / f"order-{order.id if order else ''}.json")
        path, _ = QFileDialog.getSaveFileName(self._above, spoken("Write the order"), start, spoken(_KIND))
        if path:
            self.write(path if path.endswith(".json") else path + ".json")

    def write(self, path: str) -> None:
        s = self._session
        if (order := s.ordering.order) is None:
            return

        def write() -> None:
            try:
                Path(path).write_bytes(to_json(order))
            except OSError as error:
                raise Refused(f"cannot be written: {error.strerror}", path) from None

        s.behind.do("order file", write, lambda _: s.said.emit(f"The order is {path}."), s.said.emit)

    def _ask_which(self) -> None:
        path, _ = QFileDialog.getOpenFileName(
            self._above, spoken("An order of another day or desk"), str(Path.home()), spoken(_KIND)
        )
        if path:
            self.read(path)

    def read(self, path: str) -> None:
        s = self._session
        visit, surveyed, name = s.visit, s.surveyed, s.ordering.name
        if visit is None or surveyed is None:
            return

        def read() -> Again:
            earlier = read_order(read_handed_in(path, "order"), path)
            return s.shop.orders.draw_again(earlier, visit, surveyed, path, name)

        s.behind.do("order file", read, s.ordering.take_again, s.said.emit)
