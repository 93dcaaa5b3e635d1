"""Small parts of the desk, each shown alone: what they lay out is what the figures say."""

from __future__ import annotations

import itertools
import random
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from swept_shelf.core.documents.clearance import (
    FAMILIES,
    Cell,
    Clearance,
    ClearanceLine,
    Finding,
    VolumeResult,
)
from swept_shelf.core.documents.survey import Kinds, LastUse, MachineFacts, Sign
from swept_shelf.core.documents.terms import KINDS
from swept_shelf.desk.parts.band import band_parts
from swept_shelf.desk.parts.labels import Elided
from swept_shelf.desk.parts.legend import Legend
from swept_shelf.desk.parts.rows import Cell as RowCell
from swept_shelf.desk.parts.rows import Row, RowTable
from swept_shelf.desk.parts.volume_bar import VolumeBar, short_free
from swept_shelf.desk.stations.free_chart import FreeChart
from swept_shelf.desk.stations.line_bar import LineBar
from swept_shelf.desk.stations.matrix import Matrix
from swept_shelf.desk.stations.space import Space, space_words
from swept_shelf.desk.survey.shelf_layout import (
    LONGER,
    NO_SIGN,
    SPANS,
    ShelfRow,
    Thing,
    join_spans,
    lay_out_shelves,
    share_boards,
    shelf_for_time,
)
from swept_shelf.desk.survey.use_strip import UseStrip
from swept_shelf.desk.theme import set_theme, theme

NOW = datetime(2026, 6, 1, tzinfo=UTC)


@pytest.fixture(autouse=True)
def light():
    set_theme(False, 1.0)


def shown(qtbot, widget, width=600, height=200):
    qtbot.addWidget(widget)
    widget.resize(width, height)
    widget.show()
    return widget


@given(st.lists(st.integers(0, 10**12), min_size=6, max_size=6), st.floats(1, 2000))
def test_a_band_is_split_in_its_fixed_order_and_adds_up(sizes, width):
    kinds = Kinds(*sizes)
    parts = band_parts(kinds, width)
    assert [k for k, _, _ in parts] == [k for k in KINDS if getattr(kinds, k)]
    assert sum(w for _, _, w in parts) == pytest.approx(width if kinds.total else 0)
    assert all(a[1] + a[2] == pytest.approx(b[1]) for a, b in itertools.pairwise(parts))


things = st.lists(st.integers(1, 10**10), min_size=0, max_size=30)


def rows_of(sizes):
    return [
        ShelfRow(
            str(i),
            tuple(Thing(f"{i}.{j}", "x", n, Kinds(n)) for j, n in enumerate(sorted(row, reverse=True))),
        )
        for i, row in enumerate(sizes)
    ]


@given(st.lists(things, min_size=1, max_size=6), st.floats(100, 1500), st.integers(0, 20))
def test_boxes_are_true_to_their_bytes_in_order_and_within_their_board_whatever_the_sizes(
    sizes, width, boards
):
    rows = rows_of(sizes)
    layouts = lay_out_shelves(rows, width, boards, 80)
    assert sum(len(x.boards) for x in layouts) <= max(boards, len(rows))
    drawn = [b for layout in layouts for b in layout.boxes if not b.broken]
    scale = max((b.width / b.thing.bytes for b in drawn), default=0)
    for layout in layouts:
        assert [b.thing for b in layout.boxes] + list(layout.small) == list(layout.row.things)
        for board in layout.boards:
            x = 0.0
            for box in board:
                assert box.x >= x - 0.01 and (box.broken or abs(box.width - box.thing.bytes * scale) <= 1)
                x = box.x + box.width
            assert x <= width + 1


@given(st.lists(things, min_size=1, max_size=6), st.integers(0, 20))
def test_each_further_board_goes_to_the_shelf_with_most_bytes_to_a_board(sizes, boards):
    rows = rows_of(sizes)
    given_ = share_boards(rows, boards)
    assert all(n >= 1 for n in given_) and sum(given_) <= max(boards, len(rows))
    for row, n in zip(rows, given_, strict=True):
        others = [r.bytes / m for r, m in zip(rows, given_, strict=True) if m < len(r.things)]
        assert n == 1 or row.bytes / (n - 1) >= max(others, default=0)


def test_of_a_thousand_applications_the_forty_largest_have_names():
    r = random.Random(5)
    rows = rows_of([[int(r.lognormvariate(17, 1.6)) for _ in range(n)] for n in (50, 100, 150, 150, 80, 470)])
    layouts = lay_out_shelves(rows, 800, 9, 80, named=18)
    named = {b.thing for layout in layouts for b in layout.boxes if b.width >= 18}
    largest = sorted((t for row in rows for t in row.things), key=lambda t: -t.bytes)[:40]
    assert set(largest) <= named and sum(len(x.boards) for x in layouts) <= 21


