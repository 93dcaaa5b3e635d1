"""Real programs as if each had been installed by hand below /usr/local: `make test-lab` (as root). Their packages' own files are
laid there, no registry knows of them, and what each brought is the truth. PREFIX_LAB="app+app-data app" tries others than these."""

from __future__ import annotations

import os
import shutil
import subprocess
import tempfile
from collections import Counter
from pathlib import Path

import pytest

from helpers import Job, built, differences, picture
from swept_shelf.core.documents.paths import parent, ways_up

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]
APPS = os.environ.get(
    "PREFIX_LAB",
    "geany+geany-common abiword+abiword-common xournalpp gnome-calculator meld galculator scite mc+mc-data"
    " xmahjongg zathura mpv newsboat dia+dia-common kolourpaint gthumb+gthumb-data pidgin+pidgin-data htop tig",
).split()
_PACKAGINGS = ("share/doc/", "share/lintian/", "share/bug/", "share/doc-base/", "share/menu/", "lib/mime/")


@pytest.fixture(scope="module")
def lab():
    """(job, path below /usr/local to whose it is)"""
    top = Path(tempfile.mkdtemp(prefix="real-prefix-"))
    try:
        machine, whose = built(1).copy(top / "machine"), {}
        for group in APPS:
            packages = group.split("+")
            for folder in ("debs", "out"):
                (top / folder / group).mkdir(parents=True)
            subprocess.run(["apt-get", "download", "-qq", *packages], cwd=top / "debs" / group, check=False)
            for deb in (top / "debs" / group).glob("*.deb"):
                subprocess.run(["dpkg-deb", "-x", deb, top / "out" / group], check=True)
            _lay(top / "out" / group / "usr", machine.root / "usr/local", packages[0], whose)
        yield Job(machine), whose
    finally:
        shutil.rmtree(top)


def _lay(source: Path, prefix: Path, app: str, whose: dict[str, str]) -> None:
    for above, _, names in os.walk(source):
        for name in names:
            inside = str(Path(above, name).relative_to(source))
            if inside.startswith(_PACKAGINGS) or os.path.lexists(prefix / inside):
                whose.pop(f"/usr/local/{inside}", None)  # two bring it
                continue
            (prefix / inside).parent.mkdir(parents=True, exist_ok=True)
            if os.path.islink(source / inside):
                os.symlink(os.readlink(source / inside).replace("/usr/", "/usr/local/"), prefix / inside)
            else:
                shutil.copy2(source / inside, prefix / inside)
            whose[f"/usr/local/{inside}"] = app


def test_nearly_all_that_each_brought_goes_with_it_and_comes_back(lab):
    job, whose = lab
    root = job.machine.root
    assert len(set(whose.values())) > len(APPS) / 2, "most of them could be had"
    apps = [
        a for a in job.surveyed.survey.applications if a.registry == "files" and whose.keys() & a.executables
    ]
    of = {a.id: whose[next(x for x in a.executables if x in whose)] for a in apps}
    ticked = {b.path: of[a.id] for a in apps for b in a.belongings if b.ticked}
    named = {r.path: of[a.id] for a in apps for r in a.pointers}
    count: Counter[str] = Counter()
    for path, app in whose.items():
        taken = next((ticked[up] for up in (path, *ways_up(parent(path))) if up in ticked), named.get(path))
        count["goes" if taken == app else "stays" if taken is None else f"{path} goes with {taken}"] += 1
        count[f"{app} stays" if taken is None else f"{app} goes"] += 1
    print(
        f"\n{len(whose)} paths of {len(set(whose.values()))} programs: {count['goes']} go, {count['stays']} stay"
    )
    print("\n".join(f"{n:6} {what}" for what, n in sorted(count.items()) if what.endswith(" stays")))
    assert [what for what in count if "goes with" in what] == []
    assert count["goes"] >= 0.9 * len(whose)
    before = picture(root)
    asked = {f"pointed_at:{a.id}": "go_too" for a in apps}
    job.carry(job.prepare(job.order(*of, answers=asked)))
    assert sum(os.path.lexists(root / p[1:]) for p in whose) == count["stays"]
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []
