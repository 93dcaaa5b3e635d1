"""Older kernels: each is a line of its own; two stay, and what runs or is started with; used is what was started."""

from __future__ import annotations

import os
import struct

import pytest

from debs import install
from evidence import ago
from helpers import Job, built, differences, picture
from registries import write
from swept_shelf.core.applications.kernels import number_of, release_of
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.errors import Refused


def kernels(room, *releases, days=400):
    for release in releases:
        room.packages({f"linux-image-{release}": {f"boot/vmlinuz-{release}": "k" * 9000}}, days=days)
        write(room.root, f"boot/initrd.img-{release}", "i" * 20_000)


def offered(survey):
    return {a.name: a for a in survey.applications if a.type == "kernel"}


@pytest.mark.parametrize(
    ("package", "release", "number"),
    [
        ("linux-image-6.1.0-18-amd64", "6.1.0-18-amd64", "6.1.0-18"),
        ("linux-image-6.1.0-18-rt-amd64-unsigned", "6.1.0-18-rt-amd64", "6.1.0-18"),
        ("linux-headers-6.1.0-18-common", "6.1.0-18-common", "6.1.0-18"),
        ("linux-image-6.5.0-0.deb12.4-amd64", "6.5.0-0.deb12.4-amd64", "6.5.0-0.deb12.4"),
        ("linux-image-6.12.107+deb12-cloud-amd64:amd64", "6.12.107+deb12-cloud-amd64", "6.12.107+deb12"),
        ("linux-image-6.1.0-18-686-pae", "6.1.0-18-686-pae", "6.1.0-18"),
        ("linux-image-unsigned-6.8.0-31-generic", "6.8.0-31-generic", "6.8.0-31"),
        ("linux-modules-extra-6.8.0-31-generic", "6.8.0-31-generic", "6.8.0-31"),
        ("linux-image-amd64", "", ""),
        ("linux-image-generic", "", ""),
        ("linux-libc-dev", "", ""),
    ],
)
def test_a_package_of_a_kernel_is_known_by_its_name(package, release, number):
    assert (release_of(package), number_of(release_of(package))) == (release, number)


def test_the_two_newest_stay_and_each_older_one_is_a_line_with_what_was_made_for_it(room, look):
    kernels(room, "6.1.0-2-amd64", "6.1.0-9-amd64", "6.1.0-10-amd64", "6.1.0-10-rt-amd64", "6.1.0-11-amd64")
    found = offered(look())
    assert set(found) == {"Linux 6.1.0-2-amd64", "Linux 6.1.0-9-amd64"}
    oldest = found["Linux 6.1.0-2-amd64"]
    assert oldest.id == "debian:linux-image-6.1.0-2-amd64" and oldest.protected is None
    (made,) = [b for b in oldest.belongings if b.path == "/boot/initrd.img-6.1.0-2-amd64"]
    assert (
        made.certain and oldest.comes_back >= 29_000
    )  # by its package's script: an order takes nothing from /boot
    assert not [s for s in look().shared_stores if "kernel" in s.kind]


def test_what_the_computer_starts_with_stays_however_old(room, look):
    kernels(room, *(f"6.1.0-{n}-amd64" for n in (2, 9, 10, 11)))
    os.symlink("boot/vmlinuz-6.1.0-2-amd64", room.root / "vmlinuz")
    assert set(offered(look())) == {"Linux 6.1.0-9-amd64"}


def test_two_kernels_or_none_and_headers_alone_are_no_lines(room, look):
    kernels(room, "6.1.0-2-amd64", "6.1.0-9-amd64")
    assert not offered(look())
    for name in ("6.1.0-2-amd64", "6.1.0-9-amd64"):
        (room.root / f"var/lib/dpkg/info/linux-image-{name}.list").write_text("/.\n")
    room.packages({"linux-headers-5.9.0-1-amd64": {"usr/src/linux-headers-5.9.0-1-amd64/x.h": "h"}})
    assert not offered(look())  # no image says which is in use


