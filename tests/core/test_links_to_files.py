"""What names a file that points at an application and goes with it: found too, and taken out, whoever else has such a name stays."""

from __future__ import annotations

import pytest

from helpers import Job, differences, picture
from registries import write
from staging import copied, staged

LAUNCHER = "[Desktop Entry]\nType=Application\nName={}\nExec={}\n"
APP = "files:/opt/grid9"


def furnish(job: Job) -> None:
    root = job.machine.root
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))[1:]
    write(root, "opt/grid9/bin/grid9", b"\x7fELF" + bytes(100), 0o755)
    write(root, "usr/share/applications/grid9.desktop", LAUNCHER.format("Grid", "/opt/grid9/bin/grid9"))
    write(root, "etc/systemd/system/nightly.service", "[Service]\nExecStart=/opt/grid9/bin/grid9 --night\n")
    wants = root / "etc/systemd/system/multi-user.target.wants"
    wants.mkdir(parents=True, exist_ok=True)
    (wants / "nightly.service").symlink_to("/etc/systemd/system/nightly.service")
    write(root, "etc/systemd/system/nightly.service.d/more.conf", "[Service]\nNice=5\n")
    mine = f"{home}/.local/share/applications"
    write(root, f"{mine}/my-maps.desktop", LAUNCHER.format("Mine", "/opt/grid9/bin/grid9 --maps"))
    # over another program's launcher, which is there again once this one is gone
    write(root, f"{mine}/pencil.desktop", LAUNCHER.format("Pencil", "/opt/grid9/bin/grid9 --with pencil"))
    write(root, "usr/share/applications/pencil.desktop", LAUNCHER.format("Pencil", "pencil"))
    settings = "[Default Applications]\na/b=my-maps.desktop;pencil.desktop;\nc/d=pencil.desktop;\n"
    write(root, f"{home}/.config/mimeapps.list", settings)
    job.survey()


@pytest.fixture
def job(tmp_path):
    return copied(staged(furnish), tmp_path / "machine")


def test_links_lists_and_parts_that_name_such_a_file_go_with_it(job):
    root, app = job.machine.root, job.app(APP)
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))
    found = {(r.path.rsplit("/", 1)[1], r.line) for r in app.references}
    assert {("nightly.service", 0), ("more.conf", 1), ("mimeapps.list", 2)} <= found
    assert ("mimeapps.list", 3) not in found, "that names the other program’s"
    before = picture(root)
    run = job.prepare(job.order(APP))
    job.carry(run)
    assert not list((root / "etc/systemd/system").rglob("*nightly*"))
    text = (root / home[1:] / ".config/mimeapps.list").read_text()
    assert text == "[Default Applications]\na/b=pencil.desktop;\nc/d=pencil.desktop;\n"
    assert (root / "usr/share/applications/pencil.desktop").exists()
    assert job.clearance().findings == 0
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []
