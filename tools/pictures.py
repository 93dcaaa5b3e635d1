"""Makes the pictures of every station from the made-up machine: `make pictures`."""

from __future__ import annotations

import os
import shutil
import signal
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = (
    tempfile.mkdtemp()
)  # pictures show the desk as it comes, not as somebody arranged it

from PySide6.QtCore import QSizeF, QTimer
from PySide6.QtGui import QFont, QImage, QPainter, QTextDocument
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from swept_shelf.cli.demo import first_visit
from swept_shelf.core.demo import build_demo
from swept_shelf.core.documents.terms import SoFar
from swept_shelf.core.documents.upkeep import Settings
from swept_shelf.core.orders import Choice
from swept_shelf.core.reports import owner_html, questions_html
from swept_shelf.desk.language import speak
from swept_shelf.desk.session import Session
from swept_shelf.desk.stations.upkeep_page import UpkeepPage
from swept_shelf.desk.theme import set_theme
from swept_shelf.desk.window import Window
from swept_shelf.desk.worker_process import WorkerProcess
from swept_shelf.upkeep.round import Round, settings_file
from swept_shelf.upkeep.settings import changed, write_settings
from swept_shelf.worker.client import run_worker
from swept_shelf.workshop import Workshop


def wait(condition: Callable[[], bool], seconds: float = 120) -> None:
    for _ in range(round(seconds * 50)):
        if condition():
            QTest.qWait(80)
            return
        QApplication.processEvents()
        time.sleep(0.02)  # not QTest.qWait: what works behind the desk must have its turn
    raise SystemExit("the desk did not get there")