def test_all_packages_of_one_kernel_go_together_and_what_newer_ones_share_stays(room, look):
    kernels(room, *(f"6.1.0-{n}-amd64" for n in (2, 9, 10)))
    headers = "usr/src/linux-headers-6.1.0-"
    room.packages({"linux-kbuild-6.1": {"usr/lib/linux-kbuild-6.1/x": "k" * 5000}})
    for n in (2, 10):
        room.packages({f"linux-headers-6.1.0-{n}-common": {f"{headers}{n}-common/x.h": "h" * 5000}})
        needs = f"Depends: linux-headers-6.1.0-{n}-common, linux-kbuild-6.1\n"
        room.packages({f"linux-headers-6.1.0-{n}-amd64": {f"{headers}{n}-amd64/x.h": "h"}}, control=needs)
    found = offered(look())
    assert set(found) == {"Linux 6.1.0-2-amd64", "Linux 6.1.0-2-common, to build modules"}
    both = found["Linux 6.1.0-2-common, to build modules"]
    assert both.own_packages == ["linux-headers-6.1.0-2-common", "linux-headers-6.1.0-2-amd64"]
    assert set(both.packages) == set(both.own_packages) and both.bytes.program >= 5000


def test_a_kernel_was_used_when_the_computer_was_started_with_it_and_by_nothing_else(room, look):
    kernels(room, *(f"6.1.0-{n}-amd64" for n in (2, 9, 10, 11)))
    room.packages({"linux-headers-6.1.0-2-amd64": {"usr/src/linux-headers-6.1.0-2-amd64/x.h": "h"}})
    room.times("boot/vmlinuz-6.1.0-2-amd64", ago(1))
    starts = [(90, "6.1.0-2-amd64"), (60, "6.1.0-9-amd64"), (50, "6.1.0-9-amd64"), (3, "6.1.0-11-amd64")]
    record = struct.Struct("<hxxi32s4s32s256shhiii16s20x")
    write(
        room.root,
        "var/log/wtmp",
        b"".join(
            record.pack(2, 0, b"~", b"~~", b"reboot", release.encode(), 0, 0, 0, ago(days), 0, b"")
            for days, release in starts
        ),
    )
    found = offered(look())
    used = {name: a.last_use for name, a in found.items()}
    assert int(used["Linux 6.1.0-2-amd64"].at.timestamp()) == ago(90)
    assert used["Linux 6.1.0-2-amd64, to build modules"].at is None
    nine = used["Linux 6.1.0-9-amd64"]
    assert int(nine.at.timestamp()) == ago(50) and nine.certainty == "fairly"
    assert {s.kind for s in nine.signs} == {"record of a start"}
    assert {s.source for s in nine.signs} == {"/var/log/wtmp"}


POSTINST = """#!/bin/sh
ln -sfn boot/vmlinuz-RELEASE "$DPKG_ROOT/vmlinuz"
echo made > "$DPKG_ROOT/boot/initrd.img-RELEASE"
"""
POSTRM = '#!/bin/sh\nrm -f "$DPKG_ROOT/boot/initrd.img-RELEASE"\n'


@pytest.fixture
def three(tmp_path):
    """A machine with three kernels, each made by its own scripts; the newest is what it starts with."""
    machine = built(1).copy(tmp_path / "machine")
    for n in (9, 10, 11):
        release = f"6.1.0-{n}-amd64"
        install(
            machine,
            tmp_path,
            f"linux-image-{release}",
            "6.1",
            {
                "DEBIAN/postinst": POSTINST.replace("RELEASE", release),
                "DEBIAN/postrm": POSTRM.replace("RELEASE", release),
                f"boot/vmlinuz-{release}": "k" * 9000,
                f"lib/modules/{release}/own/x.ko": "m",
                f"lib/modules/{release}/own.order": "o",
            },
        )
    return Job(machine)


def test_an_older_kernel_goes_with_what_was_made_for_it_and_comes_back_as_it_was(three):
    root, id = three.machine.root, "debian:linux-image-6.1.0-9-amd64"
    before = picture(root)
    order = three.order(id)
    assert all(not t.startswith("/boot") for line in order.lines for t in line.ticks)
    run = three.carry(three.prepare(order))
    assert {r.state for r in records_of(run)} == {"done"}
    assert not [
        p for p in (*(root / "boot").iterdir(), *(root / "lib/modules").iterdir()) if "6.1.0-9" in p.name
    ]
    assert os.readlink(root / "vmlinuz") == "boot/vmlinuz-6.1.0-11-amd64"
    assert three.put_back()["left"] == 0
    assert os.readlink(root / "vmlinuz") == "boot/vmlinuz-6.1.0-11-amd64"  # its script had turned it
    (left,) = differences(before, picture(root))
    assert left.startswith("/boot/initrd.img-6.1.0-9-amd64: [")  # made again by the script: its time


def test_a_kernel_that_is_needed_is_no_line_even_where_somebody_says_so(three):
    with pytest.raises(Refused, match="no application"):
        three.order("debian:linux-image-6.1.0-11-amd64")
