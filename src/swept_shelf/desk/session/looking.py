"""Looking: surveys, corrections of what belongs to whom, watching an application as it runs, inventories written out."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QProcess

from swept_shelf.core.belongings.corrections import ITS
from swept_shelf.core.documents.comparison import Comparison
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.reports import inventory_csv, inventory_cyclonedx
from swept_shelf.core.survey.ahead import Ahead
from swept_shelf.core.survey.so_far import SO_FAR
from swept_shelf.own_python import FOLDER, own_python
from swept_shelf.rights.asking import ASKED
from swept_shelf.workshop import Surveyed

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


class Looking:
    """`progress`: what is being looked at, the steps done and all steps; None when nothing is. `so_far`: what is known of a first
    survey while it is taken, or was when it was stopped; `ahead`: what a first one is going to read. `since`: the survey in hand
    beside that of the visit before it, once that is known."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.progress: tuple[str, int, int] | None = None
        self.problem = ""
        self.told = ""
        self.watcher: QProcess | None = None
        self._wanted = False
        self._folder = Path()
        self.so_far: Survey | None = None
        self.ahead: Ahead | None = None
        self.since: Comparison | None = None

    @property
    def in_view(self) -> Survey | None:
        """The survey in hand; while the first one is taken, what is known by now."""
        return self._session.survey or self.so_far

    def compare(self) -> None:
        """Hold the survey in hand beside that of the visit before, behind the desk."""
        s = self._session
        self.since = None
        if s.surveyed is not None:
            s.behind.do("comparison", s.shop.since_before, self._compared, lambda why: None)

    def _compared(self, since: Comparison | None) -> None:
        self.since = since
        self._session.looking_changed.emit()

    @property
    def may_unlock(self) -> bool:
        """Whether looking with the administrator's rights is worth an offer."""
        s = self._session
        return s.survey is not None and self.progress is None and not s.past and s.shop.shut(s.survey)

    def unlock(self) -> None:
        """Survey again with the administrator's rights, for which somebody is asked."""
        self._look(with_rights=True)

    def take_survey(self) -> None:
        """Survey, with the rights that the survey in hand was taken with."""
        s = self._session
        self._look(with_rights=s.survey is not None and s.shop.by_rights(s.survey))

    def _look(self, with_rights: bool) -> None:
        s = self._session
        if s.taken or self.progress is not None or s.past:
            return
        self.problem, self.told, self._wanted = "", "", True
        self.progress = (ASKED if with_rights else "", 0, 7)

        def refused(why: str) -> None:
            self.progress, self.problem = None, why
            s.looking_changed.emit()

        first = s.survey is None
        more = {} if with_rights else {"so_far": first}
        s.behind.do(
            "asking", lambda: s.shop.survey_request(with_rights=with_rights) | more, self._begin, refused
        )
        s.looking_changed.emit()

    def _begin(self, request: dict[str, Any]) -> None:
        if not self._wanted:
            self._failed(request, "cancelled")
            return
        self._session.start_worker(
            request, lambda result: self._done(request, result), lambda why: self._failed(request, why)
        )
        self._folder = Path(request["folder"])

    def cancel(self) -> None:
        self._wanted = False
        self._session.cancel_worker()

    def tell(self, kind: str, line: str, path: str) -> None:
        """Keep a correction: a path is, or is not, an application's. It counts from the next survey on."""
        s = self._session
        try:
            rule = s.shop.tell(kind, line, path)
            name = s.entry.name if s.entry else line
            belongs = "belongs" if kind == ITS else "does not belong"
            self.told = f"Kept: {rule.place} {belongs} to {name}. Survey again and it counts."
        except SweptShelfError as error:
            self.told = f"The correction was not kept: {error}"
        s.looking_changed.emit()

    def heard(self, event: dict[str, Any]) -> None:
        """How far a looking worker is."""
        if event.get("event") == "progress" and self.progress is not None:
            self.progress = (event["what"], event["done"], event["total"])
            self._session.progressed.emit()
        elif event.get("event") == "so_far" and self.progress is not None:
            file = self._folder / SO_FAR
            self._session.behind.do(
                "so far",
                lambda: read_document(Survey, file.read_bytes(), str(file)),
                self._known_so_far,
                lambda why: None,  # a newer one, or the whole survey, is there already
            )

    def _known_so_far(self, survey: Survey) -> None:
        if self.progress is not None and self._session.survey is None:
            self.so_far = survey
            self._session.looking_changed.emit()

    def _done(self, request: dict[str, Any], result: dict[str, Any]) -> None:
        s = self._session

        def keep() -> tuple[Surveyed, VisitRow, str]:
            kept = s.shop.keep_survey(request, result)
            kept.index.packages  # noqa: B018 - read while nobody waits
            visit = s.shop.ledger.visit(s.shop.machine.key)
            return kept, visit, s.shop.ledger.next_order_name(visit)

        s.behind.do("survey", keep, self._kept, lambda why: self._kept(None, why))

    def _kept(self, kept: tuple[Surveyed, VisitRow, str] | None, why: str = "") -> None:
        self.progress, self.problem = None, why
        s = self._session
        if kept is not None:
            s.surveyed, s.visit, s.ordering.name = kept
            self.so_far = None
        if s.survey and not s.survey.find(s.selected):
            s.selected = ""
        s.ordering.begin_again()
        self.compare()
        s.looking_changed.emit()
        s.surveyed_changed.emit()
        s.standing.look()
        s.ordering.draw()

    def _failed(self, request: dict[str, Any], why: str) -> None:
        s = self._session
        self.progress, self.problem = None, "" if why == "cancelled" else why
        s.behind.do("dropping", lambda: s.shop.drop_survey(request), lambda _: None, s.said.emit)
        s.looking_changed.emit()
        s.surveyed_changed.emit()

    def watch(self, seconds: int) -> None:
        """Run the application in hand for that long, in a process of its own, and keep what it alone wrote."""
        s = self._session
        if self.watcher is not None or s.entry is None:
            return
        watcher = self.watcher = QProcess(s)
        watcher.setProcessChannelMode(QProcess.ProcessChannelMode.MergedChannels)
        said: list[str] = []

        def hear() -> None:
            said.append(bytes(watcher.readAll().data()).decode("utf-8", "replace"))
            s.watched.emit("".join(said), True)

        def end() -> None:
            hear()
            self.watcher = None
            s.watched.emit("".join(said) or "nothing was seen", False)

        watcher.readyRead.connect(hear)
        watcher.finished.connect(end)
        watcher.errorOccurred.connect(
            lambda error: end() if error == QProcess.ProcessError.FailedToStart else None
        )
        where = ["--root", s.shop.machine.root, "--ledger", str(s.shop.ledger.file)]
        act = ["watch", s.entry.id, "--run", "--keep", "--seconds", str(seconds)]
        program, *arguments = own_python("swept_shelf", *where, *act)
        watcher.setWorkingDirectory(FOLDER)
        watcher.start(program, arguments)

    def write_inventory(self, path: str, form: str, entries: list[Application | LeftBehind]) -> None:
        """`form`: csv of `entries`, json of the whole survey, or cyclonedx of everything installed."""
        s = self._session
        assert s.survey is not None and s.surveyed is not None
        try:
            if form == "csv":
                data = inventory_csv(s.survey, entries)
            elif form == "json":
                data = (s.surveyed.folder / "survey.json").read_bytes()
            else:
                data = inventory_cyclonedx(s.survey)
            Path(path).write_bytes(data)
            s.said.emit(f"Wrote {path}")
        except OSError as error:
            s.said.emit(f"{path}: {error.strerror}")

    def close(self) -> None:
        if self.watcher is not None:
            self.watcher.kill()
            self.watcher.waitForFinished(2000)
