"""Real kernels of the registry in a real root: an older one goes with all that is its, and comes back. `make test-real` (as root)."""

from __future__ import annotations

import os
import re
import shutil
import subprocess
from types import SimpleNamespace

import pytest

from helpers import Job, differences, picture
from real.debian_root import make_root, sh
from real.test_real import MADE_ANEW
from swept_shelf.core.applications.kernels import number_of
from swept_shelf.core.carry.sheet import records_of

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]


@pytest.fixture
def three(tmp_path):
    if shutil.which("debootstrap") is None:
        pytest.skip("debootstrap is not here")
    names = subprocess.run(
        ["apt-cache", "pkgnames", "linux-image-6.1.0-"], capture_output=True, text=True
    ).stdout
    found = sorted(
        (
            m[0].removeprefix("linux-image-")
            for m in re.finditer(r"^linux-image-6\.1\.0-\d+-cloud-amd64$", names, re.M)
        ),
        key=lambda r: int(r.split("-")[1]),
    )[-3:]
    if len(found) < 3:
        pytest.skip("the registry has no three kernels")
    root = tmp_path / "root"
    wanted = [*(f"linux-image-{r}" for r in found), f"linux-headers-{found[0]}", "initramfs-tools"]
    make_root(root, wanted, "KERNELS_ROOT")
    old = f"linux-image-{found[0]} linux-headers-{found[0]}"
    sh(f"chroot {root} apt-mark auto {old}")
    for name in ("vmlinuz", "initrd.img"):
        sh(f"ln -sfn boot/{name}-{found[2]} {root}/{name}; ln -sfn boot/{name}-{found[1]} {root}/{name}.old")
    job = Job(SimpleNamespace(folder=root), survey=False)
    job.shop = type(job.shop)(str(root), str(tmp_path / "ledger.sqlite"))
    return job.survey() and job, found


def test_the_oldest_of_three_goes_whole_and_comes_back(three):
    job, found = three
    root, oldest = job.machine.folder, found[0]
    lines = [a.id for a in job.surveyed.survey.applications if a.type == "kernel"]
    assert lines == [f"debian:linux-image-{oldest}", f"debian:linux-headers-{number_of(oldest)}-common"]
    before = picture(root)
    run = job.carry(job.prepare(job.order(*lines)))
    assert {r.state for r in records_of(run)} == {"done"}
    for place in ("boot", "lib/modules", "usr/src"):
        assert not [p for p in (root / place).iterdir() if number_of(oldest) in p.name]
    assert not job.clearance().findings
    assert job.put_back()["left"] == 0
    left = [d for d in differences(before, picture(root), times=False) if not d.startswith(MADE_ANEW)]
    assert [d.split(":")[0] for d in left] in ([], [f"/boot/initrd.img-{oldest}"])
