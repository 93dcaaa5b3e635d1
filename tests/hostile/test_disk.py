"""A disk that wants to be obeyed is looked at: nothing of it runs, nothing outside it is read or changed, and what is odd is named."""

from __future__ import annotations

import json
import os
import shutil
from pathlib import Path

import disk
import pytest

from helpers import Job, differences, picture
from kills import sampled
from swept_shelf.core.machine import open_machine
from swept_shelf.workshop import Workshop

MAY_START = {
    "/usr/bin/prlimit",
    "/usr/bin/find",
    "/usr/bin/grep",
    "/usr/bin/dpkg",
    "/usr/bin/dpkg-query",
    "/usr/bin/rpm",
    "/usr/bin/journalctl",
    "/usr/lib/apt/apt-helper",
}
pytestmark = pytest.mark.skipif(
    os.geteuid() != 0, reason="devices and other people's files can only be made by root"
)


def survey(root: Path, tmp_path: Path) -> tuple[disk.Watched, dict]:
    out = tmp_path / "out"
    out.mkdir(mode=0o700)
    seen = disk.watched({"do": "survey", "root": str(root), "folder": str(out)}, tmp_path / "log", [out])
    document = out / "survey.json"
    return seen, json.loads(document.read_bytes()) if document.exists() else {}


@pytest.mark.parametrize("oddity", sampled(list(disk.ODDITIES), 4))
def test_whatever_stands_where_a_file_should_costs_itself_alone(tmp_path, oddity):
    root = disk.odd_root(tmp_path / "disk", disk.ODDITIES[oddity])
    before = disk.picture_with_access(root)
    seen, found = survey(root, tmp_path)
    assert seen.last["event"] == "result", seen.last
    assert {Path(s).name.startswith("python") or s in MAY_START for s in seen.started} == {True}, seen.started
    assert seen.written == [] and seen.connected == []
    assert seen.seconds < 60 and 0 < seen.memory < 500 << 20
    assert disk.picture_with_access(root) == before
    apps = {a["id"] for a in found["applications"]}
    assert "debian:lantern" in apps or any(n["path"].startswith("/var/lib/dpkg") for n in found["not_read"])
    if oddity not in ("empty", "link to the host", "link out by the way up", "zeros"):
        assert len(found["not_read"]) > 5


def test_a_disks_own_folder_of_python_is_never_on_our_path(tmp_path, monkeypatch):
    """Standing at its top as one does: what is called like us, or like a module we use, is not run."""
    root = disk.plain_root(tmp_path / "disk")
    for name in ("swept_shelf", "psutil", "json", "numpy", "encodings", "sitecustomize", "usercustomize"):
        disk.put(root, f"{name}/__init__.py", f"open({str(tmp_path / 'ran')!r}, 'w').write('x')\n")
    disk.put(root, "swept_shelf/worker/__main__.py", f"open({str(tmp_path / 'ran')!r}, 'w').write('x')\n")
    disk.put(root, "find", f"#!/bin/sh\ntouch {tmp_path / 'ran'}\n").chmod(0o755)
    monkeypatch.chdir(root)
    monkeypatch.setenv("PYTHONPATH", str(root))
    monkeypatch.setenv("PYTHONSTARTUP", str(root / "psutil/__init__.py"))
    monkeypatch.setenv("PATH", f"{root}:.:{os.environ['PATH']}")
    shop = Workshop(str(root), str(tmp_path / "ledger.sqlite"))
    job = Job(type("Disk", (), {"folder": root, "root": root})(), survey=False)
    job.shop = shop
    assert job.survey().survey.find("debian:lantern")
    assert not (tmp_path / "ran").exists()


