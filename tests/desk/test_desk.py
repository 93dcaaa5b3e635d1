"""The desk driven for real: clicks and keys on the real window, the real worker, the real packages."""

from __future__ import annotations

import itertools
import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QFileDialog, QLabel

from deskwork import Desk
from helpers import differences, dpkg_status, picture, running_now
from swept_shelf.desk.survey.shelf_layout import lay_out_shelves, shelves_of


@pytest.fixture
def desk(made_up, qtbot):
    with Desk(made_up, qtbot) as open_desk:
        yield open_desk


@pytest.fixture
def surveyed_desk(job, qtbot):
    """A desk on a machine of its own that is surveyed."""
    with Desk(job.machine, qtbot) as open_desk:
        yield open_desk


@pytest.fixture
def looked_desk(looked, qtbot):
    """A desk on a machine that is surveyed already, and that no test of these changes."""
    with Desk(looked.machine, qtbot) as open_desk:
        yield open_desk


def test_the_whole_job_with_mouse_and_keys(desk):
    before = picture(desk.machine.root)
    hero = desk.machine.id("map", "7")
    desk.click(desk.window.survey.first.look)
    desk.wait(lambda: desk.session.survey is not None and desk.session.looking.progress is None)
    box = desk.window.survey.shelves.box_of(hero)
    QTest.mouseClick(desk.window.survey.shelves, Qt.MouseButton.LeftButton, pos=box.center().toPoint())
    assert desk.session.selected == hero
    assert desk.window.survey.drawer.belongings.rows.rowCount() == len(desk.session.entry.belongings)
    QTest.keyClick(desk.window.survey.shelves, Qt.Key.Key_Space)
    assert desk.session.ordering.order.line(hero).verdict == "remove"
    QTest.keyClick(desk.window, Qt.Key.Key_2, Qt.KeyboardModifier.AltModifier)
    desk.wait(lambda: desk.session.ordering.rehearsal is not None)
    assert desk.window.order.table.rows.rowCount() > 20
    assert (
        not desk.window.order.carry_button.isEnabled()
        and desk.window.order.carry_button.text() == "1 to settle"
    )
    desk.click(desk.button("They stay", desk.window.order))
    desk.wait(lambda: desk.window.order.carry_button.isEnabled())
    desk.click(desk.window.order.carry_button)
    desk.wait(
        lambda: (
            desk.session.carrying.state == "ended"
            and desk.session.proving.clearance is not None
            and not desk.session.busy
        )
    )
    assert dpkg_status(desk.machine, hero.removeprefix("debian:")) == "not-installed"
    assert desk.session.proving.clearance.findings == 0
    assert {r.state for r in desk.session.carrying.records} == {"done"}
    desk.window.go("Clearance")
    QTest.keyClick(desk.window.clearance.matrix, Qt.Key.Key_Right)
    desk.window.go("Ledger")
    assert desk.window.ledger.table.rows.rowCount() == 1
    desk.click(desk.window.ledger.back_button)
    desk.wait(lambda: not desk.session.busy and not desk.session.shelf.waiting())
    assert differences(before, picture(desk.machine.root, shelf=True)) == []


def test_emptying_is_asked_for_twice(surveyed_desk):
    desk = surveyed_desk
    desk.session.ordering.set_verdict(desk.machine.id("match"), "remove")
    desk.carry()
    desk.window.go("Ledger")
    desk.click(desk.window.ledger.empty_button)
    assert desk.session.shelf.waiting() and desk.window.ledger.sure_button.isVisible()
    desk.click(desk.window.ledger.leave_button)
    assert desk.session.shelf.waiting() and not desk.window.ledger.sure_button.isVisible()
    desk.click(desk.window.ledger.empty_button)
    desk.click(desk.window.ledger.sure_button)
    desk.wait(lambda: not desk.session.busy)
    assert not desk.session.shelf.waiting()
    desk.wait(lambda: not desk.window.ledger.table.isVisible())


def test_ticks_and_verdicts_change_what_comes_back(looked_desk):
    desk = looked_desk
    hero = desk.machine.id("map", "7")
    desk.session.select(hero)
    desk.click(desk.window.survey.drawer._remove)
    whole = desk.session.ordering.order.total
    table = desk.window.survey.drawer.belongings
    row = next(i for i, r in enumerate(table.rows.rows) if r.key.endswith("/7") and "/.cache/" in r.key)
    table.setCurrentIndex(table.rows.index(row, 0))
    QTest.keyClick(table, Qt.Key.Key_Space)
    less = desk.session.ordering.order.total
    assert less < whole and table.rows.rows[row].key not in desk.session.ordering.order.line(hero).ticks
    desk.click(desk.window.survey.drawer._cache)
    assert desk.session.ordering.verdict(hero) == "clear_cache" and desk.session.ordering.order.total < less
    line = next(
        b
        for b in desk.buttons(desk.window.survey.slip)
        if b.accessibleName().startswith(desk.session.entry.name)
    )
    QTest.keyClick(line, Qt.Key.Key_Delete)
    assert desk.session.ordering.order is None


def test_shelves_are_walked_by_arrow_keys(looked_desk):
    desk = looked_desk
    shelves = desk.window.survey.shelves
    seen = set()
    QTest.keyClick(shelves, Qt.Key.Key_Right)
    for key in (
        Qt.Key.Key_Right,
        Qt.Key.Key_Down,
        Qt.Key.Key_Down,
        Qt.Key.Key_Down,
        Qt.Key.Key_Left,
        Qt.Key.Key_End,
        Qt.Key.Key_Up,
    ):
        QTest.keyClick(shelves, key)
        seen.add(desk.session.selected)
    assert len(seen) >= 4 and "" not in seen
    assert shelves.accessibleDescription() != ""


def test_the_list_sorts_by_every_column_and_finds_by_path_and_person(looked_desk):
    desk = looked_desk
    desk.window.survey.take_lens("List")
    listed = desk.window.survey.list
    for column in range(len(listed.rows.columns)):
        for _ in range(2):
            listed.horizontalHeader().sectionClicked.emit(column)
            keys = [r.cells[column].sort for r in listed.rows.rows]
            assert keys in (sorted(keys), sorted(keys, reverse=True))
    person = desk.machine.truth["people"][1]
    QTest.keyClicks(desk.window.survey.find_field, f"{person} .local")
    found = {r.key for r in listed.rows.rows}
    assert 0 < len(found) < len(desk.session.survey.applications)
    assert desk.machine.id("quest") in found
    desk.window.survey.find_field.clear()
    listed.put_in_hand(desk.machine.id("mail"))
    QTest.keyClick(listed, Qt.Key.Key_Return)
    assert desk.session.ordering.verdict(desk.machine.id("mail")) == "remove"


def test_a_run_cut_off_is_found_again_and_put_back(job, qtbot):
    from kills import under_injection

    before = picture(job.machine.root)
    run = job.prepare(job.order(job.machine.id("map", "7")))
    under_injection(job.shop.orders.carry_request(run), "renameat2", 5)
    with Desk(job.machine, qtbot) as desk:
        assert desk.session.carrying.state == "interrupted"
        assert desk.window.stations.currentWidget() is desk.window.carry
        assert desk.window.carry.finish_button.isVisible()
        desk.click(desk.window.carry.back_button)
        desk.wait(lambda: not desk.session.busy)
        assert desk.session.carrying.state == "ended"
    assert differences(before, picture(job.machine.root, shelf=True)) == []


def test_a_carrier_outlives_the_desk_and_is_found_again(made_up, qtbot):
    """The desk's whole process is killed while the carrier works."""
    code = f"""
import sys; sys.path.insert(0, {os.path.dirname(os.path.dirname(__file__))!r})
import conftest, os
os.environ["XDG_STATE_HOME"] = {os.environ["XDG_STATE_HOME"]!r}
from PySide6.QtWidgets import QApplication
from PySide6.QtTest import QTest
app = QApplication([])
from swept_shelf.workshop import Workshop
from swept_shelf.desk.session import Session
s = Session(Workshop({str(made_up.folder)!r})); s.open(); s.looking.take_survey()
while s.survey is None or s.looking.progress: QTest.qWait(20)
s.ordering.set_verdict({made_up.id("match")!r}, "remove"); s.carrying.carry_out()
while s.carrying.run is None or not s.carrying.run.journal_path.exists(): QTest.qWait(1)
print(s.carrying.run.id, flush=True); os.kill(os.getpid(), 9)
"""
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True)
    assert done.returncode == -9, done.stderr
    with Desk(made_up, qtbot) as desk:
        assert desk.session.carrying.run.id == done.stdout.strip()
        desk.wait(lambda: desk.session.carrying.state == "ended")
    assert dpkg_status(made_up, made_up.id("match").removeprefix("debian:")) == "not-installed"


def test_a_survey_that_fails_or_is_stopped_leaves_the_desk_usable(desk):
    desk.session.looking.take_survey()
    desk.session.looking.cancel()
    desk.wait(lambda: desk.session.looking.progress is None)
    assert desk.session.survey is None and desk.window.survey.first.look.text() == "Survey this computer"
    root, away = desk.machine.root, desk.machine.root.with_name("away")
    root.rename(away)
    desk.session.looking.take_survey()
    desk.wait(lambda: desk.session.looking.progress is None)
    assert desk.window.survey.first.head.text() == "The survey failed"
    assert desk.window.survey.first.look.text() == "Try again"
    away.rename(root)
    desk.click(desk.window.survey.first.look)
    desk.wait(lambda: desk.session.survey is not None and desk.session.looking.progress is None)


def test_boxes_keep_their_true_width_and_stand_within_their_shelf(job):
    survey = job.surveyed.survey
    rows = shelves_of(survey, survey.surveyed_at)
    assert {t.line for r in rows for t in r.things if t.line} == {
        e.id
        for e in (
            *survey.applications,
            *survey.left_behind,
            *(s for s in survey.shared_stores if s.belongings),
        )
    }
    for width in (200.0, 500.0, 900.0):
        layouts = lay_out_shelves(rows, width)
        drawn = [b for layout in layouts for b in layout.boxes if not b.broken and b.width > 5]
        scale = {round(b.width / b.thing.bytes * 1e6, 3) for b in drawn}
        assert len(scale) == 1
        for layout in layouts:
            for board in layout.boards:
                ends = [(b.x, b.x + b.width) for b in board]
                assert all(a[1] <= b[0] for a, b in itertools.pairwise(ends))
                assert not ends or ends[-1][1] <= width + 6
            assert len(layout.boxes) + len(layout.small) == len(layout.row.things)


def test_places_is_walked_by_keys_and_its_steps_go_on_the_order(looked_desk):
    desk = looked_desk
    desk.window.survey.take_lens("Places")
    places = desk.window.survey.places
    places.steps.setFocus()
    assert places.folder == "/" and desk.window.survey.place.isVisible()
    left = desk.machine.truth["left"][0]
    desk.window.survey.whose(left)
    assert places.in_hand == left and places.folder == left.rsplit("/", 1)[0]
    QTest.keyClick(places.steps, Qt.Key.Key_Space)
    assert [line.id for line in desk.session.ordering.order.lines] == ["left:" + left.rsplit("/", 1)[1]]
    desk.click(desk.window.survey.place.order_button)
    assert desk.session.ordering.order is None
    QTest.keyClick(places.steps, Qt.Key.Key_Left)
    assert places.in_hand == left.rsplit("/", 1)[0] and places.folder == left.rsplit("/", 2)[0]
    QTest.keyClick(places.steps, Qt.Key.Key_Return)
    assert places.folder == left.rsplit("/", 1)[0]
    for _ in range(8):
        QTest.keyClick(places.steps, Qt.Key.Key_Left)
    assert places.folder == "/"
    QTest.keyClick(places.steps, Qt.Key.Key_Down)
    second = places.steps.current
    QTest.keyClick(places.steps, Qt.Key.Key_Home)
    assert places.steps.current.bytes >= second.bytes > 0


