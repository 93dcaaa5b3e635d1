"""The circle on a real Debian root with three applications from the registry: `make test-real` (as root).

The root is made with debootstrap, never the computer's own. Its package scripts run inside it."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

from helpers import Job, MadeUp, differences, picture
from real.debian_root import SERVICED, make_root, on_a_disk_of_its_own, sh
from swept_shelf.core.machine.volumes import free_bytes

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]

APPS = ("galculator", "mc", "tinyproxy")
# What triggers make anew after any change of packages (docs/put-back.md): the same, or rebuilt, with new times.
MADE_ANEW = (
    "/etc/ld.so.cache",
    "/var/cache/ldconfig",
    "/usr/share/icons/hicolor/icon-theme.cache",
    "/usr/share/icons/Adwaita/icon-theme.cache",
    "/usr/lib/x86_64-linux-gnu/gdk-pixbuf-2.0/2.10.0/loaders.cache",
    "/usr/share/applications/mimeinfo.cache",
    "/usr/share/glib-2.0/schemas/gschemas.compiled",
    "/var/lib/dpkg/",
    "/var/log/",
    "/var/cache/debconf",
    "/etc/passwd",
    "/etc/shadow",
    "/etc/group",
    "/etc/gshadow",
    "/usr/share/mime",
    "/usr/lib/x86_64-linux-gnu/gio/modules/giomodule.cache",
    "/var/cache/fontconfig",
)


GO_TOO = {"pointed_at:debian:tinyproxy": "go_too"}  # its account of the system


@pytest.fixture(scope="module")
def debian():
    with on_a_disk_of_its_own("real-disk-", "3g") as top:
        make_root(top / "root", (*APPS, *SERVICED), "DEBIAN_ROOT")
        _furnish(top / "root")
        yield MadeUp(top)


def _furnish(root: Path) -> None:
    """A person who used them: what each really writes, and what points at them."""
    sh(f"chroot {root} useradd -m -u 1000 hanna")
    home = root / "home/hanna"
    files = {
        ".config/galculator/galculator.conf": "display_bkg_color=#FFFFFF\n",
        ".config/mc/ini": "[Midnight-Commander]\nverbose=true\n",
        ".cache/mc/Tree": "x" * 5000,
        ".local/share/mc/history": "[cmdline]\n0=ls\n",
        "Documents/sums.txt": "mine\n",
        ".config/autostart/galculator.desktop": "[Desktop Entry]\nType=Application\nName=Sums\nExec=galculator\n",
        ".bashrc": "alias m='mc -b'\nalias ll='ls -l'\n",
    }
    for name, text in files.items():
        (home / name).parent.mkdir(parents=True, exist_ok=True)
        (home / name).write_text(text)
    sh(f"chown -R 1000:1000 {home}")
    (root / "etc/cron.d/night").write_text(
        "# tinyproxy at night\n5 3 * * * root /usr/bin/tinyproxy -h >/dev/null\n7 3 * * * root true\n"
    )
    conf = root / "etc/tinyproxy/tinyproxy.conf"
    conf.write_text(conf.read_text() + "# edited by hand\n")


def serious(before, after) -> list[str]:
    """Differences that put back does not excuse; content counts even where times do not."""
    folders = {p for p in before if any(m.startswith(p + "/") or p.startswith(m) for m in MADE_ANEW)}
    return [
        d
        for d in differences(before, after)
        if not any(d.startswith(m) for m in MADE_ANEW) and d.split(": ")[0] not in folders
    ]


def test_what_goes_with_each_application_equals_apts_word(debian, tmp_path):
    job = Job(debian, survey=False)
    job.shop = type(job.shop)(str(debian.root), str(tmp_path / "ledger.sqlite"))
    for app in job.survey().survey.applications:
        if app.registry == "debian" and not app.protected:
            said = sh(
                f"chroot {debian.root} apt-get -s purge --auto-remove {app.packages[0]} || echo {app.id}"
            )
            assert sorted(line.split()[1] for line in said.splitlines() if line.startswith("Purg")) == sorted(
                p.split(":")[0] for p in app.packages
            ), app.id


def test_three_real_applications_go_completely_and_come_back(debian, tmp_path):
    job = Job(debian, survey=False)
    job.shop = type(job.shop)(str(debian.root), str(tmp_path / "ledger.sqlite"))
    job.survey()
    survey = job.surveyed.survey
    ids = [f"debian:{a}" for a in APPS]
    assert not survey.not_read, survey.not_read
    before = picture(debian.root)
    order = job.order(*ids, answers=GO_TOO)
    run = job.carry(job.prepare(order))
    assert [(r.where, r.note) for r in __records(run) if r.state != "done"] == []
    clearance = job.clearance()
    found = [(c.family, f) for line in clearance.lines for c in line.cells for f in c.findings]
    assert [x for x in found if not x[1].detail.startswith("kept on purpose")] == []
    left = sh(
        f"find {debian.root} -not -path '*/.swept-shelf/*' \\( -iname '*galculator*' "
        "-o -iname '*tinyproxy*' -o -path '*/mc/*' \\) ! -path '*/var/log/*'"
        f" ! -path '*/lib/dpkg/*' ! -path '*/apt/*' ! -path '{debian.root}/run/*'"
    )
    assert left == ""
    assert (
        "tinyproxy at night" in (debian.root / "etc/cron.d/night").read_text()
        and "true" in (debian.root / "etc/cron.d/night").read_text()
    )
    back = job.put_back()
    assert back["left"] == 0, back["why"]
    wrong = serious(before, picture(debian.root, shelf=True))
    assert wrong == [], "\n".join(w[:160] for w in wrong)
    assert sh(f"chroot {debian.root} dpkg --audit") == ""
    assert "edited by hand" in (debian.root / "etc/tinyproxy/tinyproxy.conf").read_text()
    job.survey()
    order = job.order(*ids, answers=GO_TOO)
    free, sizes = free_bytes(job.shop.machine), allocated(debian.root)
    listed = {
        p for line in order.lines for name in line.packages for p in job.surveyed.index.package_paths(name)
    }
    ticked = [b.path for id in ids for b in job.app(id).belongings if b.ticked]
    job.carry(job.prepare(order))
    assert job.empty()["left"] == 0
    (part,) = order.comes_back
    gained = free_bytes(job.shop.machine)[part.volume] - free[part.volume]
    gone = set(sizes) - set(allocated(debian.root))
    by_scripts = sum(
        sizes[p] for p in gone - listed if not any(p == t or p.startswith(t + "/") for t in ticked)
    )
    print(
        "promised",
        part.now + part.when_emptied,
        "came back",
        gained,
        "of it taken by package scripts themselves",
        by_scripts,
    )
    assert abs(gained - part.now - part.when_emptied - by_scripts) < 1 << 20
    assert 0 <= by_scripts < order.total // 30


def allocated(root: Path) -> dict[str, int]:
    """Allocated bytes of every path below `root`."""
    rows = sh(f"find {root} -printf '%b %P\\0'").split("\0")[:-1]
    return {"/" + path: int(blocks) * 512 for blocks, path in (r.split(" ", 1) for r in rows)}


def __records(run):
    from swept_shelf.core.carry.sheet import records_of

    return records_of(run)


def test_in_a_chroot_of_it_with_the_slash_as_the_root(debian):
    """The program itself runs inside, on what is then this computer's own root."""
    source, packages = Path(__file__).parents[2] / "src", Path(sys.prefix) / "lib/python3.11/site-packages"
    root = debian.root
    sh(
        f"chroot {root} sh -c 'DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends mc >/dev/null 2>&1'"
    )
    for name, place in (("src", source), ("packages", packages)):
        (root / "mnt" / name).mkdir(parents=True, exist_ok=True)
        sh(f"mount --bind {place} {root}/mnt/{name} && mount -o remount,bind,ro {root}/mnt/{name}")
    (root / "usr/lib/python3/dist-packages").mkdir(parents=True, exist_ok=True)
    (root / "usr/lib/python3/dist-packages/swept_shelf.pth").write_text(
        "/mnt/src\n/mnt/packages\n"
    )  # no environment is heeded
    sh(f"mount -t proc proc {root}/proc; mount --bind /dev {root}/dev")
    try:

        def inside(*words: str) -> subprocess.CompletedProcess[str]:
            return subprocess.run(
                [
                    "chroot",
                    str(root),
                    "env",
                    "-i",
                    "PATH=/usr/sbin:/usr/bin:/sbin:/bin",
                    "HOME=/root",
                    "LC_ALL=C.UTF-8",
                    "python3",
                    "-I",
                    "-B",
                    "-m",
                    "swept_shelf",
                    *words,
                ],
                capture_output=True,
                text=True,
            )

        said = inside("survey", "--format", "json")
        assert said.returncode in (0, 1), said.stderr
        assert json.loads(said.stdout)["machine"]["foreign"] is False
        assert inside("order", "mc", "-o", "/root/o.json").returncode == 0
        done = inside("carry-out", "/root/o.json")
        assert done.returncode == 0, done.stderr
        assert not (root / "usr/bin/mc").exists()
        assert (root / "var/lib/swept-shelf/runs").is_dir()
        proof = inside("clearance")
        assert " found" not in proof.stdout, proof.stdout
        back = inside("put-back")
        assert back.returncode == 0, back.stderr
        assert (root / "usr/bin/mc").exists()
    finally:
        for name in ("mnt/src", "mnt/packages", "proc", "dev"):
            subprocess.run(["umount", str(root / name)])
