"""Pointers: each read by its file's grammar; what is taken out changes nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from swept_shelf.core.references import cron, edits_for, file_types, recents, shell_startup
from swept_shelf.core.references.lines import apply_edits, cut_span
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.references.shell_words import programs_of

IT = Pointees(
    [
        Pointee(
            "it",
            ("plot7", "plotd"),
            ("/usr/bin/plot7", "/opt/plot/bin/plot"),
            ("/opt/plot", "/usr/lib/plot7"),
            ("plot7.desktop",),
            ("example.Plot7",),
            ("plot7.service", "plot@.service"),
        )
    ]
)


@pytest.mark.parametrize(
    ("line", "points"),
    [
        ("5 2 * * * root /usr/bin/plot7 --x", True),
        ("@daily root nice -n 5 plot7", True),
        ("5 2 * * * root cd /srv; plot7", True),
        ("# 5 2 * * * root plot7", False),
        ("5 2 * * * root echo plot7", False),
        ("5 2 * * * root plot7er", False),
        ("PATH=/opt/plot/bin", False),
        ("5 2 * * * root grep x /var/log/plot7", False),
        ("*/5 * * * mon-fri root FOO=1 plot7", True),
    ],
)
def test_cron_lines(line, points):
    assert bool(list(cron.find("/etc/cron.d/x", line, IT))) == points


def test_a_persons_crontab_has_no_user_column():
    assert list(cron.find("/var/spool/cron/crontabs/a", "1 2 3 * * plot7", IT))
    assert not list(cron.find("/var/spool/cron/crontabs/a", "1 2 3 * * root plot7", IT))


@pytest.mark.parametrize(
    ("line", "left"),
    [
        ("alias p='plot7 --q'", None),
        ("plot7 &", None),
        (". /opt/plot/env.sh", None),
        ("[ -x /x ] && plot7", None),
        ('export PATH="$HOME/bin:/opt/plot/bin:$PATH"', 'export PATH="$HOME/bin:$PATH"'),
        ("PATH=$PATH:/opt/plot/bin", None),
        ("alias plot7-notes='less plot7.txt'", "same"),
        ("# plot7", "same"),
        ("echo plot7", "same"),
        ("export EDITOR=plot7er", "same"),
        ("if true; then plot7; fi", "same"),
        (". $i", "same"),
        ("source here/env", "same"),
        (". //", "same"),
        ("alias p='it''s", "same"),
        ("plot7 \\", "same"),
    ],
)
def test_shell_start_up_lines(line, left):
    text = f"first\n{line}\nlast\n"
    after = apply_edits(text, edits_for("shell line", text, IT))
    assert after == (text if left == "same" else "first\n" + (f"{left}\n" if left else "") + "last\n")


def test_a_line_of_a_block_is_found_even_though_it_is_not_taken_out():
    assert list(shell_startup.find("/h/.bashrc", "if true; then plot7; fi", IT))


def test_programs_of_a_line_are_the_words_in_command_position():
    assert programs_of("A=1 exec sudo one x | two; (three) && four # five") == ["one", "two", "three", "four"]


def test_file_types_lose_only_the_launcher():
    text = "[Default Applications]\na/b=plot7.desktop\nc/d=plot7.desktop;other.desktop;\n# plot7.desktop\n[Other]\ne/f=plot7.desktop\n"
    assert apply_edits(text, file_types.edits(text, IT)) == (
        "[Default Applications]\nc/d=other.desktop;\n# plot7.desktop\n[Other]\ne/f=plot7.desktop\n"
    )
    assert [h.line for h in file_types.find("/x", text, IT)] == [2, 3]


XBEL = """<?xml version="1.0"?>
<xbel xmlns:bookmark="b">
  <bookmark href="file:///h/ä.map">
    <bookmark:applications><bookmark:application name="plot7" exec="&apos;plot7 %u&apos;"/></bookmark:applications>
  </bookmark>
  <bookmark href="file:///h/two"><x><bookmark:application name="plot7" exec="plot7"/><bookmark:application name="other" exec="other"/></x></bookmark>
  <bookmark href="file:///h/plot7"><bookmark:application name="other" exec="other plot7"/></bookmark>
</xbel>
"""


def test_recent_documents_go_when_only_it_opened_them_else_only_the_mention():
    after = apply_edits(XBEL, recents.edits(XBEL, IT))
    assert after is not None and "ä.map" not in after
    assert (
        '<bookmark href="file:///h/two"><x><bookmark:application name="other" exec="other"/></x></bookmark>'
        in after
    )
    assert '<bookmark href="file:///h/plot7">' in after
    assert not list(recents.find("/r.xbel", after, IT))


def test_recent_documents_that_declare_entities_or_are_broken_are_refused():
    for text in ('<!DOCTYPE x [<!ENTITY a "b">]><xbel>&a;</xbel>', "<xbel><bookmark>"):
        with pytest.raises(ValueError):
            list(recents.find("/r.xbel", text, IT))


def test_bookmarks_into_its_folders_go():
    text = "file:///opt/plot/maps Maps\nfile:///opt/plotter Other\nfile:///usr/lib/plot7%20x y\n"
    assert (
        apply_edits(text, recents.edits(text, IT))
        == "file:///opt/plotter Other\nfile:///usr/lib/plot7%20x y\n"
    )


def test_units_of_a_template_and_shared_words():
    assert IT.unit("plot@tty1.service") == "it" and IT.unit("plot.service") == ""
    two = Pointees([Pointee("a", ("x",), (), (), (), (), ()), Pointee("b", ("x",), (), (), (), (), ())])
    assert two.program("x") == ""


texts = st.lists(st.text(alphabet="ab \t", max_size=6), min_size=1, max_size=8).map(
    lambda lines: "\n".join(lines)
)


@given(texts, st.data())
def test_cutting_a_span_changes_only_its_lines(text, data):
    start = data.draw(st.integers(0, len(text)))
    end = data.draw(st.integers(start, len(text)))
    if start == end or text[end - 1] == "\n":
        return
    after = apply_edits(text, cut_span(text, start, end))
    cut = text[:start] + text[end:]
    assert after is not None
    assert [x for x in after.split("\n") if x.strip()] == [x for x in cut.split("\n") if x.strip()]
    first, last = text.count("\n", 0, start), text.count("\n", 0, end)
    assert text.split("\n")[:first] == after.split("\n")[:first]
    assert len(after.split("\n")) >= len(text.split("\n")) - (last - first) - 1


@given(texts)
def test_edits_that_do_not_fit_the_file_are_not_done(text):
    from swept_shelf.core.documents.operations import LineEdit

    assert apply_edits(text, [LineEdit(1, "not there", None)]) is None