def test_every_part_of_a_wide_folder_is_reached_step_by_step(desk):
    for i in range(60):
        folder = desk.machine.root / f"srv/wide/{i:02}"
        folder.mkdir(parents=True)
        (folder / "x").write_bytes(b"x" * 4096 * (i + 1))
    desk.survey()
    desk.window.survey.take_lens("Places")
    places = desk.window.survey.places
    desk.window.survey.whose("/srv/wide/00")
    assert places.steps.current.key == "/srv/wide/00" and places.folder == "/srv/wide"
    places.open("/srv/wide")
    seen = set()
    while True:
        steps = [places.steps.current] + [s for s in places.steps._steps]
        seen |= {s.key for s in steps if s.key}
        QTest.keyClick(places.steps, Qt.Key.Key_End)
        if places.steps.current.key:
            break
        QTest.keyClick(places.steps, Qt.Key.Key_Return)
    assert len(seen) == 60


def test_a_file_dropped_on_the_desk_is_answered_and_so_is_a_typed_path(desk):
    from PySide6.QtCore import QMimeData, QPoint, QUrl
    from PySide6.QtGui import QDropEvent

    desk.survey()
    path = desk.session.survey.find(desk.machine.id("map", "7")).executables[0]
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(desk.machine.root) + path)])
    desk.window.go("Ledger")
    event = QDropEvent(
        QPoint(5, 5),
        Qt.DropAction.CopyAction,
        data,
        Qt.MouseButton.LeftButton,
        Qt.KeyboardModifier.NoModifier,
    )
    desk.window.dropEvent(event)
    assert desk.window.survey.isVisible() and desk.window.survey.places.in_hand == path
    assert desk.window.survey.place._line == desk.machine.id("map", "7")
    field = desk.window.survey.find_field
    field.setText("/srv/nothing here")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert "nothing stands there" in desk.window.survey.place._reason.text()


def test_conditions_in_the_find_field_narrow_shelves_and_list(looked_desk):
    desk = looked_desk
    desk.window.survey.take_lens("List")
    whole = desk.window.survey.list.rows.rowCount()
    desk.window.survey.find_field.setText("larger=50kB registry=debian")
    few = desk.window.survey.list.rows.rowCount()
    assert 0 < few < whole
    desk.window.survey.find_field.setText("larger=nonsense")
    assert desk.window.survey.list.rows.rowCount() == whole
    assert "nonsense" in desk.window.survey.find_field.toolTip()


def _chip(bar, text):
    return next(b for b in bar._buttons() if b.text().startswith(text))


def _choose(bar, menu, action):
    """Open a menu of the bar and take one of its lines."""
    opened = _chip(bar, menu).menu()
    opened.aboutToShow.emit()
    found = next(a for a in opened.actions() if a.text() == action)
    found.trigger()


def test_the_list_says_what_it_is_narrowed_to_and_each_condition_can_be_left_out(looked_desk):
    desk = looked_desk
    survey, bar = desk.window.survey, desk.window.survey.bar
    survey.take_lens("List")
    _choose(bar, "+ condition", "Desktop programs")
    survey.find_field.setText(survey.find_field.text() + " larger=0.05MB")
    desk.settle()
    assert _chip(bar, "desktop program").accessibleName() == "Leave out: desktop program"
    shown = len(survey.list.entries)
    assert 0 < shown < len(desk.session.survey.applications)
    desk.click(_chip(bar, "holds over"))
    assert survey.find_field.text() == "type=desktop" and len(survey.list.entries) > shown
    _choose(bar, "+ condition", "Keep this filter")
    survey.find_field.clear()
    _choose(bar, "+ condition", "type=desktop")
    assert survey.find_field.text() == "type=desktop"
    _choose(bar, "+ condition", "Forget this filter")
    survey.find_field.setText("sise=3")
    desk.settle()
    assert bar._wrong.isVisible() and "sise= is no condition" in bar._wrong.text()
    assert len(survey.list.entries) == len(desk.session.survey.applications) + len(
        desk.session.survey.left_behind
    )


