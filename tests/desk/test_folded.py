"""Single files of a package fold into their folder, which opens; long paths lose their middle, never their name."""

from __future__ import annotations

from dataclasses import replace
from itertools import groupby

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import Job, built
from registries import write
from swept_shelf.core.documents.operations import Shelve
from swept_shelf.core.documents.survey import Belonging, Identity
from swept_shelf.core.documents.terms import By, Kind, Share, Verdict
from swept_shelf.desk.parts.painted import elide_path, text_width
from swept_shelf.desk.stations.operation_rows import is_folded, operation_rows
from swept_shelf.desk.survey.folded import Folded, folded


def single(path: str, size: int = 10) -> Belonging:
    identity = Identity("fs", 1, "file", size, 0, 0, 0, 0, 0o644)
    more = {
        "proof": By.REGISTERED,
        "reason": "listed",
        "share": Share.SOLE,
        "shared_with": [],
        "personal": False,
    }
    return Belonging(
        "path", path, "v", identity, 1, None, "everyone", Kind.PROGRAM, size, ticked=True, **more
    )


@given(
    st.lists(
        st.tuples(st.sampled_from(["locale/de", "locale/fr", "icons/a/b", "doc"]), st.integers(0, 99)),
        unique=True,
        max_size=40,
    )
)
def test_folding_loses_no_file_and_opening_shows_each_once(files):
    rows = [single(f"/usr/share/{folder}/{n}") for folder, n in files]
    closed = folded(rows, set())
    keys = {f.key for f in closed if isinstance(f, Folded)}
    inside = [b for f in closed for b in (f.members if isinstance(f, Folded) else (f,))]
    assert sorted(b.path for b in inside) == sorted(b.path for b in rows)
    opened = folded(rows, keys)
    assert sorted(b.path for b in opened if not isinstance(b, Folded)) == sorted(b.path for b in rows)
    assert all(len(f.members) >= 4 for f in closed if isinstance(f, Folded))


def test_what_an_installer_put_into_many_folders_of_a_prefix_folds_by_folder_and_proof():
    def beside(path: str, **more: object) -> Belonging:
        return replace(
            single(path), proof=By.MATCHED, kind=Kind.SUPPORT, reason="called like its program", **more
        )

    pages = [beside(f"/usr/local/share/locale/{n}/LC_MESSAGES/x.mo") for n in range(5)]
    kept = [beside(f"/usr/local/share/locale/{n}/LC_MESSAGES/x-y.mo", ticked=False) for n in range(5)]
    icons = [beside(f"/home/a/.local/share/icons/{n}/x.png") for n in range(4)]
    own = [beside(f"/home/a/.local/share/icons/{n}/y.svg", personal=True) for n in range(4)]
    rows = folded([*pages, *kept, *icons, *own], set())
    assert [(f.folder, len(f.members), f.reason) for f in rows if isinstance(f, Folded)] == [
        ("/usr/local/share/locale", 5, "called like its program"),
        ("/usr/local/share/locale", 5, "called like its program"),
        ("/home/a/.local/share/icons", 4, "called like its program"),
    ]
    assert [f for f in rows if not isinstance(f, Folded)] == own
    assert len({f.key for f in rows if isinstance(f, Folded)}) == 3


@pytest.mark.parametrize("width", [60, 120, 200, 300, 2000])
def test_of_a_long_path_its_name_stays(qtbot, width):
    path = "/usr/share/some/very/deep/and/long/way/to/it/settings.conf"
    said = elide_path(path, "body", width)
    assert text_width(said, "body") <= width or width < 60
    assert said.endswith("settings.conf") or width < 150
    assert (said == path) == (text_width(path, "body") <= width)


