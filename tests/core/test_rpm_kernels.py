"""Kernels of RPM systems: several versions beside each other, an older one goes whole, by the real rpm, and comes back."""

from __future__ import annotations

import os
import subprocess
from types import SimpleNamespace

import pytest
from test_rpm import names, rpm, same, sheet

import registries as made
from helpers import Job, make_ours, picture
from kills import sampled, under_injection
from swept_shelf.core.carry.run import open_run
from swept_shelf.core.machine import open_machine
from swept_shelf.core.registries.rpm import kernels as rpm_kernels
from swept_shelf.core.registries.rpm.read import packages_of

VERSIONS = ("6.5.6-300", "6.8.9-300", "6.11.2-300")
OLD, MIDDLE, NEW = (f"{v}.x86_64" for v in VERSIONS)
KERNEL = f"rpm:kernel-core-{VERSIONS[0]}.noarch"
ENTRIES = "boot/loader/entries"


def parts(work, version):
    """Image, modules, and what only asks for both; its script takes away what was made for it, as kernel-install(8) does."""
    release = f"{version}.x86_64"
    core = {
        f"lib/modules/{release}/vmlinuz": "k" * 9000,
        f"lib/modules/{release}/modules.builtin": "b",
        f"boot/config-{release}": "c",
    }
    taken = "".join(
        f'os.remove("/{p}")\n'
        for p in (f"boot/initramfs-{release}.img", f"{ENTRIES}/{'0' * 32}-{release}.conf")
    )
    head = f"Provides: kernel-core-uname-r = {release}\n%preun -p <lua>\n{taken}"
    yield made.build_rpm(work, "kernel-core", core, head, version)
    modules = {f"lib/modules/{release}/kernel/x.ko.xz": "m" * 5000}
    yield made.build_rpm(
        work, "kernel-modules", modules, f"Requires: kernel-core-uname-r = {release}", version
    )
    needs = f"Requires: kernel-core-uname-r = {release}\nRequires: kernel-modules = {version}"
    yield made.build_rpm(work, "kernel", {}, needs, version)


@pytest.fixture(scope="module")
def built(tmp_path_factory):
    work = tmp_path_factory.mktemp("kernels")
    root = made.bare_root(work / "root")
    made.add_rpms(root, work)
    for version in VERSIONS:
        made.install_rpms(root, *parts(work, version))
        release = f"{version}.x86_64"
        made.write(root, f"boot/initramfs-{release}.img", "i" * 7000)
        made.write(root, f"boot/initramfs-{release}.img.bak", "somebody's own")
        made.write(root, f"{ENTRIES}/{'0' * 32}-{release}.conf", f"title Linux\nversion {release}\n")
    return root


@pytest.fixture
def job(built, tmp_path):
    subprocess.run(["cp", "-a", built, tmp_path / "root"], check=True)
    return Job(SimpleNamespace(folder=make_ours(tmp_path / "root")))


def kernels(root):
    said = rpm(root, "-qa", "--qf", "%{NAME} %{VERSION}-%{RELEASE}\n").stdout
    return {line for line in said.splitlines() if line.startswith("kernel")}


def lines(job):
    return {a.id for a in job.surveyed.survey.applications if a.type == "kernel"}


def test_the_older_one_is_a_line_with_all_of_its_number_and_the_two_newest_stay(job):
    assert lines(job) == {KERNEL}
    kernel = job.app(KERNEL)
    assert kernel.name == f"Linux {OLD}"
    assert set(kernel.own_packages) == {
        f"{n}-{VERSIONS[0]}.noarch" for n in ("kernel-core", "kernel-modules", "kernel")
    }
    places = {b.path for b in kernel.belongings if b.ticked}
    assert {f"/boot/initramfs-{OLD}.img", f"/boot/config-{OLD}"} <= places
    assert all(OLD in p for p in places) and kernel.bytes.program >= 21_000
    assert not any(".bak" in p or MIDDLE in p or NEW in p for p in places)


def test_what_the_computer_starts_with_stays_however_old(job):
    root = job.machine.folder
    made.write(root, "boot/grub2/grubenv", f"# GRUB Environment Block\nsaved_entry={'0' * 32}-{OLD}\n####")
    job.survey()
    assert lines(job) == set()


def test_of_two_none_goes(job):
    root = job.machine.folder
    assert (
        rpm(
            root, "-e", "--nodeps", "--noscripts", *(f"{n}-{VERSIONS[0]}" for n in ("kernel", "kernel-core"))
        ).returncode
        == 0
    )
    job.survey()
    assert lines(job) == set()


def test_it_goes_whole_with_what_was_made_for_it_and_all_comes_back_as_it_was(job):
    root = job.machine.folder
    before, known = picture(root), kernels(root)
    run = job.carry(job.prepare(job.order(KERNEL)))
    assert set(sheet(run)) == {("done", "")}
    assert kernels(root) == {k for k in known if not k.endswith(VERSIONS[0])} and len(kernels(root)) == 6
    left = [p for p in root.rglob(f"*{OLD}*") if ".swept-shelf" not in str(p)]
    assert [p.name for p in left] == [f"initramfs-{OLD}.img.bak"]
    cells = {c.family: c.state for c in job.clearance().lines[0].cells}
    assert cells["registry"] == "clear" and cells["files"] == "clear"
    assert job.put_back()["why"] == []
    assert kernels(root) == known and not same(before, root), "\n".join(same(before, root))
    assert rpm(root, "-Va", "--nodeps", "--nofiledigest").stdout.count("missing") == 0


@pytest.mark.parametrize(("call", "nth"), sampled([("unlink", 2), ("linkat", 2), ("renameat2", 2)], 3))
def test_killed_inside_it_is_finished_and_comes_back(job, call, nth):
    root = job.machine.folder
    before, known = picture(root), kernels(root)
    run = job.prepare(job.order(KERNEL))
    under_injection(job.shop.orders.carry_request(run), call, nth)
    run = job.carry(open_run(run.folder))
    assert not any(k.endswith(VERSIONS[0]) for k in kernels(root)), sheet(run)
    back = job.put_back()
    assert back["left"] == 0, back
    assert kernels(root) == known and not same(before, root), "\n".join(same(before, root))


def test_the_one_that_runs_is_never_taken_whatever_the_survey_said(job, monkeypatch):
    """Started anew with the older one, between the survey and the removal."""
    machine = open_machine(job.machine.folder)
    package = packages_of(machine, "/var/lib/rpm")[KERNEL.removeprefix("rpm:")]
    assert not rpm_kernels.runs_now(machine, package)
    monkeypatch.setattr(os, "uname", lambda: SimpleNamespace(release=OLD))
    assert rpm_kernels.runs_now(open_machine("/"), package)


def test_two_versions_of_anything_keep_their_files_apart(job, tmp_path):
    """What older versions list is not nobody's, and an application that stands beside them is not theirs."""
    root = job.machine.folder
    assert names(root) == {"inkwell", "libinkwell", "ruler", "kernel", "kernel-core", "kernel-modules"}
    assert job.app("rpm:inkwell.noarch").own_packages == ["inkwell.noarch", "libinkwell.noarch"]
    run = job.carry(job.prepare(job.order("rpm:inkwell.noarch", KERNEL)))
    assert set(sheet(run)) == {("done", "")} and names(root) == {
        "ruler",
        "kernel",
        "kernel-core",
        "kernel-modules",
    }