def test_the_systems_own_packages_are_hidden_counted_and_shown_when_asked(looked_desk):
    desk = looked_desk
    survey, bar, system = desk.window.survey, desk.window.survey.bar, desk.session.survey.system.packages
    survey.take_lens("List")
    desk.settle()
    assert not any(r.key.startswith("system:") for r in survey.list.rows.rows)
    desk.click(_chip(bar, f"system’s own hidden: {len(system)}"))
    rows = [r for r in survey.list.rows.rows if r.key.startswith("system:")]
    assert {r.key.removeprefix("system:") for r in rows} == set(system) and sum(
        r.cells[1].sort for r in rows
    ) > 0
    survey.list.put_in_hand(rows[0].key)
    QTest.keyClick(survey.list, Qt.Key.Key_Space)
    assert desk.session.ordering.order is None
    desk.click(_chip(bar, "with the system’s own"))
    assert len(survey.list.rows.rows) == len(survey.list.entries)


def test_several_rows_go_on_the_order_and_off_again_and_out_as_text(looked_desk, tmp_path, monkeypatch):
    desk = looked_desk
    survey = desk.window.survey
    survey.take_lens("List")
    desk.settle()
    table = survey.list
    table.setCurrentIndex(table.rows.index(2, 0))
    for _ in range(3):
        QTest.keyClick(table, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    lines = table.hand()
    assert (
        len(lines) == 4
        and "4 in hand" in survey.bar._flow.itemAt(survey.bar._flow.count() - 1).widget().text()
    )
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert set(desk.session.ordering.choice.verdicts) == set(lines) and set(table.hand()) == set(lines)
    text = table.copied().splitlines()
    assert len(text) == 5 and text[0].split("\t")[0] == "Application"
    QTest.keyClick(table, Qt.Key.Key_Space)
    assert not desk.session.ordering.choice.verdicts
    asked = []
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *a: (asked.append(a[2]) or str(tmp_path / Path(a[2]).name), "")
    )
    for words in (
        "Write what is shown as CSV…",
        "Write the whole survey as JSON…",
        "Write the whole inventory as CycloneDX…",
    ):
        _choose(survey.bar, "take along", words)
    csv, document, inventory = (tmp_path / Path(a).name for a in asked)
    assert len(csv.read_text().splitlines()) == len(table.entries) + 1
    assert (
        json.loads(document.read_text())["format"] == "swept-shelf/survey"
        and json.loads(inventory.read_text())["bomFormat"] == "CycloneDX"
    )
    told = []
    desk.session.said.connect(told.append)
    desk.session.looking.write_inventory(str(tmp_path / "no/such/out.csv"), "csv", table.entries)
    assert told == [f"{tmp_path}/no/such/out.csv: No such file or directory"]


def test_the_list_stands_in_groups_and_each_group_stays_together_however_it_is_sorted(looked_desk):
    desk = looked_desk
    survey, bar = desk.window.survey, desk.window.survey.bar
    survey.take_lens("List")
    for words in ("By registry", "By publisher", "By person", "By kind of program"):
        _choose(bar, "group", words)
        for column in (0, 1, 3):
            survey.list._sort(column)
            groups = [r.group for r in survey.list.rows.rows]
            assert groups == sorted(groups)
            first = {g: groups.index(g) for g in groups}
            assert all(survey.list.rows.rows[i].heading for i in first.values())
            assert sum(r.heading for r in survey.list.rows.rows) == len(first)
    _choose(bar, "group", "Not grouped")
    assert not any(r.heading for r in survey.list.rows.rows)


