"""Single files of a package fold into their folder, which opens; long paths lose their middle, never their name."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from deskwork import Desk
from helpers import Job, built
from swept_shelf.core.documents.survey import Belonging, Identity
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.desk.parts.painted import elide_path, text_width
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