def test_nothing_a_root_says_configures_a_command_of_ours(tmp_path):
    """apt, dpkg, rpm, grep, journalctl: every file that could name a program, an include or another root."""
    root = disk.plain_root(tmp_path / "disk")
    trap = disk.put(root, "trap.sh", f"#!/bin/sh\ntouch {tmp_path / 'ran'}\nexec /bin/sh\n")
    trap.chmod(0o755)
    apt = (
        f'Dir::Bin::dpkg "{trap}";\nDPkg::Options {{ "-c"; "{trap}"; }};\n'
        f'Dir::Bin::apt-helper "{trap}";\n#include "/etc/shadow";\n'
        'Dir "/";\n'
        f'APT::Update::Pre-Invoke {{ "{trap}"; }};\nDPkg::Pre-Invoke {{ "{trap}"; }};\nAPT::AutoRemove::SuggestsImportant "false";\n'
    )
    for name in ("etc/apt/apt.conf", "etc/apt/apt.conf.d/50x", "etc/apt/apt.conf.d/x.conf"):
        disk.put(root, name, apt)
    disk.put(root, "etc/dpkg/dpkg.cfg", f"pre-invoke={trap}\npost-invoke={trap}\nadmindir=/var/lib/dpkg\n")
    disk.put(root, "etc/dpkg/dpkg.cfg.d/x", f"pre-invoke={trap}\n")
    for name in ("root/.rpmmacros", "etc/rpm/macros", "etc/rpm/macros.d/macros.x", "usr/lib/rpm/macros"):
        disk.put(
            root,
            name,
            f"%_dbpath /var/lib/rpm\n%__shell {trap}\n%_query_all_fmt %(touch {tmp_path / 'ran'})\n",
        )
    disk.put(root, "var/lib/apt/lists/x_Packages.lz4", b"\x04\x22\x4d\x18nothing")
    seen, _ = survey(root, tmp_path)
    assert seen.last["event"] == "result" and not (tmp_path / "ran").exists()
    assert "/usr/bin/apt-config" not in seen.started and all(
        Path(s).name.startswith("python") or s in MAY_START for s in seen.started
    )
    from swept_shelf.core.registries.debian.settings import read_settings

    problems: list[tuple[str, str]] = []
    kept = read_settings(open_machine(root), problems)
    assert kept.recommends and not kept.suggests and problems == []


@pytest.mark.parametrize("name", ["status", "info", "info/lantern.list", "."])
def test_a_link_in_the_package_database_leads_nowhere_out(tmp_path, name):
    """The host's own database has packages that the disk has not."""
    root = disk.plain_root(tmp_path / "disk")
    place = root / "var/lib/dpkg" / name
    if place.is_dir():
        shutil.rmtree(place)
    else:
        place.unlink()
    place.symlink_to(Path("/var/lib/dpkg") / name)
    _, found = survey(root, tmp_path)
    assert {a["id"] for a in found["applications"] if a["registry"] == "debian"} <= {"debian:lantern"}


def test_a_socket_of_a_disk_is_not_spoken_to(tmp_path):
    from swept_shelf.core.demo.snap_service import serve

    root = disk.plain_root(tmp_path / "disk")
    (root / "var/lib/snapd/snaps").mkdir(parents=True)
    with serve(root / "run", [{"name": "knot", "status": "active", "type": "app"}]):
        seen, found = survey(root, tmp_path)
    assert seen.connected == [] and "snap:knot" not in {a["id"] for a in found["applications"]}


def test_names_of_every_kind_of_bytes_are_surveyed_ordered_and_put_back(tmp_path):
    """Folders, people, hosts, packages and files that are not UTF-8, with markup, escapes and new lines."""
    root = disk.plain_root(tmp_path / "disk")
    odd = os.fsdecode(b"thing-\xff\xfe")
    disk.put(
        root,
        "etc/passwd",
        b"root:x:0:0::/root:/bin/sh\nmal\xff\x1b[31m:x:1007:1007::/home/mallow:/bin/sh\nx:x:99999999999999999999:0::/home/x:/bin/sh\n"
        b"y:x:\xc2\xb2:0::/home/y:/bin/sh\nz:x:-1:0::/home/z:/bin/sh\n\xff\n:::::::::\n",
    )
    disk.put(root, "etc/hostname", b"thicket\x1b]0;owned\x07\xff\nsecond\n")
    disk.put(root, "etc/os-release", b'PRETTY_NAME="<b>x</b>\xff\x1b[2J"\n')
    for folder in (odd, "<img src=file:///etc/passwd>", "new\nline", "\x1b[31mred"):
        thing = disk.put(root, f"opt/{folder}/bin/go", b"\x7fELF" + bytes(60))
        thing.chmod(0o755)
    disk.put(root, f"home/{odd}/.config/lantern/x", "x")
    disk.put(root, f"opt/{odd}.AppImage", b"\x7fELF\2\1\1\0AI\2" + bytes(5000))
    os.utime(root / "usr/bin/lantern", (2**40, 2**40))
    os.utime(root / "home/mallow/.config/lantern/settings.ini", (-(2**33), -(2**33)))
    shop = Workshop(str(root), str(tmp_path / "ledger.sqlite"))
    job = Job(type("Disk", (), {"folder": root, "root": root})(), survey=False)
    job.shop = shop
    found = job.survey().survey
    assert "\x1b" not in found.machine.name and "\n" not in found.machine.name
    assert "files:/opt/thing-\\xff\\xfe" in {a.id for a in found.applications}
    order = job.order("files:/opt/thing-\\xff\\xfe")
    job.carry(job.prepare(order))
    assert not os.path.lexists(os.fsencode(root / "opt") + b"/thing-\xff\xfe")
    assert job.put_back()["left"] == 0 and os.path.lexists(os.fsencode(root / "opt") + b"/thing-\xff\xfe")