def draw_page(html: str, path: Path) -> None:
    """A page as it is printed."""
    document = QTextDocument()
    document.setDocumentMargin(36)
    document.setHtml(html)
    document.setPageSize(QSizeF(720, 1018))
    image = QImage(720, 1018, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    document.drawContents(painter)
    painter.end()
    image.save(str(path))


def main(out: Path) -> None:
    app = QApplication([])
    app.setFont(QFont("Noto Sans"))
    out.mkdir(parents=True, exist_ok=True)
    folder = Path(tempfile.gettempdir()) / "reading-room"
    folder.mkdir()
    try:
        machine = build_demo(folder / "desk")
        shoot_first(machine, out)
        first_visit(machine)
        for dark in (False, True):
            shoot(machine, out, dark)
        shoot_in_german(machine, out)
    finally:
        shutil.rmtree(folder)


def opened(machine: Path, dark: bool) -> tuple[Session, Window]:
    set_theme(dark, 1.0)
    session = Session(Workshop(str(machine)))
    window = Window().furnish(session)
    window.resize(1280, 800)
    window.show()
    session.open()
    return session, window


def shoot_first(machine: Path, out: Path) -> None:
    """Before the first survey, and while it is taken: the worker is held once true sizes are known."""
    session, window = opened(machine, False)
    wait(lambda: session.looking.ahead is not None)
    QTest.qWait(150)
    window.grab().save(str(out / "survey-first.png"))
    held: list[int] = []

    def hold(event: dict[str, Any]) -> None:
        if event.get("known") == SoFar.SIZED and isinstance(session.worker, WorkerProcess):
            held.append(session.worker.pid)
            os.kill(session.worker.pid, signal.SIGSTOP)

    session.looking.take_survey()
    wait(lambda: session.worker is not None)
    session.worker.progressed.connect(hold)  # type: ignore[union-attr]
    wait(lambda: bool(held) and session.looking.so_far is not None)
    so_far = session.looking.so_far
    assert so_far is not None and so_far.so_far == SoFar.SIZED
    for app in sorted(so_far.applications, key=lambda a: -a.bytes.total)[1:3]:
        session.ordering.set_verdict(app.id, "remove")
    session.select(so_far.applications[0].id)
    QTest.qWait(150)
    window.grab().save(str(out / "survey-looking.png"))
    os.kill(held[0], signal.SIGCONT)
    session.looking.cancel()
    wait(lambda: session.looking.progress is None and not session.busy)
    session.close()
    window.close()


def draw_questions(session: Session, out: Path) -> None:
    """What the owner is asked about three applications: one with content of somebody's, one that starts by itself, one plain."""
    survey, shop = session.survey, session.shop
    assert survey is not None and session.visit is not None and session.surveyed is not None
    apps = sorted(survey.applications, key=lambda a: -a.comes_back)
    chosen = [
        next(a.id for a in apps if any(b.personal for b in a.belongings)),
        next(a.id for a in apps if any(s.enabled and s.how == "login" for s in a.starts)),
        next(a.id for a in apps if a.last_use.at is None),
    ]
    order = shop.orders.draw(session.visit, session.surveyed, Choice(dict.fromkeys(chosen, "ask_owner")))
    sheet = questions_html(order, survey, shop.machine.now(), "Orla Finch", printed=True)
    draw_page(sheet, out / "question-sheet.png")


def shoot_upkeep(window: Window, out: Path) -> None:
    """The page of upkeep, after a round."""
    shop = window.session.shop
    write_settings(
        settings_file(shop), changed(Settings(), ["free=500MB", "empty=60d", "trim:thumbnails=90d"])
    )
    Round(Workshop(shop.machine.root), lambda request, _: run_worker(request)).go()
    page = UpkeepPage(window.session, window)
    page.show()
    wait(lambda: not window.session.behind.busy)
    QTest.qWait(150)
    page.grab().save(str(out / "upkeep.png"))
    page.close()


def shoot(machine: Path, out: Path, dark: bool) -> None:
    """All stations in the light; Shelves and Ledger again in the dark."""
    session, window = opened(machine, dark)
    QTest.qWait(100)

    def keep(name: str) -> None:
        wait(lambda: not (session.behind.busy or session.standing.busy))
        QTest.qWait(150)
        station = {"run-sheet": "Carry out"}.get(name, name.split("-")[0].capitalize())
        shown = window.stations.currentWidget().accessibleName()
        assert shown == station, f"{name} would show {shown}"
        window.grab().save(str(out / f"{name}{'-dark' if dark else ''}.png"))

    if dark:
        window.go("Ledger")
        keep("ledger")
        window.go("Survey")
        session.select(max(session.survey.applications, key=lambda a: a.bytes.total).id)  # type: ignore[union-attr]
        keep("survey-shelves")
        window.close()
        return
    session.looking.take_survey()
    wait(lambda: session.survey is not None and session.looking.progress is None)
    assert session.survey is not None
    apps = sorted(session.survey.applications, key=lambda a: -a.bytes.total)
    hero = max(apps, key=lambda a: len({r.kind for r in a.references}))
    old = next(
        a
        for a in apps
        if a.id != hero.id and a.last_use.at and (session.survey.surveyed_at - a.last_use.at).days > 366
    )
    used = next(
        a
        for a in apps
        if a.last_use.at and (session.survey.surveyed_at - a.last_use.at).days < 1 and a.bytes.cache
    )
    for line, verdict in ((hero.id, "remove"), (old.id, "remove"), (used.id, "clear_cache")):
        session.ordering.set_verdict(line, verdict)
    session.ordering.set_verdict(session.survey.left_behind[0].id, "remove")
    session.select(hero.id)
    keep("survey-shelves")
    session.select(hero.id)
    window.survey.drawer.page_wanted.emit()
    window.survey.page.table.put_in_hand(next(b.path for b in hero.belongings if b.personal))
    keep("survey-belongings")
    window.survey.page.closed.emit()
    window.survey.take_lens("List")
    keep("survey-list")
    window.survey.whose(f"/home/{session.survey.people[0].name}")
    keep("survey-places")
    window.survey.take_lens("Shelves")
    window.go("Order")
    assert session.ordering.order is not None
    session.ordering.answer([session.ordering.order.settle[0].id], "they_stay")
    keep("order")
    draw_questions(session, out)
    for question in session.ordering.order.settle:
        session.ordering.answer([question.id], "they_stay")
    wait(lambda: not session.busy)
    shot = QTimer()
    shot.setInterval(5)

    def while_working() -> None:
        if (
            sum(r.state == "done" for r in session.carrying.records) >= 12
            and session.carrying.state == "working"
        ):
            shot.stop()
            QApplication.sendPostedEvents()  # what changed a moment ago is laid out
            window.grab().save(str(out / "carry-out.png"))

    shot.timeout.connect(while_working)
    shot.start()
    held = next((machine / "root/home").rglob("shaders.bin"))
    with open(held, "rb"):
        session.carrying.carry_out()
        wait(lambda: session.carrying.state == "ended" and not session.busy)
    shot.stop()
    window.go("Carry out")
    keep("run-sheet")
    launcher = machine / "root/etc/cron.d/tiles-again"
    launcher.write_text(f"# put there by hand\n15 4 * * * root {hero.executables[0]} --tiles\n")
    session.proving.look_again()
    wait(lambda: not session.busy)
    window.go("Clearance")
    window.clearance.matrix.setFocus()
    keep("clearance")
    session.proving.look_for(hero.name)
    wait(lambda: session.proving.trace is not None and not session.busy)
    keep("clearance-trace")
    session.proving.close_trace()
    draw_page(
        owner_html(session.shop.proof.report(session.visit), printed=True), out / "page-for-the-owner.png"
    )  # type: ignore[arg-type]
    window.go("Ledger")
    keep("ledger")
    shoot_upkeep(window, out)
    for visit in window.ledger.visits[:2]:
        visit.click()
    wait(lambda: window.ledger.pages.currentIndex() == 1)
    keep("ledger-compared")
    window.close()


def shoot_in_german(machine: Path, out: Path) -> None:
    speak("de")
    session, window = opened(machine, False)
    window.go("Clearance")
    wait(lambda: not (session.behind.busy or session.standing.busy))
    QTest.qWait(150)
    assert window.stations.currentWidget().accessibleName() == "Nachweis"
    window.grab().save(str(out / "clearance-german.png"))
    window.close()
    speak("en")


if __name__ == "__main__":
    main(Path(sys.argv[1] if len(sys.argv) > 1 else "docs/screenshots"))