def test_a_span_in_which_little_was_used_last_stands_with_the_next_longer_one():
    rows = {name: [] for name in (*(n for n, _ in SPANS), LONGER, NO_SIGN)}
    for name, count in (("Today", 1), ("This week", 30), ("This season", 2), ("This year", 40), (LONGER, 1)):
        rows[name] = [Thing(f"{name}{i}", "x", 100, Kinds(100)) for i in range(count)]
    join_spans(rows)
    assert {n: len(t) for n, t in rows.items() if t} == {"Today": 1, "This week": 30, LONGER: 43}


def test_the_shelf_of_a_time():
    assert [shelf_for_time(NOW - timedelta(days=d), NOW) for d in (0, 3, 30, 200, 500)] == [
        "Today",
        "This week",
        "This season",
        "This year",
        "Longer ago",
    ]
    assert shelf_for_time(None, NOW) == "No sign of use"


def test_a_long_name_ends_in_an_ellipsis_and_keeps_its_whole_as_tool_tip(qtbot):
    made = shown(qtbot, Elided("a very long name of an application that nobody would give"), 80, 20)
    assert made.toolTip().startswith("a very long") and made.minimumSizeHint().width() == 0
    made.set("two\nlines\x1b[0m")
    assert "\n" not in made.text() and "\x1b" not in made.text()


def test_a_volume_says_before_and_after(qtbot):
    bar = shown(qtbot, VolumeBar("/", 10**9, 10**8, 5 * 10**7), 300, 40)
    words = " ".join(t.text for t in bar.texts)
    assert "100 MB → 150 MB free of 1.0 GB" in words
    assert short_free(1, 1, 10) == "1 bytes free of 10 bytes"
    narrow = shown(qtbot, VolumeBar("/a/very/long/mount", 10**9, 10**8, 5 * 10**7), 160, 40)
    assert len({t.rect.y() for t in narrow.texts}) == 2


def test_the_legend_is_whole_or_not_there(qtbot):
    assert len(shown(qtbot, Legend(), 700, 20).texts) == len(KINDS)
    assert shown(qtbot, Legend(), 100, 20).texts == []


def test_rows_sort_keep_what_is_in_hand_and_drop_columns_where_there_is_no_room(qtbot):
    table = RowTable(
        "t", (("A", False), ("B", True), ("C", False)), (0, 100, 100), sortable=True, drop=(2, 1), least=120
    )
    shown(qtbot, table, 500, 200)
    table.show_rows(
        [Row(str(i), (RowCell(str(i), sort=i), RowCell(str(-i), sort=-i), RowCell("x"))) for i in range(5)]
    )
    table.put_in_hand("3")
    table.horizontalHeader().sectionClicked.emit(0)
    assert [r.key for r in table.rows.rows] == ["4", "3", "2", "1", "0"] and table.key() == "3"
    table.horizontalHeader().sectionClicked.emit(0)
    assert [r.key for r in table.rows.rows] == ["0", "1", "2", "3", "4"]
    assert not table.isColumnHidden(2)
    table.resize(270, 200)
    QTest.qWait(10)
    assert table.isColumnHidden(2) and not table.isColumnHidden(1)
    table.resize(180, 200)
    QTest.qWait(10)
    assert table.isColumnHidden(1)


def test_headings_and_spread_notes_are_not_taken_in_hand(qtbot):
    table = shown(qtbot, RowTable("t", (("A", False), ("B", False)), (100, 0)), 300, 200)
    table.show_rows(
        [
            Row("h", (RowCell("head"),), heading=True),
            Row("a", (RowCell("a", check=True),)),
            Row("n", (RowCell(), RowCell("note")), heading=True, spread_from=0),
        ]
    )
    table.put_in_hand("h")
    assert table.key() == ""
    table.put_in_hand("a")
    assert table.key() == "a"
    assert table.rows.data(table.rows.index(1, 0), Qt.ItemDataRole.AccessibleTextRole) == "ticked a"
    assert table.columnSpan(2, 0) == 2


def clearance(*states: str) -> Clearance:
    finding = Finding("/etc/x", 3, "text", "a job runs it", [], [])
    cells = [
        Cell(f, s, "1 file", [finding] if s == "found" else []) for f, s in zip(FAMILIES, states, strict=True)
    ]
    facts = MachineFacts("k", "/", "n", "", "", "", "", False)
    return Clearance(
        "f",
        1,
        "id",
        NOW,
        NOW,
        "1.1",
        "run",
        facts,
        [ClearanceLine("a", "A", "remove", cells), ClearanceLine("b", "B", "remove", cells)],
        [],
        [],
    )


