"""Who asked, what can be had again, what was changed, what is protected, and what stands in the way."""

from __future__ import annotations

import bz2
import fcntl
import gzip
import json
import lzma
import os
import subprocess
import sys
from dataclasses import replace
from pathlib import Path

import psutil
import pytest

from helpers import Job, cli
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.machine import commands, open_machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.registries.debian.offered import offered
from swept_shelf.core.registries.holding import of_processes
from swept_shelf.core.survey.facts import registered_as
from swept_shelf.core.survey.obstacles import of_volumes


def surveyed(machine):
    return Job(machine, survey=False).survey(whole=True).survey


def app(survey, id):
    return next(a for a in survey.applications if a.id == id)


HISTORY = (
    "\nStart-Date: 2026-02-03  10:11:12\nCommandline: apt install {name}\n"
    "{who}Install: {name}:amd64 (1.0), libx:amd64 (2.0, automatic)\n"
    "End-Date: x\n"
)


@pytest.mark.parametrize(
    ("ending", "pack"),
    [
        ("", bytes),
        (".1", bytes),
        (".2.gz", gzip.compress),
        (".3.xz", lzma.compress),
        (".4.bz2", bz2.compress),
    ],
)
def test_apts_history_says_who_asked_and_when(made_up, ending, pack):
    name = made_up.id("desk").removeprefix("debian:")
    log = made_up.root / "var/log/apt"
    (log / "history.log").unlink()
    (log / f"history.log{ending}").write_bytes(
        pack(HISTORY.format(name=name, who="Requested-By: ylva (1002)\n").encode())
    )
    found = app(surveyed(made_up), f"debian:{name}")
    assert found.requested_by == "asked for by ylva"
    assert (
        f"asked for by ylva, {found.installed.first.astimezone():%-d %b %Y}"
        in cli("why", "--root", str(made_up.folder), name).stdout
    )


def test_without_a_name_it_was_root_and_a_broken_log_is_named(made_up):
    name = made_up.id("desk").removeprefix("debian:")
    log = made_up.root / "var/log/apt"
    (log / "history.log").write_text(HISTORY.format(name=name, who=""))
    (log / "history.log.1.gz").write_bytes(gzip.compress(b"Start-Date: x\n" * 400)[:60])
    survey = surveyed(made_up)
    assert app(survey, f"debian:{name}").requested_by == "asked for by root"
    assert [n.path for n in survey.not_read] == [
        "/var/log/apt/history.log.1.gz"
    ] and "unpacked" in survey.not_read[0].reason


def test_whether_it_can_be_had_again_is_what_the_lists_of_the_sources_say(made_up):
    machine = open_machine(made_up.folder)
    assert offered(machine)[0].names is None
    lists = made_up.root / "var/lib/apt/lists"
    lists.mkdir()
    one, two = made_up.id("desk").removeprefix("debian:"), made_up.id("match").removeprefix("debian:")
    (lists / "x_main_binary-amd64_Packages").write_text(f"Package: {one}\nVersion: 9\n\nPackage: libx\n")
    (lists / "y_main_binary-amd64_Packages.gz").write_bytes(gzip.compress(f"Package: {two}\n".encode()))
    (lists / "z_main_binary-amd64_Packages.lz4").write_bytes(b"no such format")
    lists_say, problems = offered(machine)
    assert lists_say.names == {one, two, "libx"} and [p for p, _ in problems] == [
        "/var/lib/apt/lists/z_main_binary-amd64_Packages.lz4"
    ]
    survey = surveyed(made_up)
    assert app(survey, made_up.id("match")).origin.reinstallable is True
    assert app(survey, made_up.id("quest")).origin.reinstallable is False


@pytest.mark.parametrize("end", ["", ".gz"])
@pytest.mark.parametrize("pieces", [1 << 18, 7])
def test_a_priority_is_what_a_list_gives_the_same_version_else_what_the_package_says(
    tmp_path, end, pieces, monkeypatch
):
    lists = tmp_path / "var/lib/apt/lists"
    lists.mkdir(parents=True)
    text = (
        b"Package: kept\nVersion: 1\nPriority: required\n\nPackage: freed\nPriority: optional\nVersion: 2~b\n\n"
        b"Package: kept\nPriority: optional\nVersion: 3\n\nPackage: turned\nPriority: required\nVersion: 1\nDescription: x\n"
    )
    monkeypatch.setattr(commands, "_PIECE", pieces)
    (lists / f"x_Packages{end}").write_bytes(gzip.compress(text) if end else text)
    (lists / "y_Packages").write_bytes(b"Version: 2\nPriority: required\n")
    said, problems = offered(open_machine(tmp_path))
    asked = [("kept", "1"), ("kept", "3"), ("freed", "2~b"), ("turned", "1"), ("freed", "1"), ("none", "1")]
    assert [said.is_required(*a, True) for a in asked] == [True, False, False, True, True, True]
    assert [said.is_required(*a, False) for a in asked] == [True, False, False, True, False, False]
    assert said.names == {"kept", "freed", "turned"} and not problems


def test_files_changed_since_their_package_came_are_named(made_up):
    name = made_up.id("desk").removeprefix("debian:")
    before = app(surveyed(made_up), f"debian:{name}")
    assert before.changed_files == []
    info = made_up.root / f"var/lib/dpkg/info/{name}.md5sums"
    if not info.exists():
        paths = [made_up.root / e[1:] for e in before.executables]
        sums = subprocess.run(
            ["md5sum", *[str(p.relative_to(made_up.root)) for p in paths]],
            cwd=made_up.root,
            capture_output=True,
            text=True,
        )
        info.write_text(sums.stdout)
    program = made_up.root / before.executables[0][1:]
    whole = program.read_bytes()
    os.utime(program)
    assert app(surveyed(made_up), f"debian:{name}").changed_files == []
    assert Job(made_up).surveyed.survey.evidence.folder_times_trusted == [
        "/usr"
    ]  # folders are as they were: not read again
    program.write_bytes(whole + b"# changed\n")
    assert app(surveyed(made_up), f"debian:{name}").changed_files == [before.executables[0]]


def test_what_the_owner_wants_to_keep_is_protected_and_a_broken_file_is_named(made_up):
    own = made_up.root / "etc/swept-shelf/protected.toml"
    own.parent.mkdir()
    desk, folder = made_up.id("desk"), f"files:/opt/{made_up.truth['app']['unpacked'].lower()}"
    own.write_text(
        f'reason = "the school needs it"\npackages = ["{desk.removeprefix("debian:")}"]\napplications = ["{folder}"]\n'
    )
    survey = surveyed(made_up)
    assert app(survey, desk).protected == app(survey, folder).protected == "the school needs it"
    job = Job(made_up)
    assert any(s.question == "protected" for s in job.order(desk).settle)
    own.write_text('packages = "all"\n')
    assert [n.path for n in surveyed(made_up).not_read] == ["/etc/swept-shelf/protected.toml"]
    own.write_text("packages = [")
    assert "TOML" in surveyed(made_up).not_read[0].reason


def test_sessions_login_manager_and_kernels_are_protected(made_up):
    """By what they do on this computer: a session file, the login manager's setting, the link the boot loader follows."""
    from swept_shelf.core.applications.protected import Protection
    from swept_shelf.core.registries.debian import read as debian

    machine = open_machine(made_up.folder)
    registry = debian.read(machine)
    some = next(iter(registry.packages.values()))

    def package(name, *files):
        return replace(some, name=name, files=files, essential=False, protected=False, priority="optional")

    extra = {
        p.name: p
        for p in (
            package("roomsession", "/usr/share/xsessions/room.desktop"),
            package("roomlogin", "/usr/sbin/roomlogin"),
            *(
                package(f"linux-image-6.1.0-{n}-amd64", f"/boot/vmlinuz-6.1.0-{n}-amd64")
                for n in (9, 10, 11, 12)
            ),
            package("linux-image-amd64"),
            package("network-manager"),
            package("grub-pc"),
            package("plain"),
        )
    }
    (made_up.root / "etc/X11").mkdir()
    (made_up.root / "etc/X11/default-display-manager").write_text("/usr/sbin/roomlogin\n")
    (made_up.root / "vmlinuz").symlink_to("boot/vmlinuz-6.1.0-10-amd64")
    protection = Protection(machine, replace(registry, packages=extra))
    assert protection.package("roomsession") == "people's desktop session is started by it"
    assert protection.package("roomlogin") == "people log in with it"
    assert protection.package("linux-image-6.1.0-10-amd64") == "it is the kernel the computer starts with"
    assert protection.package("network-manager") and protection.package("grub-pc")
    for newest in (11, 12):
        assert "one of the two newest kernels" in (
            protection.package(f"linux-image-6.1.0-{newest}-amd64") or ""
        )
    assert protection.package("linux-image-6.1.0-9-amd64") is None and protection.package("plain") is None
    assert (
        protection.taking(["plain", "grub-pc"])
        == "its removal would take grub-pc along: it starts the computer"
    )
    pulled_in = Protection(
        machine, replace(registry, packages=extra, automatic=frozenset({"grub-pc", "roomlogin"}))
    )
    assert pulled_in.taking(["grub-pc"]) is None and pulled_in.package("grub-pc")  # nothing else needs it
    assert pulled_in.taking(["roomlogin"]) == "its removal would take roomlogin along: people log in with it"


