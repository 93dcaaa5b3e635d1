"""Pointers: each read by its file's grammar; what is taken out changes nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from swept_shelf.core.grammars.shell_words import programs_of
from swept_shelf.core.references.cutting import put_in_again, whole_line, without
from swept_shelf.core.references.kinds import KINDS as DECLARED
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.references.take_out import cut_of, cuts_for, why_broken

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


def pointing(kind, path, text, to=IT):
    """Entries of a file that point at one of `to`."""
    return [e for e in DECLARED[kind].parse(path, text) if any(to.whose(t) for t in e.targets)]


def cuts(kind, path, text, to=IT):
    return [c for e in pointing(kind, path, text, to) if (c := cut_of(e))]


def cut(kind, path, text, to=IT):
    return without(text, cuts(kind, path, text, to))


@pytest.mark.parametrize(
    ("line", "points"),
    [
        ("5\t2\t*\t*\t*\troot\tplot7", True),
        ("@reboot\tplot7", False),
        ("5 2 * * * root /usr/bin/plot7 --x", True),
        ("@daily root nice -n 5 plot7", True),
        ("5 2 * * * root cd /srv; plot7", True),
        ("# 5 2 * * * root plot7", False),
        ("5 2 * * * root echo plot7", False),
        ("5 2 * * * root plot7er", False),
        ("PATH=/usr/bin:/opt/plot/bin", True),
        ("PATH=/usr/bin:/opt/plotter/bin", False),
        ("5 2 * * * root grep x /var/log/plot7", False),
        ("*/5 * * * mon-fri root FOO=1 plot7", True),
    ],
)
def test_cron_lines(line, points):
    assert bool(pointing("cron", "/etc/cron.d/x", line)) == points


def test_a_persons_crontab_has_no_user_column():
    assert pointing("cron", "/var/spool/cron/crontabs/a", "1 2 3 * * plot7")
    assert not pointing("cron", "/var/spool/cron/crontabs/a", "1 2 3 * * root plot7")


@pytest.mark.parametrize(
    ("line", "left"),
    [
        ("alias p='plot7 --q'", None),
        ("plot7 &", None),
        (". /opt/plot/env.sh", None),
        ("[ -x /x ] && plot7", None),
        ("[ -x /x ] &&\\\n   plot7", None),
        ("echo one; plot7; echo two", "echo one; echo two"),
        ('export PATH="$HOME/bin:/opt/plot/bin:$PATH"', 'export PATH="$HOME/bin:$PATH"'),
        ("PATH=$PATH:/opt/plot/bin", None),
        ("PATH=/bin:/opt/plot/bin", "PATH=/bin"),
        ('PATH="$PATH:/opt/plot/bin"; export PATH', None),
        ('PATH="/x:/opt/plot/bin:/y" ; export PATH  # mine', 'PATH="/x:/y" ; export PATH  # mine'),
        ("PATH=/opt/plot/bin:$PATH; echo", "PATH=$PATH; echo"),
        ("PATH=/opt/plot/bin:/opt/plot/sbin:/bin", "PATH=/bin"),
        ("PATH=/bin:/opt/plot/bin:/opt/plot/sbin", "PATH=/bin"),
        ("if true; then PATH=/opt/plot/bin:$PATH; fi", "same"),
        ("alias plot7-notes='less plot7.txt'", "same"),
        ("# plot7", "same"),
        ("echo plot7", "same"),
        ("export EDITOR=plot7er", "same"),
        ("if true; then plot7; fi", "same"),
        ("if true\nthen\nplot7\nfi", "broken"),
        ("start() {\n  plot7\n}", "broken"),
        ("cat <<END\nplot7\nEND", "same"),
        ("cat <<-'END OF IT'\nplot7\n\tEND OF IT", "same"),
        ("say 'one\nplot7\ntwo'", "same"),
        (". $i", "same"),
        ("source here/env", "same"),
        (". //", "same"),
        ("alias p='it''s", "same"),
    ],
)
def test_shell_start_up_lines(line, left):
    """What is cut is whole commands; where that would leave a script that no shell reads, it is said instead."""
    text = f"first\n{line}\nlast\n"
    after = cut("shell line", "/h/.bashrc", text)
    if left == "broken":
        assert after != text and why_broken("shell line", "/h/.bashrc", text, after)
        return
    assert after == (text if left == "same" else "first\n" + (f"{left}\n" if left else "") + "last\n")
    assert not why_broken("shell line", "/h/.bashrc", text, after)


def test_a_continued_line_goes_with_all_its_lines():
    assert cut("shell line", "/h/.bashrc", "first\nplot7 \\\n  --more\nlast\n") == "first\nlast\n"


def test_a_line_of_a_block_is_found_even_though_it_is_not_taken_out():
    assert pointing("shell line", "/h/.bashrc", "if true; then plot7; fi")


def test_programs_of_a_line_are_the_words_in_command_position():
    assert programs_of("A=1 exec sudo one x | two; (three) && four # five") == ["one", "two", "three", "four"]


def test_file_types_lose_only_the_launcher():
    text = "[Default Applications]\na/b=plot7.desktop\nc/d=plot7.desktop;other.desktop;\n# plot7.desktop\n[Other]\ne/f=plot7.desktop\n"
    assert cut("file type", "/x", text) == (
        "[Default Applications]\nc/d=other.desktop;\n# plot7.desktop\n[Other]\ne/f=plot7.desktop\n"
    )
    assert [e.line for e in pointing("file type", "/x", text)] == [2, 3]


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
    after = cut("recent document", "/r.xbel", XBEL)
    assert "ä.map" not in after
    assert (
        '<bookmark href="file:///h/two"><x><bookmark:application name="other" exec="other"/></x></bookmark>'
        in after
    )
    assert '<bookmark href="file:///h/plot7">' in after
    assert not pointing("recent document", "/r.xbel", after)


def test_recent_documents_that_declare_entities_or_are_broken_are_refused():
    for text in ('<!DOCTYPE x [<!ENTITY a "b">]><xbel>&a;</xbel>', "<xbel><bookmark>"):
        with pytest.raises(ValueError):
            pointing("recent document", "/r.xbel", text)


def test_bookmarks_into_its_folders_go():
    text = "file:///opt/plot/maps Maps\nfile:///opt/plotter Other\nfile:///usr/lib/plot7%20x y\n"
    assert cut("bookmark", "/bookmarks", text) == "file:///opt/plotter Other\nfile:///usr/lib/plot7%20x y\n"


def test_units_of_a_template_and_shared_words():
    assert IT.unit("plot@tty1.service") == "it" and IT.unit("plot.service") == ""
    two = Pointees([Pointee("a", ("x",)), Pointee("b", ("x",))])
    assert two.program("x") == ""


# -- several applications in one file -----------------------------------------------------------------------


def one(name: str) -> Pointees:
    return Pointees([Pointee(name, (name,), (f"/usr/bin/{name}",), (f"/opt/{name}",), (f"{name}.desktop",))])


NAMES = ("ash", "birch", "cedar", "date")
names = st.lists(st.sampled_from([*NAMES, "elm"]), min_size=1, max_size=5, unique=True)


def file_types_of(rows):
    return "[Default Applications]\n" + "".join(
        f"t/{i}={';'.join(f'{n}.desktop' for n in r)}{';' * (i % 2)}\n" for i, r in enumerate(rows)
    )


def shell_of(rows):
    kinds = (
        lambda r: "; ".join(f"{n} --x" for n in r),
        lambda r: f'export PATH="{":".join(f"/opt/{n}/bin" for n in r)}:$PATH"',
        lambda r: "\n".join(f"alias {n}x='{n} -l'" for n in r),
    )
    return "".join(kinds[i % 3](r) + "\n" for i, r in enumerate(rows))


def recents_of(rows):
    return (
        '<xbel xmlns:b="b">\n'
        + "".join(
            f'  <bookmark href="file:///h/{i}">\n'
            + "".join(f'    <b:application name="{n}" exec="{n} %u"/>\n' for n in r)
            + "  </bookmark>\n"
            for i, r in enumerate(rows)
        )
        + "</xbel>\n"
    )


def cron_of(rows):
    return "".join(f"{i} 2 * * *\troot {n} --x\n" for i, r in enumerate(rows) for n in r) + "# end"


KINDS = {
    "file type": ("/x/mimeapps.list", file_types_of),
    "shell line": ("/h/.bashrc", shell_of),
    "recent document": ("/h/r.xbel", recents_of),
    "cron": ("/etc/cron.d/x", cron_of),
}


@pytest.mark.parametrize("kind", KINDS)
@given(rows=st.lists(names, min_size=1, max_size=6), data=st.data())
def test_any_applications_leave_a_file_in_any_order_and_each_comes_back_alone(kind, rows, data):
    path, make = KINDS[kind]
    text = make(rows)
    gone = data.draw(st.permutations(NAMES))[: data.draw(st.integers(1, 4))]
    taken = {n: cuts(kind, path, text, one(n)) for n in gone}
    after = without(text, [c for n in gone for c in taken[n]])
    assert after == without(text, [c for n in sorted(gone) for c in reversed(taken[n])])
    assert not any(pointing(kind, path, after, one(n)) for n in gone)
    assert why_broken(kind, path, text, after) == "" if kind != "shell line" else True
    for other in set(NAMES) - set(gone):
        assert len(pointing(kind, path, after, one(other))) == len(pointing(kind, path, text, one(other)))
    rest = gone[1:]
    without_first = without(text, [c for n in rest for c in taken[n]])
    assert put_in_again(after, without_first, after) == without_first
    mine = "# mine\n" if kind != "recent document" else "<!-- mine -->\n"
    if after.endswith("\n"):
        assert put_in_again(after, without_first, after + mine) == without_first + mine
    if after:
        assert put_in_again(after, without_first, mine + after) == mine + without_first


def test_what_its_owner_wrote_in_the_very_place_is_not_overwritten():
    base, wanted = "[A]\nx=b;\nend\n", "[A]\nx=a;b;\nend\n"
    assert put_in_again(base, wanted, "[A]\nx=b;c;\nend\n") == "[A]\nx=a;b;c;\nend\n"
    assert put_in_again(base, wanted, "[A]\ny=q;\nend\n") is None
    assert put_in_again(base, wanted, "other\n") is None


def test_only_the_references_of_the_order_are_cut():
    text = "[Default Applications]\na/b=plot7.desktop;x.desktop\nc/d=plot7.desktop\n"
    assert without(
        text, cuts_for("file type", "/x", text, IT, {(2, "Default Applications/a/b")})
    ) == text.replace("plot7.desktop;x", "x")
    assert cuts_for("file type", "/x", text, IT, set()) == []


texts = st.lists(st.text(alphabet="ab \t", max_size=6), min_size=1, max_size=8).map("\n".join)


@given(texts, st.data())
def test_cuts_leave_every_other_character(text, data):
    spans = data.draw(
        st.lists(st.tuples(st.integers(0, len(text)), st.integers(0, len(text))).map(sorted), max_size=4)
    )
    kept = [i for i in range(len(text)) if not any(a <= i < b for a, b in spans)]
    assert without(text, [whole_line(1, a, b) for a, b in spans]) == "".join(text[i] for i in kept)