def test_columns_come_and_go_and_are_remembered(surveyed_desk, qtbot):
    desk = surveyed_desk
    survey = desk.window.survey
    survey.take_lens("List")
    heads = lambda w: {c for i, (c, _) in enumerate(w.list.rows.columns) if not w.list.isColumnHidden(i)}  # noqa: E731
    assert "Publisher" not in heads(survey)
    _choose(survey.bar, "columns", "Publisher")
    _choose(survey.bar, "columns", "Installed")
    desk.settle()
    assert "Publisher" in heads(survey) and "Installed" not in heads(survey)
    with Desk(desk.machine, qtbot) as other:
        other.window.survey.take_lens("List")
        assert "Publisher" in heads(other.window.survey)
        _choose(other.window.survey.bar, "columns", "Publisher")
        _choose(other.window.survey.bar, "columns", "Installed")


def test_all_belongings_stand_on_a_page_with_their_head_and_can_be_ticked_and_corrected(surveyed_desk):
    desk = surveyed_desk
    hero = desk.machine.id("map", "7")
    desk.session.select(hero)
    desk.session.ordering.set_verdict(hero, "remove")
    desk.settle()
    station = desk.window.survey
    desk.click(station.drawer.all_button)
    page = station.page
    assert page.isVisible() and not station.drawer.isVisible()
    rows = page.table.rows.rows
    entry = desk.session.entry
    assert [r for r in rows if not r.heading] and len([r for r in rows if not r.heading]) == len(
        entry.belongings
    )
    conf = next(
        b
        for b in entry.belongings
        if b.path.endswith("7.conf") and b.person == desk.machine.truth["people"][0]
    )
    page.table.put_in_hand(conf.path)
    assert "zoom=4" in page.head.toPlainText() and page.open_button.isEnabled()
    QTest.keyClick(page.table, Qt.Key.Key_Space)
    desk.settle()
    assert conf.path not in desk.session.ordering.order.line(hero).ticks
    program = next(b for b in entry.belongings if b.proof == "registered" and b.kind == "program")
    page.table.put_in_hand(program.path)
    assert not page.not_button.isEnabled()  # the registry's word cannot be corrected
    page.table.put_in_hand(conf.path)
    desk.click(page.not_button)
    assert "does not belong" in desk.session.looking.told
    desk.click(page.back)
    assert station.drawer.isVisible() and "does not belong" in station.doubts[0].text()
    desk.survey()
    assert conf.path not in {b.path for b in desk.session.survey.find(hero).belongings}
    place = f"/home/{desk.machine.truth['people'][1]}/{desk.machine.truth['word']}"
    station.whose(place)
    desk.settle()
    assert not station.place.its_button.isVisible()  # a person's own folder is nobody's to give away
    station.whose("/home")
    desk.settle()
    assert not station.place.its_button.isVisible()


def test_a_wrong_file_of_corrections_is_said_on_the_desk_and_nothing_is_looked_at(desk):
    desk.session.shop.rules_file.write_text("nonsense")
    desk.session.looking.take_survey()
    desk.settle()
    assert desk.session.survey is None and "belongings.toml" in desk.window.survey.first.text.text()


def test_watching_says_what_it_saw_or_why_it_cannot(surveyed_desk):
    desk = surveyed_desk
    desk.session.select(desk.machine.id("map", "7"))
    desk.click(desk.window.survey.drawer.all_button)
    page = desk.window.survey.page
    assert not page.watch_button.isVisible()  # the programs of another root do not run here
    desk.session.looking.watch(1)
    desk.wait(lambda: desk.session.looking.watcher is None)
    assert "another root" in page.head.toPlainText() and page.watch_button.isEnabled()


def test_a_run_that_ended_while_the_desk_was_away_is_to_be_proved(job, qtbot):
    job.carry(job.prepare(job.order(job.machine.id("match"))))
    with Desk(job.machine, qtbot) as desk:
        station = desk.window.stations.currentWidget()
        assert station.accessibleName() == "Clearance"
        assert any("not proved yet" in w.text() for w in station.findChildren(QLabel))
        desk.click(station.look_button)
        desk.wait(lambda: desk.session.proving.clearance is not None)
    with Desk(job.machine, qtbot) as desk:
        assert desk.session.proving.clearance is not None and not desk.session.proving.due


