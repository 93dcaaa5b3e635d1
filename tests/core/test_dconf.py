"""Settings in dconf: found in any value, cut out of it alone, the database readable by its own tool, all put back."""

from __future__ import annotations

import os
import shutil
import subprocess
import time

import pytest
from hypothesis import given
from hypothesis import strategies as st

from helpers import Job
from kills import under_injection
from planted import ALONE, EDDA, SETTINGS_LEFT, SETTINGS_PLANTED, TO, H, plant
from swept_shelf.core.grammars import gvariant
from swept_shelf.core.grammars.gvariant import Part
from swept_shelf.core.grammars.gvdb import data_of, table_of, text_of
from swept_shelf.core.references.cutting import without
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.take_out import cuts_for, why_broken

PLACE = f"{H}/.config/dconf/user"


def values(depth=2):
    """Values of every type that programs store."""
    plain = st.one_of(
        st.text(st.characters(codec="utf-8", exclude_characters="\0")).map(lambda x: Part("s", x)),
        st.integers(-(2**31), 2**31 - 1).map(lambda x: Part("i", x)),
        st.integers(0, 2**64 - 1).map(lambda x: Part("t", x)),
        st.integers(0, 2**16 - 1).map(lambda x: Part("q", x)),
        st.booleans().map(lambda x: Part("b", x)),
        st.floats(allow_nan=False).map(lambda x: Part("d", x)),
    )
    if not depth:
        return plain
    inner = values(depth - 1)
    several = st.lists(inner, min_size=1, max_size=5)
    return st.one_of(
        plain,
        inner.map(lambda x: Part("v", members=[x])),
        several.map(lambda xs: Part(f"({''.join(x.type for x in xs)})", members=xs)),
        several.map(lambda xs: Part("a" + xs[0].type, members=[x for x in xs if x.type == xs[0].type])),
        several.map(lambda xs: Part("av", members=[Part("v", members=[x]) for x in xs])),
        inner.map(lambda x: Part("m" + x.type, members=[x])),
        inner.map(lambda x: Part("a" + x.type)),
        inner.map(
            lambda x: Part("a{sv}", members=[Part("{sv}", members=[Part("s", "k"), Part("v", members=[x])])])
        ),
    )


@given(values())
def test_a_value_is_the_same_as_bytes_and_as_a_line(value):
    data = gvariant.encoded(value)
    assert gvariant.encoded(gvariant.decoded(data)) == data
    line = gvariant.written(value)
    part = gvariant.read(value.type, line)
    assert (part.start, part.end, gvariant.encoded(part)) == (0, len(line), data)


@given(st.binary(max_size=80))
def test_what_is_no_value_is_said_to_be_none(data):
    try:
        value = gvariant.decoded(data)
    except ValueError:
        return
    assert gvariant.encoded(value) == data


NAMES = st.lists(
    st.text(st.characters(codec="utf-8", categories=("L", "N", "P")), min_size=1, max_size=9),
    min_size=1,
    max_size=4,
)


@given(
    st.dictionaries(
        NAMES.map(lambda n: "/" + "/".join(n)),
        st.one_of(values(1).map(gvariant.encoded), st.binary(max_size=9)),
    )
)
def test_a_database_is_the_same_as_text_and_written_anew(table):
    data = data_of(text_of(data_of("".join(f"{k}\t#\t{v.hex()}\n" for k, v in table.items()))))
    assert table_of(data) == table