def test_the_whole_circle_on_a_hostile_disk_changes_nothing_outside_it(tmp_path):
    """Look, order, rehearse, carry out, look again, put back, empty: what its links lead to is as it was, access times and all."""
    outside = tmp_path / "outside"
    disk.put(outside, "keep/letters.txt", "kept")
    disk.put(outside, "bin/run", "#!/bin/sh\n").chmod(0o4755)
    root = disk.plain_root(tmp_path / "disk")
    for name in ("opt/vine/bin/go", "opt/other/bin/go"):
        disk.put(root, name, b"\x7fELF" + bytes(60)).chmod(0o755)
    for place in (
        "opt/vine/data",
        "opt/vine/up",
        "home/mallow/.cache/vine",
        "home/mallow/.config/vine",
        "usr/local/bin/vine",
        "var/log/vine",
        "tmp/x",
    ):
        (root / place).parent.mkdir(parents=True, exist_ok=True)
        (root / place).symlink_to(
            outside / "keep" if "up" not in place else "../" * 30 + str(outside / "keep")[1:]
        )
    (root / "usr/local/bin/go").symlink_to("/opt/vine/bin/go")
    disk.put(
        root,
        "usr/local/share/applications/vine.desktop",
        "[Desktop Entry]\nType=Application\nName=Vine\nExec=/opt/vine/bin/go\n",
    )
    disk.put(root, "home/mallow/.bashrc", "alias v='/opt/vine/bin/go'\n")
    os.link(root / "home/mallow/.bashrc", root / "home/mallow/hard")
    (root / "home/mallow/.config/mimeapps.list").symlink_to(outside / "keep/letters.txt")
    before = disk.picture_with_access(outside)
    whole = picture(root)
    job = Job(type("Disk", (), {"folder": root, "root": root})(), survey=False)
    job.shop = Workshop(str(root), str(tmp_path / "ledger.sqlite"))
    job.survey()
    answers = {"pointed_at:files:/opt/vine": "go_too"}
    order = job.order("files:/opt/vine", answers=answers)
    assert job.shop.orders.rehearse(order, "the order").problems == {}
    job.carry(job.prepare(order))
    assert not (root / "opt/vine").exists()
    job.clearance()
    assert job.put_back()["left"] == 0
    assert differences(whole, picture(root, shelf=True)) == []
    job.survey()
    job.carry(job.prepare(job.order("files:/opt/vine", answers=answers)))
    assert job.empty()["left"] == 0 and not (root / ".swept-shelf").exists()
    assert disk.picture_with_access(outside) == before


def test_separators_in_a_packages_own_words_move_no_field(tmp_path):
    root = disk.plain_root(tmp_path / "disk")
    odd = "a\x1fb\x1ec\x00d\x1b[31m %{NAME} ${Package} \udcff"
    disk.put(
        root,
        "var/lib/dpkg/status",
        disk.STATUS.replace("a lantern", odd).replace("Nobody <n@x.invalid>", odd)
        + disk.STATUS.replace("lantern", "plain"),
    )
    disk.put(root, "var/lib/dpkg/info/plain.list", disk.LIST.replace("lantern", "plain"))
    disk.put(root, "usr/bin/plain", "#!/bin/sh\n").chmod(0o755)
    _, found = survey(root, tmp_path)
    assert {(a["id"], a["version"]) for a in found["applications"]} == {
        ("debian:lantern", "1.0"),
        ("debian:plain", "1.0"),
    }
    assert not [n for n in found["not_read"] if "record" in n["reason"]]