def test_a_line_that_was_left_is_one_row_with_its_reason(job, qtbot):
    hero = job.machine.id("map", "7")
    run = job.prepare(job.order(hero, job.machine.id("match")))
    with running_now(job, hero):
        job.carry(run)
    with Desk(job.machine, qtbot) as desk:
        desk.window.go("Carry out")
        desk.settle()
        table = desk.window.stations.currentWidget().table
        texts = [[c.text for c in row.cells] for row in table.rows.rows]
        left = [t for t in texts if t[0] == "left"]
        assert len(left) == 1 and "operations of this line" in left[0][2]
        assert sum("is running" in " ".join(t) for t in texts) == 1


def test_an_order_that_is_to_be_archived_first_is_in_the_file_when_it_is_carried_out(
    surveyed_desk, tmp_path, monkeypatch
):
    desk, file = surveyed_desk, tmp_path / "shelf.tar.zst"
    root, order = desk.machine.root, desk.window.order
    before = picture(root)
    said = []
    desk.session.said.connect(said.append)
    desk.session.ordering.set_verdict(desk.machine.id("match"), "remove")
    desk.window.go("Order")
    desk.settle()
    file.touch()
    for taken in (file, tmp_path / "nowhere" / "x.tar.zst"):
        monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, taken=taken: (str(taken), ""))
        desk.click(order.archive_button)
        desk.wait(lambda taken=taken: bool(said) and str(taken.parent) in said[-1])
        assert not desk.session.carrying.archive_to
    file.unlink()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(file), ""))
    for chosen in (str(file), "", str(file)):
        desk.click(order.archive_button)
        desk.wait(lambda chosen=chosen: desk.session.carrying.archive_to == chosen)
    assert file.name in order.archive_button.text()
    desk.carry()
    desk.wait(lambda: any("read again and compared" in s for s in said) and not desk.session.busy)
    assert file.stat().st_size and not desk.session.carrying.archive_to
    desk.wait(lambda: desk.session.proving.clearance is not None)
    desk.window.go("Ledger")
    desk.settle()
    desk.click(desk.window.ledger.empty_button)
    desk.click(desk.window.ledger.sure_button)
    desk.wait(lambda: not desk.session.busy and not desk.window.ledger.table.isVisible())
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(file), ""))
    desk.click(desk.window.ledger.restore_button)
    desk.wait(lambda: "Put back from the archive" in said[-1] and not desk.session.busy)
    assert differences(before, picture(root)) == []


def test_the_shelf_goes_into_a_file_is_emptied_and_comes_back_from_the_file(
    surveyed_desk, tmp_path, monkeypatch
):
    desk = surveyed_desk
    root, ledger = desk.machine.root, desk.window.ledger
    before = picture(root)
    desk.session.ordering.set_verdict(desk.machine.id("match"), "remove")
    desk.carry()
    desk.window.go("Ledger")
    said = []
    desk.session.said.connect(said.append)
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(tmp_path / "shelf"), ""))
    desk.click(ledger.archive_button)
    desk.wait(lambda: bool(said) and not desk.session.busy)
    assert "read again and compared" in said[-1] and (tmp_path / "shelf.tar.zst").stat().st_size
    desk.click(ledger.empty_button)
    desk.click(ledger.sure_button)
    desk.wait(lambda: not desk.session.busy and not ledger.table.isVisible())
    assert not ledger.archive_button.isVisible()
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(tmp_path / "shelf.tar.zst"), ""))
    desk.click(ledger.restore_button)
    desk.wait(lambda: "Put back from the archive" in said[-1] and not desk.session.busy)
    assert differences(before, picture(root)) == []
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(root / "etc/passwd"), ""))
    desk.click(ledger.restore_button)
    desk.wait(lambda: "no whole archive" in said[-1])
