"""The desk's one window: header, five stations, and a line at the foot for what was done.

It is shown empty first and furnished when the ledger is open: what is heavy is imported behind the first picture."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

from PySide6.QtCore import QEvent, QSize, QTimer, Signal
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PySide6.QtWidgets import QHBoxLayout, QMainWindow, QStackedWidget, QVBoxLayout, QWidget

from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.times import clock
from swept_shelf.desk.header import Header
from swept_shelf.desk.language import leave_as_they_are, spoken
from swept_shelf.desk.names import STATIONS
from swept_shelf.desk.parts.labels import button, label
from swept_shelf.desk.parts.tips import keep_tips_plain
from swept_shelf.desk.theme import style_sheet, theme

if TYPE_CHECKING:
    from swept_shelf.desk.session import Session


_FRAME = QSize(8, 36)  # what a desktop puts round a window


class Window(QMainWindow):
    desktop_changed = Signal()

    session: Session

    def __init__(self) -> None:
        super().__init__()
        keep_tips_plain()
        self.setWindowTitle(spoken("Swept Shelf"))
        self.setMinimumSize(1024, 640)
        self.resize(QSize(1280, 800).boundedTo(self.screen().availableSize() - _FRAME))
        self.setStyleSheet(style_sheet(theme()))
        desk = QWidget()
        desk.setObjectName("desk")
        outer = QVBoxLayout(desk)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self.header = Header()
        outer.addWidget(self.header)
        self.stations = QStackedWidget()
        opening = label("Opening the ledger.", second=True)
        opening.setContentsMargins(24, 24, 24, 24)
        self.stations.addWidget(opening)
        outer.addWidget(self.stations, 1)
        self.foot = label("", "small", wrap=True)
        self.foot.setContentsMargins(24, 4, 24, 6)
        self.foot.setVisible(False)
        outer.addWidget(self.foot)
        self.setCentralWidget(desk)
        self.header.take(STATIONS[0])
        self._quiet = QTimer(self)
        self._quiet.setSingleShot(True)
        self._quiet.timeout.connect(lambda: self.foot.setVisible(False))

    def refuse(self, why: str) -> None:
        """In place of all stations: why nothing can be shown."""
        page = QWidget()
        body = QVBoxLayout(page)
        body.setContentsMargins(24, 40, 24, 24)
        body.setSpacing(12)
        body.addWidget(label("Nothing can be shown here", "title"))
        body.addWidget(label(f"{why[:1].upper()}{why[1:]}.", wrap=True))
        body.addWidget(label("Nothing was changed.", second=True))
        row = QHBoxLayout()
        close = button("Close", filled=True)
        close.clicked.connect(self.close)
        row.addWidget(close)
        row.addStretch(1)
        body.addLayout(row)
        body.addStretch(1)
        self.header.hide()
        self.stations.addWidget(page)
        self.stations.setCurrentWidget(page)
        close.setFocus()

    def _leave_names(self) -> None:
        """What applications and people are called is no word of any language."""
        survey = self.session.survey if self.session else None
        if survey is not None:
            names = {a.name for a in survey.applications} | {x.name for x in survey.left_behind}
            leave_as_they_are(names | {p.name for p in survey.people})

    def furnish(self, session: Session) -> Window:
        """Put the stations in, for this session."""
        from swept_shelf.desk.acts import Acts
        from swept_shelf.desk.stations.carry import CarryStation
        from swept_shelf.desk.stations.clearance import ClearanceStation
        from swept_shelf.desk.stations.ledger import LedgerStation
        from swept_shelf.desk.stations.order import OrderStation
        from swept_shelf.desk.survey.station import SurveyStation

        self.session = session
        self.setWindowTitle(spoken(f"{session.shop.machine.name} · Swept Shelf"))
        self.survey, self.order, self.carry = (
            SurveyStation(session),
            OrderStation(session),
            CarryStation(session),
        )
        self.clearance, self.ledger = ClearanceStation(session), LedgerStation(session)
        opening = self.stations.widget(0)
        for station in (self.survey, self.order, self.carry, self.clearance, self.ledger):
            self.stations.addWidget(station)
        if opening is not None:
            self.stations.removeWidget(opening)
            opening.deleteLater()
        self.header.station_chosen.connect(self.go)
        session.station_wanted.connect(self.go)
        session.said.connect(self.say)
        session.surveyed_changed.connect(self._leave_names)
        for signal in (
            session.surveyed_changed,
            session.run_changed,
            session.ledger_changed,
            session.looking_changed,
        ):
            signal.connect(self._show_header)
        self._show_header()
        self.acts = Acts(self)
        self.setAcceptDrops(True)
        self.go(STATIONS[0])
        return self

    def go(self, station: str) -> None:
        """Take a station, with the keyboard in its middle; Order is rehearsed when it was not yet."""
        self.header.take(station)
        self.stations.setCurrentIndex(STATIONS.index(station))
        middles = (
            self.survey.lens_in_hand,
            self.order.table,
            self.carry.table,
            self.clearance.matrix,
            self.ledger.table,
        )
        middle = middles[STATIONS.index(station)]
        here = self.stations.currentWidget()
        if middle.isVisibleTo(self):
            middle.setFocus()
        elif here is not None:
            here.setFocus()  # nothing is there to be walked: no key goes to what is out of sight
        if station == "Order" and self.session.ordering.rehearsal is None:
            self.session.ordering.rehearse()

    @property
    def station(self) -> str:
        return STATIONS[self.stations.currentIndex()]

    def say(self, text: str) -> None:
        self.foot.setText(spoken(text))
        self.foot.setVisible(True)
        self._quiet.start(12_000)

    def _show_header(self) -> None:
        s, machine = self.session, self.session.shop.machine
        parts = []
        if s.visit is not None:
            parts.append(f"Visit {s.visit.number}")
        if (survey := s.looking.in_view) is not None:
            people = sum(p.uid >= 1000 for p in survey.people)
            parts += [
                "not surveyed to the end" if survey.so_far else f"surveyed {clock(survey.surveyed_at)}",
                plural(len(survey.applications), "application"),
                plural(people, "person", "people"),
            ]
        if s.carrying.state == "working" and s.carrying.run is not None:
            parts = [f"order {s.carrying.run.order.id}", "carrying out"]
        rights = "administrator" if os.geteuid() == 0 else "looking needs no password"
        self.header.show_machine(
            machine.name,
            " · ".join(parts) or "not looked at yet",
            "this computer" if machine.live else machine.root,
            "an earlier visit: shown only"
            if s.past
            else rights
            if machine.live
            else "another root than this computer’s",
            not machine.live,
        )

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if event.mimeData().hasUrls() or event.mimeData().text().startswith("/"):
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent) -> None:
        """Whose is this? A file dropped on the desk, or a path as text; paths of this computer below the root lose it."""
        urls = event.mimeData().urls()
        path = urls[0].toLocalFile() if urls else event.mimeData().text().strip()
        path = self.session.inside(path)
        if path.startswith("/") and self.session.survey is not None:
            self.go(STATIONS[0])
            self.survey.whose(path)
            event.acceptProposedAction()

    def changeEvent(self, event: QEvent) -> None:
        super().changeEvent(event)
        if event.type() == QEvent.Type.ApplicationFontChange:
            self.desktop_changed.emit()

    def closeEvent(self, event: QCloseEvent) -> None:
        if hasattr(self, "session"):
            self.session.close()
        super().closeEvent(event)