def test_the_databases_own_tool_reads_what_is_written(tmp_path):
    (tmp_path / "db").write_bytes(data_of(SETTINGS_PLANTED))
    (tmp_path / "profile").write_text(f"file-db:{tmp_path / 'db'}\n")
    told = subprocess.run(
        ["dconf", "dump", "/"],
        env={**os.environ, "DCONF_PROFILE": str(tmp_path / "profile")},
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert "favourites=['ashen.desktop', 'plot7.desktop']" in told
    assert "[org/keys/media/custom0]\nbinding='<Super>p'\ncommand='plot7 -x'\nname='Plot'" in told
    assert "layout=[{'ashen.desktop': <{'position': <0>}>, 'plot7.desktop': <{'position': <1>}>}]" in told


def planted(tmp_path, text=SETTINGS_PLANTED):
    machine = plant(tmp_path / "root", [])
    place = tmp_path / "root" / PLACE[1:]
    place.parent.mkdir(parents=True)
    place.write_bytes(data_of(text))
    return machine, place


def test_every_setting_that_names_it_is_found_and_nothing_else_goes(tmp_path):
    machine, place = planted(tmp_path)
    mine = find_references(machine, [EDDA], {}, TO).references["plot"]
    assert {r.path for r in mine} == {PLACE} and {r.kind for r in mine} == {"dconf"}
    text = text_of(place.read_bytes())
    cuts = cuts_for("dconf", PLACE, text, ALONE, {(r.line, r.key) for r in mine}, H)
    after = without(text, cuts)
    assert after == SETTINGS_LEFT
    assert why_broken("dconf", PLACE, text, after) == ""
    place.write_bytes(data_of(after))
    assert "plot" not in find_references(machine, [EDDA], {}, TO).references


def test_what_is_stored_in_no_known_form_is_found_and_left(tmp_path):
    raw = b"ashen.desktop\0plot7.desktop\0\x0e\x1c"
    machine, _ = planted(tmp_path, f"/org/shell/favourites\t#\t{raw.hex()}\n")
    mine = find_references(machine, [EDDA], {}, TO).references["plot"]
    text = text_of(data_of(f"/org/shell/favourites\t#\t{raw.hex()}\n"))
    assert [r.key for r in mine] == ["/org/shell/favourites"]
    assert cuts_for("dconf", PLACE, text, ALONE, {(r.line, r.key) for r in mine}, H) == []


@pytest.mark.parametrize("break_it", [lambda d: d[:40], lambda d: b"raVGtnai" + d[8:], lambda d: b""])
def test_a_broken_database_is_said_and_never_clear(tmp_path, break_it):
    machine, place = planted(tmp_path)
    place.write_bytes(break_it(place.read_bytes()))
    found = find_references(machine, [EDDA], {}, TO)
    assert PLACE in {n.path for n in found.not_read["launchers"]}


def started(program, uid):
    """A program that runs as somebody who could not reach it by its path."""
    fd = os.open(program, os.O_RDONLY)

    def become():
        os.setuid(uid)
        os.execve(fd, [str(program), "60"], {})

    return subprocess.Popen(["true"], preexec_fn=become, pass_fds=(fd,))


@pytest.fixture
def held(made_up, looked):
    """(job, an application's id, a person's database that names it, the program that holds such databases)."""
    id = made_up.id("map", "7")
    home = next((made_up.root / "home").iterdir())
    place = home / ".config/dconf/user"
    place.parent.mkdir(parents=True, exist_ok=True)
    launcher = looked.app(id).launchers[0].id
    place.write_bytes(data_of(f'/org/shell/favourites\tas\t["kept.desktop", "{launcher}"]\n'))
    os.chown(place, home.stat().st_uid, home.stat().st_gid)
    service = made_up.root / "usr/libexec/dconf-service"
    service.parent.mkdir(parents=True, exist_ok=True)
    shutil.copy(shutil.which("sleep"), service)
    return Job(made_up), id, place, service


LEFT = '/org/shell/favourites\tas\t["kept.desktop"]\n'


def test_who_holds_the_database_is_asked_to_end_before_it_writes_its_own_over_it(held):
    job, id, place, service = held
    owner, before = place.stat().st_uid, place.read_bytes()
    inside = "/" + str(place.relative_to(job.machine.root))
    assert inside in {r.path for r in job.app(id).references}
    with started(service, owner) as theirs, started(service, owner + 1) as anothers:
        try:
            order = job.order(id)
            rehearsed = job.shop.orders.rehearse(order, "the order")
            assert any("dconf-service" in note and inside in note for note in rehearsed.notes)
            job.carry(job.prepare(order))
            assert theirs.wait(5) != 0
            time.sleep(0.1)
            assert anothers.poll() is None
        finally:
            for process in (theirs, anothers):
                process.kill()
    assert text_of(place.read_bytes()) == LEFT
    assert job.put_back()["left"] == 0
    assert place.read_bytes() == before


def test_cut_off_before_it_was_asked_it_is_asked_when_the_run_goes_on(held):
    job, id, place, service = held
    before = place.read_bytes()
    with started(service, place.stat().st_uid) as theirs:
        try:
            run = job.prepare(job.order(id))
            assert under_injection(job.shop.orders.carry_request(run), "pidfd_send_signal", 1).died
            assert theirs.poll() is None and text_of(place.read_bytes()) == LEFT
            job.carry(run)
            assert theirs.wait(5) != 0
        finally:
            theirs.kill()
    assert text_of(place.read_bytes()) == LEFT
    assert job.put_back()["left"] == 0 and place.read_bytes() == before
