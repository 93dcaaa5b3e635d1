"""Everything that can point at an application, planted on one machine: all found, nothing else claimed, all taken out, every cell
of the clearance clear, all put back byte for byte."""

from __future__ import annotations

import os
import subprocess

import pytest

from helpers import Job, built, differences, picture
from planted import LINKS, PLANTED, SETTINGS_PLANTED, H
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.grammars.gvdb import data_of

ID = "debian:plot7"
BROUGHT = {
    "usr/bin/plot7": "#!/bin/sh\n",
    "usr/bin/plotd": "#!/bin/sh\n",
    "usr/bin/plotbox": "#!/bin/sh\n",
    "usr/sbin/mount.plotfs": "#!/bin/sh\n",
    "opt/plot/bin/plot": "#!/bin/sh\n",
    "usr/lib/cups/filter/plotraster": "#!/bin/sh\n",
    "usr/lib/plot7/host": "#!/bin/sh\n",
    "usr/lib/libplot7.so.1": "x",
    "usr/lib/security/pam_plot.so": "x",
    "usr/lib/libnss_plot.so.2": "x",
    "usr/lib/sane/libsane-plot7.so.1": "x",
    "usr/lib/modules/6.1/plot7.ko": "x",
    "usr/lib/sysusers.d/plot7.conf": "u _plot - -\n",
    "usr/lib/systemd/system/plot7.service": "[Service]\nExecStart=/usr/bin/plotd\n",
    "usr/lib/systemd/system/plot@.service": "[Service]\nExecStart=/usr/bin/plotd %i\n",
    "usr/lib/systemd/system/plot7.timer": "[Timer]\nOnCalendar=daily\n",
    "usr/lib/systemd/system/plot7.socket": "[Socket]\nListenStream=70\n",
    "usr/share/applications/plot7.desktop": "[Desktop Entry]\nType=Application\nName=Plot 7\nExec=plot7\n",
    "usr/share/applications/example.Plot7.desktop": "[Desktop Entry]\nType=Application\nName=Plot 7\nExec=plot7\nNoDisplay=true\n",
    "usr/share/dbus-1/services/example.Plot7.service": "[D-BUS Service]\nName=example.Plot7\nExec=/usr/bin/plotd\n",
    "usr/share/doc/plot7/copyright": "made up\n",
}


def install(machine, tmp_path, name, files):
    """A real package, made and installed by its registry's own tools."""
    top = tmp_path / name
    (top / "DEBIAN").mkdir(parents=True)
    (top / "DEBIAN/control").write_text(
        f"Package: {name}\nVersion: 7.0\nArchitecture: all\nMaintainer: T <t@test.example>\nDescription: made up\n"
    )
    for path, text in files.items():
        place = top / path
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text(text)
        place.chmod(0o755 if "bin/" in path else 0o644)
    deb = tmp_path / f"{name}.deb"
    subprocess.run(["dpkg-deb", "--root-owner-group", "-b", top, deb], check=True, capture_output=True)
    subprocess.run(
        [
            "dpkg",
            f"--root={machine.root}",
            "--force-script-chrootless",
            "--force-not-root",
            f"--log={machine.root}/var/log/dpkg.log",
            "-i",
            deb,
        ],
        check=True,
        capture_output=True,
    )


def plant(root):
    """Every sample, one to a path; what is a part of a file that is there already is added to it. Returns kind by path."""
    planted: dict[str, str] = {}
    for kind, samples in PLANTED.items():
        for path, text, left in samples:
            place = root / path[1:]
            if (
                path in planted
                or path.startswith("/var/lib/dpkg/")
                or (place.exists() and not path.startswith("/etc/"))
            ):
                continue
            place.parent.mkdir(parents=True, exist_ok=True)
            lines = (
                text
                if not place.exists()
                else place.read_text()
                + "".join(line for line in text.splitlines(True) if "edda" not in line or "," in line)
            )
            place.write_text(lines)
            place.chmod(0o755 if "#!" in text[:2] else 0o644)
            if left != "same":
                planted[path] = kind
    database = root / H[1:] / ".config/dconf/user"
    database.parent.mkdir(parents=True)
    database.write_bytes(data_of(SETTINGS_PLANTED))
    planted[f"{H}/.config/dconf/user"] = "dconf"
    for kind, links in LINKS.items():
        for path, target in links:
            place = root / path[1:]
            if not os.path.lexists(place):
                place.parent.mkdir(parents=True, exist_ok=True)
                place.symlink_to(target)
                if "plot7er" not in target:
                    planted[path] = kind
    return planted


# Of registries whose books they are: what no package brings (see test_by_paths.py).
BOOKS = ("entry of cargo", "entry of a library of games", "entry of a Wine prefix")


@pytest.fixture(scope="module")
def lived_in(tmp_path_factory):
    folder = tmp_path_factory.mktemp("planted")
    machine = built(1).copy(folder / "machine")
    root = machine.root
    with (root / "etc/passwd").open("a") as people:
        people.write(f"edda:x:1050:1050::{H}:/bin/bash\n")
    (root / H[1:] / ".config").mkdir(parents=True)
    (root / H[1:] / ".config/user-dirs.dirs").write_text('XDG_DESKTOP_DIR="$HOME/Schreibtisch"\n')
    (root / H[1:] / ".local/share/plot7").mkdir(parents=True)
    (root / H[1:] / ".local/share/plot7/x").write_text("kept by it")
    (root / H[1:] / ".local/bin").mkdir(parents=True)
    (root / H[1:] / ".local/bin/plotbox").symlink_to("/opt/plot/bin/plot")
    install(machine, folder, "plot7", BROUGHT)
    planted = plant(root)
    before = picture(root)
    job = Job(machine)
    return machine, planted, before, job


def test_all_that_was_planted_is_found_and_nothing_is_said_of_decoys(lived_in):
    _, planted, _, job = lived_in
    app = job.app(ID)
    found = {r.path for r in app.pointers}
    gone_with_it = [b.path for b in app.belongings if b.is_path and b.ticked]
    missed = {
        (k, p)
        for p, k in planted.items()
        if k not in BOOKS
        and p not in found
        and not any(p == g or p.startswith(g + "/") for g in gone_with_it)
    }
    assert missed == set()
    decoys = {p for samples in PLANTED.values() for p, _, left in samples if left == "same"} - set(planted)
    assert decoys & found == set()
    others = {r.path for a in job.surveyed.survey.applications if a.id != ID for r in a.references}
    assert not others & {p for p in planted if "plot7" in p}


def test_all_is_taken_out_the_clearance_is_clear_and_all_comes_back(lived_in):
    machine, planted, before, job = lived_in
    answers = {f"pointed_at:{ID}": "go_too", f"personal:{ID}": "they_stay"}
    app = job.app(ID)
    order = job.order(ID, answers=answers)
    run = job.carry(job.prepare(order))
    assert [(x.path, x.why) for x in run.plan.left_alone if x.path in planted] == []
    assert [
        (r.what, r.where, r.state, r.note) for r in records_of(run) if r.state not in ("done", "gone")
    ] == []
    line = next(x for x in job.clearance().lines if x.id == ID)
    left = {
        c.family: [(f.path, f.line, f.text) for f in c.findings]
        for c in line.cells
        if c.state != Looked.CLEAR
    }
    assert left == {}
    assert job.put_back()["left"] == 0
    assert differences(before, picture(machine.root, shelf=True)) == []
    assert app.references