def test_the_matrix_starts_at_the_first_finding_and_is_walked_by_keys_and_mouse(qtbot):
    matrix = shown(qtbot, Matrix(), 900, 250)
    seen: list[tuple[str, str]] = []
    matrix.chosen.connect(lambda line, family: seen.append((line, family)))
    states = ["clear"] * len(FAMILIES)
    states[4], states[9] = "found", "could_not_look"
    matrix.show_lines(clearance(*states).lines, set())
    assert seen[-1] == ("a", FAMILIES[4]) and "still pointed at" in matrix.accessibleDescription()
    QTest.keyClick(matrix, Qt.Key.Key_Down)
    QTest.keyClick(matrix, Qt.Key.Key_Right)
    assert seen[-1] == ("b", FAMILIES[5])
    for _ in range(30):
        QTest.keyClick(matrix, Qt.Key.Key_Left)
    assert seen[-1] == ("b", FAMILIES[0])
    QTest.mouseClick(matrix, Qt.MouseButton.LeftButton, pos=matrix._center(0, 9).toPoint())
    assert seen[-1] == ("a", FAMILIES[9]) and "could not look" in matrix.accessibleDescription()
    assert [t.text for t in matrix.texts].count("1") == 2 and [t.text for t in matrix.texts].count("?") == 2
    assert matrix._at(QPointF(1, 1)) is None


def test_space_is_told_as_promised_and_as_measured(qtbot):
    back = VolumeResult("v", "/", 10**9, 10**8, 3 * 10**8, 2 * 10**8, 0, 0)
    held = VolumeResult("w", "/home", 10**9, 10**8, 10**8 - 4096, 10**8, 0, 10**8)
    assert space_words(back) == "200 MB promised · 200 MB back now"
    assert space_words(held) == "100 MB promised · nothing back yet · 100 MB on the holding shelf"
    space = shown(qtbot, Space(), 700, 100)
    space.show_volumes([back, held])
    assert "/home: 100 MB promised" in space.accessibleDescription() and len(space.texts) == 4


def test_progress_by_line_and_free_space_over_visits(qtbot):
    bar = shown(qtbot, LineBar(), 600, 40)
    bar.show_lines([("One", 3, 10), ("Two", 0, 10), ("A very long name indeed, far too long", 0, 1)])
    assert [t.text for t in bar.texts] == ["One", "Two"] and bar.texts[0].font == "small_bold"
    chart = shown(qtbot, FreeChart(), 600, 130)
    chart.show_free([10**8, 9 * 10**7], 2 * 10**8, "1 Jan 2026", 10**9)
    assert {"200 MB at most", "1 Jan 2026", "now 200 MB"} == {t.text for t in chart.texts}
    chart.show_free([], 0, "", 0)
    assert chart.texts == []


def test_the_strip_draws_a_bar_for_each_month_and_says_whose_and_how_sure(qtbot):
    months = [0] * 22 + [1, 8]
    signs = [
        Sign("preferences written", NOW - timedelta(days=5), None, "anna", "/y", "good", months=months),
        Sign(
            "program read",
            NOW - timedelta(days=5),
            None,
            "",
            "/x",
            "weak",
            set_aside="nobody was logged in then",
            months=[0] * 23 + [1],
        ),
    ]
    use = LastUse(
        NOW,
        NOW,
        NOW,
        "anna",
        "fairly",
        False,
        [],
        months,
        ["program read", "preferences written"],
        signs,
        "only preferences written says so",
    )
    strip = shown(qtbot, UseStrip(), 260, 140)
    strip.show_use(use, NOW)
    words = [t.text for t in strip.texts]
    assert (
        words[:3] == ["anna · fairly", "preferences written", "program read"] and "2 kinds of sign" in words
    )
    assert len(strip.shapes) == 5  # two lines, two bars that count, one that does not
    assert "set aside: nobody was logged in then" in strip.accessibleDescription()
    many = [Sign(f"kind {i}", NOW, None, "", "/x", "good", months=months) for i in range(9)]
    strip.show_use(LastUse(NOW, NOW, NOW, "", "sure", False, [], months, [], many), NOW)
    assert any(t.text.startswith("+") and t.text.endswith("other kinds") for t in strip.texts)
    assert all(t.rect.bottom() <= strip.height() for t in strip.texts)
    strip.show_use(
        LastUse(
            None,
            None,
            None,
            "",
            "",
            False,
            [],
            [0] * 24,
            ["journal"],
            [],
            "no sign of use (looked at: journal)",
        ),
        NOW,
    )
    assert [t.text for t in strip.texts] == ["looked at 1 kind of sign", "nothing was found"]
    strip.show_use(None, NOW)
    assert strip.texts == []


def test_colours_and_measures_follow_the_theme():
    light_ink = theme().hex("ink")
    dark = set_theme(True, 1.5)
    assert dark.hex("ink") != light_ink and dark.px(10) == 15 and dark.font("body").pixelSize() == 20
    assert dark.slip_width > 288