def test_a_second_survey_says_what_it_did_not_read_again_and_finds_what_changed(made_up):
    root = str(made_up.folder)
    assert "not read again" not in cli("survey", "--root", root).stderr
    new = made_up.root / "usr/share/brought-along/big.bin"
    new.parent.mkdir()
    new.write_bytes(b"x" * 500_000)
    again = cli("survey", "--root", root)
    assert "folders below /usr that are as they were on" in again.stderr and again.returncode == 0
    assert "500 kB" in cli("whose", "--root", root, "/usr/share/brought-along/big.bin").stdout.replace(
        "\u202f", " "
    ).replace("504 kB", "500 kB")
    assert "not read again" not in cli("survey", "--root", root, "--whole").stderr


def test_a_package_of_another_architecture_is_said_to_be_one(made_up):
    name = made_up.id("desk").removeprefix("debian:")
    status = made_up.root / "var/lib/dpkg/status"
    text = status.read_text()
    at = text.index(f"Package: {name}\n")
    status.write_text(
        text[:at]
        + text[at:].replace("Architecture: all", "Architecture: armhf", 1)
        + "Package: dpkg\nStatus: install ok installed\nArchitecture: amd64\nVersion: 1.21\nMaintainer: x\nDescription: y\n\n"
    )
    (made_up.root / "var/lib/dpkg/info/dpkg.list").write_text("")
    (made_up.root / "var/lib/dpkg/arch").write_text("amd64\narmhf\n")
    found = next(a for a in surveyed(made_up).applications if a.id.startswith(f"debian:{name}"))
    assert (
        found.origin.source == "Debian packages of armhf"
        and registered_as(found) == "system package of armhf"
    )


# -- what stands in the way -------------------------------------------------------------------------------------


def kinds(machine):
    return {o.kind: o for o in surveyed(machine).in_the_way}


def test_nothing_stands_in_the_way_of_a_whole_machine(made_up):
    assert kinds(made_up) == {}