def test_in_the_drawer_a_folder_of_files_opens_and_closes_with_return(qtbot, tmp_path):
    made = built(1).copy(tmp_path / "machine")
    Job(made)
    with Desk(made, qtbot) as desk:
        entry = desk.session.survey.applications[0]
        files = [single(f"/usr/share/locale/{n}/x.mo") for n in range(60)]
        many = replace(entry, belongings=[*entry.belongings, *files])
        drawer, now = desk.window.survey.drawer, desk.session.shop.machine.now()
        drawer.show_entry(many, desk.session.survey, None, "", now)
        table = drawer.belongings
        key = next(r.key for r in table.rows.rows if r.key.startswith("folded /usr/share/locale"))
        before = len(table.rows.rows)
        table.put_in_hand(key)
        QTest.keyClick(table, Qt.Key.Key_Return)
        assert len(table.rows.rows) == before + 60 and table.key() == key
        QTest.keyClick(table, Qt.Key.Key_Return)
        assert len(table.rows.rows) == before
        assert "60 files" in next(r for r in table.rows.rows if r.key == key).cells[1].text


def shelve(path: str, rights: str = "the administrator") -> Shelve:
    return Shelve("it", path, single(path).identity, 10, 1, "v", True, rights, "called like its program")


@given(
    st.lists(st.tuples(st.sampled_from(["share/locale", "share/icons", "bin", "lib"]), st.integers(0, 30))),
    st.booleans(),
)
def test_operations_alike_are_one_row_that_opens_and_their_numbers_stay_in_order(files, opened):
    operations = [shelve(f"/usr/local/{folder}/{n}") for folder, n in files]
    closed = list(operation_rows(7, operations, set(), {}))
    keys = {r.key for r in closed if is_folded(r.key)}
    rows = list(operation_rows(7, operations, keys if opened else set(), {}))
    numbers = [n for r in rows for n in _numbers(r)]
    assert sorted(set(numbers)) == list(range(7, 7 + len(operations)))
    assert numbers == sorted(numbers) if not opened else len(numbers) == len(set(numbers)) + _inside(closed)
    runs = [len(list(run)) for _, run in groupby(folder for folder, _ in files)]
    assert len(keys) == sum(n >= 4 for n in runs)


def _numbers(row):
    first, _, last = row.cells[0].text.split()[0].partition("–")
    return range(int(first), int(last or first) + 1)


def _inside(rows):
    return sum(len(_numbers(r)) for r in rows if is_folded(r.key))


def test_other_rights_or_another_deed_are_never_in_one_row():
    mixed = [shelve(f"/usr/local/bin/{n}", "vera" if n % 5 == 4 else "the administrator") for n in range(15)]
    rows = list(operation_rows(1, mixed, set(), {}))
    assert [r.cells[0].text.split()[0] for r in rows] == ["1–4", "5", "6–9", "10", "11–14", "15"]
    assert [r.cells[2].text for r in rows][:2] == ["40 bytes", "10 bytes"]


def test_the_rows_of_an_order_open_by_return_and_close_again(qtbot, tmp_path):
    machine = built(1).copy(tmp_path / "machine")
    words = ("bg", "cs", "da", "de", "el", "es", "fi", "fr", "hu", "it", "nl", "pl")
    made = {f"share/locale/{w}/LC_MESSAGES/grid9.mo": "x" for w in words}
    made["bin/grid9"] = "\x7fELF"
    made["share/applications/grid9.desktop"] = (
        "[Desktop Entry]\nType=Application\nName=Grid Nine\nExec=grid9\n"
    )
    for path, text in made.items():
        write(machine.root / "usr/local", path, text, 0o755)
    Job(machine)
    with Desk(machine, qtbot) as desk:
        (id,) = [a.id for a in desk.session.survey.applications if a.name == "Grid Nine"]
        desk.session.ordering.set_verdict(id, Verdict.REMOVE)
        desk.window.go("Order")
        desk.wait(lambda: desk.session.ordering.rehearsal is not None)
        table = desk.window.order.table
        short = [r.key for r in table.rows.rows]
        key = next(k for k in short if is_folded(k))
        table.put_in_hand(key)
        QTest.keyClick(table, Qt.Key.Key_Return)
        assert len(table.rows.rows) >= len(short) + 12 and table.key() == key
        QTest.keyClick(table, Qt.Key.Key_Return)
        assert [r.key for r in table.rows.rows] == short
