"""Removing through RPM inside a real foreign root, behind its walls: erased, clear, put back as it was (make test-real)."""

from __future__ import annotations

import shutil
import subprocess
from types import SimpleNamespace

import pytest

import registries as made
from helpers import Job, differences, picture

pytestmark = pytest.mark.real


@pytest.fixture(scope="module")
def root(tmp_path_factory):
    if shutil.which("debootstrap") is None:
        pytest.skip("debootstrap is not here")
    place = tmp_path_factory.mktemp("real") / "root"
    words = ["debootstrap", "--variant=minbase", "--include=rpm", "bookworm", place]
    subprocess.run(words, check=True, capture_output=True)
    made.add_rpms(place, place.parent)
    return place


def test_rpm_erases_inside_the_root_and_all_comes_back(root):
    def known():
        words = ["rpm", "--root", root, "--dbpath", "/var/lib/rpm", "-qa", "--qf", "%{NAME} %{INSTALLTIME}\n"]
        return set(subprocess.run(words, capture_output=True, text=True).stdout.splitlines())

    job = Job(SimpleNamespace(folder=root))
    before, packages = picture(root), known()
    run = job.carry(job.prepare(job.order("rpm:inkwell.noarch")))
    assert {(o.event, o.note) for o in run.state.operations.values()} == {("done", "")}
    assert {p.split()[0] for p in known()} == {"ruler"}
    assert {c.state for c in job.clearance().lines[0].cells} <= {"clear", "not_part"}
    assert job.put_back()["why"] == [] and known() == packages
    assert [d for d in differences(before, picture(root)) if "/var/lib/rpm" not in d] == []