def test_a_lock_that_another_tool_holds_is_said_and_never_taken(made_up):
    lock = made_up.root / "var/lib/dpkg/lock-frontend"
    lock.touch()
    code = f"import fcntl,sys,time; f=open({str(lock)!r},'r+'); fcntl.lockf(f, fcntl.LOCK_EX); print('held', flush=True); sys.stdin.read()"
    with subprocess.Popen(
        [sys.executable, "-c", code], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as other:
        assert other.stdout.readline() == "held\n"
        said = kinds(made_up)["locked"]
        other.stdin.close()
    assert said.path == "/var/lib/dpkg/lock-frontend" and f"(process {other.pid})" in said.text
    with open(lock, "r+") as free:
        fcntl.lockf(free, fcntl.LOCK_EX | fcntl.LOCK_NB)


def test_a_half_configured_package_and_a_dpkg_cut_off_are_said(made_up):
    name = made_up.id("desk").removeprefix("debian:")
    status = made_up.root / "var/lib/dpkg/status"
    text = status.read_text()
    at = text.index(f"Package: {name}\n")
    status.write_text(
        text[:at] + text[at:].replace("Status: install ok installed", "Status: install ok half-configured", 1)
    )
    said = [o for o in surveyed(made_up).in_the_way if o.kind == "half configured"]
    assert len(said) == 1 and f"1 package is not whole: {name}" in said[0].text
    (made_up.root / "var/lib/dpkg/updates/0001").write_text("")
    assert any("dpkg --configure -a" in o.text for o in surveyed(made_up).in_the_way)


def test_volumes_full_without_inodes_or_read_only_and_snapshots_are_said(made_up, tmp_path):
    machine = open_machine(made_up.root)
    here = read_volumes(machine)[0]
    found = of_volumes(
        machine,
        [
            replace(here, read_only=True),
            replace(here, mount="/home", free=0),
            replace(here, mount="/boot", free=9_000_000),
        ],
    )
    assert {(o.kind, o.path) for o in found if o.kind in ("read-only", "full")} == {
        ("read-only", "/"),
        ("full", "/home"),
        ("full", "/boot"),
    }
    (made_up.root / ".snapshots/1").mkdir(parents=True)
    said = next(o for o in of_volumes(machine, [here]) if o.kind == "snapshots")
    assert said.path == "/.snapshots" and said.text.startswith("1 snapshot ")


def test_a_volume_is_not_called_read_only_because_we_look_at_it_so(made_up):
    assert not any(v.read_only for v in surveyed(made_up).volumes)
    (made_up.folder / "machine.json").unlink()  # now it is a plain folder of this computer
    done = cli(
        "survey",
        "--root",
        str(made_up.root),
        "--ledger",
        str(made_up.folder / "other.sqlite"),
        "--format",
        "json",
    )
    assert [v["read_only"] for v in json.loads(done.stdout)["volumes"]] == [False]


def test_deleted_files_that_are_kept_open_are_said_with_bytes_and_process(made_up):
    gone = made_up.root / "tmp/gone.bin"
    with open(gone, "wb") as handle:
        handle.write(os.urandom(3_000_000))
        handle.flush()
        gone.unlink()
        said = [o for o in of_processes(open_machine(made_up.root), []) if o.kind == "deleted but open"]
    assert (
        len(said) == 1
        and f"(process {os.getpid()})" in said[0].text
        and said[0].bytes == pytest.approx(3_000_000, abs=8192)
    )


def test_a_program_of_this_computer_that_works_in_a_foreign_root_is_said(made_up):
    held = made_up.root / "etc/hostname"
    with subprocess.Popen(["tail", "-f", str(held)], stdout=subprocess.DEVNULL) as other:
        try:
            while str(held) not in (path for path, *_ in psutil.Process(other.pid).open_files()):
                pass
            said = kinds(made_up)["in use"]
        finally:
            other.kill()
    assert (
        said.path == "/etc/hostname"
        and said.text == f"tail (process {other.pid}) of this computer works there"
    )
    assert "in the way" not in cli("survey", "--root", str(made_up.folder)).stderr


def test_people_are_accounts_homes_without_one_and_homes_of_a_domain(tmp_path):
    root = tmp_path / "root"
    for home, uid in (
        ("hanne", 1000),
        ("left", 1007),
        ("EXAMPLE", 0),
        ("EXAMPLE/orla", 70001),
        ("EXAMPLE/vigdis", 70002),
        ("shared", 0),
    ):
        (root / "home" / home).mkdir(parents=True)
        os.chown(root / "home" / home, uid, uid)
    (root / "home/shared/readme").write_text("x")
    (root / "etc").mkdir()
    (root / "etc/passwd").write_text(
        "hanne:x:1000:1000::/home/hanne:/bin/sh\nnobody:x:65534:65534::/nonexistent:/bin/false\nbroken line\n"
    )
    people = read_people(open_machine(root))
    assert {(p.name, p.uid, p.home) for p in people} == {
        ("hanne", 1000, "/home/hanne"),
        ("left", 1007, "/home/left"),
        ("orla", 70001, "/home/EXAMPLE/orla"),
        ("vigdis", 70002, "/home/EXAMPLE/vigdis"),
        ("shared", 0, "/home/shared"),
    }


def test_a_survey_of_very_many_files_needs_no_room_but_its_own_folder(made_up):
    """While looking everything else is mounted read-only: what SQLite sorts must not go elsewhere."""
    name = made_up.id("desk").removeprefix("debian:")
    many = made_up.root / "usr/share/very-many"
    many.mkdir()
    names = [f"/usr/share/very-many/{n:05}-{'x' * 200}" for n in range(14_000)]
    for path in names:
        (made_up.root / path[1:]).touch()
    with open(made_up.root / f"var/lib/dpkg/info/{name}.list", "a") as listing:
        listing.write("/usr/share/very-many\n" + "\n".join(names) + "\n")
    found = Job(made_up)
    assert sum(b.files for b in found.app(f"debian:{name}").belongings) > 14_000
    assert found.surveyed.index.listing(names[-1]) == {name}


@pytest.fixture
def disks(tmp_path):
    """A root on a btrfs of its own with /home on another one: two volumes that really are two file systems."""
    if os.geteuid() != 0:
        pytest.skip("only root mounts")
    if subprocess.run(["losetup", "-f"], capture_output=True).returncode:
        pytest.skip("this computer gives no loop device")
    top = tmp_path / "disk"
    images = [tmp_path / "root.img", tmp_path / "home.img"]
    for image in images:
        with open(image, "wb") as handle:
            handle.truncate(160_000_000)
        subprocess.run(["mkfs.btrfs", "-q", str(image)], check=True, capture_output=True)
    top.mkdir()
    subprocess.run(["mount", "-o", "loop", str(images[0]), str(top)], check=True)
    try:
        (top / "home").mkdir()
        subprocess.run(["mount", "-o", "loop", str(images[1]), str(top / "home")], check=True)
        yield top
    finally:
        subprocess.run(["umount", "-R", "-l", str(top)], check=False)


def test_two_real_volumes_are_counted_apart_and_shared_extents_are_not_promised(disks, tmp_path):
    """An application that nobody registered, whose two large files are copies that share their extents, and a person's cache."""
    program = disks / "opt/sundial"
    (program / "bin").mkdir(parents=True)
    (program / "bin/sundial").write_bytes(Path("/bin/true").read_bytes())
    (program / "bin/sundial").chmod(0o755)
    (program / "one.pak").write_bytes(os.urandom(6_000_000))
    subprocess.run(
        ["cp", "--reflink=always", str(program / "one.pak"), str(disks / "opt/kept.pak")], check=True
    )
    (program / "own.pak").write_bytes(os.urandom(3_000_000))
    (disks / "etc").mkdir()
    (disks / "etc/passwd").write_text("hanne:x:1000:1000::/home/hanne:/bin/sh\n")
    cache = disks / "home/hanne/.cache/sundial/big.bin"
    cache.parent.mkdir(parents=True)
    cache.write_bytes(os.urandom(2_000_000))
    os.sync()
    job = Job(type("Disk", (), {"folder": disks, "root": disks})(), survey=False)
    job.shop = type(job.shop)(str(disks), str(tmp_path / "ledger.sqlite"))
    survey = job.survey().survey
    assert [(v.mount, v.file_system) for v in survey.volumes] == [("/", "btrfs"), ("/home", "btrfs")]
    found = app(survey, "files:/opt/sundial")
    mounts = {v.id: v.mount for v in survey.volumes}
    back = {mounts[c.volume]: c.total for c in found.comes_back_by}
    assert found.bytes.program == pytest.approx(9_000_000, abs=100_000)
    assert back["/"] == pytest.approx(3_000_000, abs=100_000) and back["/home"] == pytest.approx(
        2_000_000, abs=20_000
    )
    assert job.surveyed.index.row("/opt/sundial/one.pak").shared == pytest.approx(6_000_000, abs=10_000)
    order = job.order("files:/opt/sundial")
    assert {mounts[c.volume]: c.now + c.when_emptied for c in order.comes_back} == back
    before = {v.mount: v.free for v in read_volumes(job.shop.machine)}
    run = job.carry(job.prepare(order))
    assert all(r.state == "done" for r in records_of(run))
    assert (disks / ".swept-shelf").exists() and (disks / "home/.swept-shelf").exists()
    job.empty()
    for disk in (disks, disks / "home"):
        subprocess.run(["btrfs", "filesystem", "sync", str(disk)], check=True)
    gained = {v.mount: v.free - before[v.mount] for v in read_volumes(job.shop.machine)}
    assert gained["/"] >= back["/"] - 200_000 and gained["/home"] >= back["/home"] - 200_000
