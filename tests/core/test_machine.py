"""The machine: paths stay inside its root, its facts are its own, changes never follow a link."""

from __future__ import annotations

import os
import stat

import pytest
from hypothesis import given
from hypothesis import strategies as st

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.machine import beneath, open_machine
from swept_shelf.core.machine.commands import ALLOWED, run
from swept_shelf.core.machine.people import person_of, read_people
from swept_shelf.core.machine.volumes import allocated_below, is_in_memory, read_volumes, volume_of


@pytest.fixture
def root(tmp_path):
    top = tmp_path / "root"
    for place in ("etc", "home/anna", "home/bert", "usr/bin"):
        (top / place).mkdir(parents=True)
    (top / "etc/passwd").write_text(
        "root:x:0:0::/root:/bin/sh\ndaemon:x:1:1::/usr/sbin:/x\nanna:x:1001:1001::/home/anna:/bin/sh\nodd line\n"
    )
    return top


def test_absolute_and_climbing_links_end_inside_the_root(root):
    os.symlink("/etc/passwd", root / "abs")
    os.symlink("../../../../etc/passwd", root / "home/anna/up")
    os.symlink("nowhere", root / "dangling")
    os.symlink("round", root / "round")
    machine = open_machine(root)
    for path in ("/abs", "/home/anna/up"):
        assert machine.read_text(path) == (root / "etc/passwd").read_text()
        assert machine.resolve(path) == "/etc/passwd"
    assert machine.resolve("/dangling") is None and machine.exists("/dangling")
    assert machine.resolve("/round") is None
    with pytest.raises(CouldNotRead, match="loop of links"):
        machine.read_bytes("/round")


def test_changes_reach_a_folder_without_any_link_on_the_way(root):
    os.symlink("/home/anna", root / "home/link")
    machine = open_machine(root)
    with machine.folder("/home/anna") as fd:
        assert stat.S_ISDIR(os.fstat(fd).st_mode)
    for path in ("/home/link", "/home/link/x", "/proc/self/root"):
        with pytest.raises(OSError), machine.folder(path):
            pass


def test_a_rename_never_replaces_and_an_exchange_swaps(tmp_path):
    (tmp_path / "a").write_text("a")
    (tmp_path / "b").write_text("b")
    fd = os.open(tmp_path, os.O_RDONLY)
    with pytest.raises(FileExistsError):
        beneath.rename(fd, "a", fd, "b")
    beneath.rename(fd, "a", fd, "b", beneath.EXCHANGE)
    assert (tmp_path / "a").read_text() == "b"
    beneath.rename(fd, "a", fd, "c")
    assert sorted(os.listdir(fd)) == ["b", "c"]
    os.close(fd)


def test_what_cannot_be_read_is_named_with_its_reason(root):
    machine = open_machine(root)
    for path, words in (("/none", "is not there"), ("/etc", "not a regular file|is a directory")):
        with pytest.raises(CouldNotRead, match=words):
            machine.read_bytes(path)
    with pytest.raises(CouldNotRead, match="is not there"):
        machine.listdir("/none")
    os.mkfifo(root / "etc/pipe")
    with pytest.raises(CouldNotRead, match="not a regular file"):
        machine.read_bytes("/etc/pipe")  # and does not hang
    assert machine.names("/none") == [] and machine.read_text("/none", default="x") == "x"


def test_people_are_whose_home_it_is(root):
    people = read_people(open_machine(root))
    assert [(p.name, p.home) for p in people if p.uid != 0] == [("anna", "/home/anna")]
    (root / "home/bert/x").mkdir()
    assert {p.name for p in read_people(open_machine(root))} == {"anna", "bert"}
    assert person_of(people, "/home/anna/.config/x") == "anna"
    assert person_of(people, "/home/annabel") == "everyone"


def test_a_machine_is_known_again_by_its_id_else_by_its_volume(root):
    first = open_machine(root).key
    assert open_machine(root).key == first
    (root / "etc/machine-id").write_text("0123456789abcdef0123456789abcdef\n")
    known = open_machine(root).key
    assert known != first and "0123456789" not in known
    (root / "etc/machine-id").write_text("uninitialized\n")
    assert open_machine(root).key == first


def test_volumes_of_a_folder_are_measured_where_it_stands(root):
    (volume, *_) = read_volumes(open_machine(root))
    assert volume.mount == "/" and volume.capacity > volume.used > 0
    assert volume_of([volume], "/home/anna/x") is volume


def test_this_computers_own_volumes_start_with_the_root():
    volumes = read_volumes(open_machine("/"))
    assert volumes[0].mount == "/" and len({v.id for v in volumes}) == len(volumes)
    assert all(v.free <= v.capacity for v in volumes)


def test_a_made_up_machines_used_part_follows_its_real_bytes(made_up):
    machine = open_machine(made_up.folder)
    before = {v.mount: v for v in read_volumes(machine)}
    (made_up.root / "home/new").write_bytes(b"x" * 1_000_000)
    after = {v.mount: v for v in read_volumes(machine)}
    assert after["/home"].used - before["/home"].used == (made_up.root / "home/new").stat().st_blocks * 512
    assert after["/"].used == before["/"].used and after["/"].capacity == before["/"].capacity
    assert allocated_below(machine, "/none", []) == 0


def test_only_commands_on_the_list_are_run():
    assert "python3" not in ALLOWED
    with pytest.raises(AssertionError):
        run("sh", "-c", "true")
    with pytest.raises(AssertionError):
        run("rm", "-rf", "/nonexistent")
    assert run("dpkg", "--version").status == 0


def test_a_command_that_hangs_is_given_up_with_a_clear_word():
    with pytest.raises(CouldNotRead, match="gave no answer"):
        run("find", "/", "-regex", ".*(x+x+)+y", timeout=0.01)


@given(st.text(alphabet="ab/.", max_size=12))
def test_no_path_whatever_it_says_leads_out_of_the_root(tmp_path_factory, text):
    root = tmp_path_factory.getbasetemp() / "inside"
    root.mkdir(exist_ok=True)
    machine = open_machine(root)
    try:
        fd = machine.open("/" + text, os.O_PATH)
    except (OSError, ValueError):
        return
    real = os.readlink(f"/proc/self/fd/{fd}")
    os.close(fd)
    assert real == str(root) or real.startswith(f"{root}/")


def test_a_demo_folder_is_found_from_itself_or_from_its_root(made_up):
    for at in (made_up.folder, made_up.root):
        machine = open_machine(at)
        assert machine.root == str(made_up.root) and machine.name == "Reading-room desk"
        assert machine.description.ledger == made_up.folder / "ledger/ledger.sqlite"
    with pytest.raises(Refused):
        open_machine(made_up.folder / "machine.json")


def test_a_disk_below_a_mount_in_memory_is_that_disks_own():
    volumes = [
        Volume(mount, mount, "", "ext4", "", False, 9, 0, 9, 0, 0) for mount in ("/", "/run/media/vera/stick")
    ]
    places = {
        "/run/leaf/pid": True,
        "/run/media/vera/stick": False,
        "/run/media/vera/stick/plates": False,
        "/runner/x": False,
        "/home/vera": False,
    }
    assert {path: is_in_memory(path, ["/run"], volumes) for path in places} == places
