"""Twenty real desktop applications on a real Debian root: each launcher and package in one place, closures as apt's.

`make test-real` (as root, with network); DEBIAN_ROOT=DIR takes a copy of a debootstrapped root."""

from __future__ import annotations

import os
import random
import shutil
import tempfile
from collections import Counter
from pathlib import Path

import pytest

from real.debian_root import make_root, sh
from swept_shelf.core.applications.graph import build_graph
from swept_shelf.core.machine import open_machine
from swept_shelf.core.registries.debian import read as debian
from swept_shelf.core.survey.take import take_survey

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]
APPS = (
    "galculator",
    "mousepad",
    "ristretto",
    "l3afpad",
    "xpad",
    "gnome-mines",
    "quadrapassel",
    "zathura",
    "feh",
    "viewnior",
    "qalculate-gtk",
    "gnumeric",
    "abiword",
    "audacious",
    "pcmanfm",
    "lxterminal",
    "gtkhash",
    "homebank",
    "dia",
    "xarchiver",
)


@pytest.fixture(scope="module")
def desktop():
    top = Path(tempfile.mkdtemp(prefix="real-desktop-"))
    root = top / "root"
    try:
        make_root(root, APPS, "DEBIAN_ROOT", recommends=True)
        yield root
    finally:
        shutil.rmtree(top, ignore_errors=True)


@pytest.fixture(scope="module")
def survey(desktop, tmp_path_factory):
    return take_survey(open_machine(desktop), str(tmp_path_factory.mktemp("out")), [])


def apts_word(root: Path, names: list[str]) -> list[str]:
    said = sh(f"chroot {root} apt-get -s purge --auto-remove {' '.join(names)} || true")
    return sorted(line.split()[1].split(":")[0] for line in said.splitlines() if line.startswith("Purg"))


def test_every_application_is_there_and_every_launcher_belongs_to_exactly_one(desktop, survey):
    ids = {a.id for a in survey.applications}
    assert {f"debian:{a}" for a in APPS} <= ids
    visible = [lf.path for a in survey.applications for lf in a.launchers if lf.visible]
    assert max(Counter(visible).values()) == 1
    there = {
        f"/usr/share/applications/{p.name}"
        for p in (desktop / "usr/share/applications").glob("*.desktop")
        if not any(
            line.strip() in ("NoDisplay=true", "Hidden=true")
            for line in p.read_text().split("[Desktop Action")[0].splitlines()
        )
    }
    assert there == {p for p in visible if p.startswith("/usr/share/applications/")}


def test_every_installed_package_is_in_one_application_or_in_the_system(desktop, survey):
    parts = [
        p for a in survey.applications if a.registry == "debian" for p in a.own_packages
    ] + survey.system.packages
    said = sh(
        f"dpkg-query --admindir={desktop}/var/lib/dpkg -W -f '${{db:Status-Status}} ${{binary:Package}}\\n'"
    )
    assert sorted(parts) == sorted(
        line.split()[1] for line in said.splitlines() if line.startswith("installed ")
    )


def test_what_goes_with_each_application_and_with_fifty_random_sets_is_apts_word(desktop, survey):
    registry = debian.read(open_machine(desktop))
    graph = build_graph(registry)
    heads = [a.packages[0] for a in survey.applications if a.registry == "debian" and not a.protected]
    assert len(heads) >= 20
    chance = random.Random(20)
    sets = [[h] for h in heads] + [
        chance.sample(heads, chance.randint(2, min(8, len(heads)))) for _ in range(50)
    ]
    wrong = []
    for names in sets:
        ours = sorted(n.split(":")[0] for n in graph.goes_with(set(names)))
        if ours != (said := apts_word(desktop, names)):
            wrong.append((names, set(ours) ^ set(said)))
    assert wrong == []
    print(
        f"\n{len(graph.names)} packages, {len(heads)} applications and {len(sets) - len(heads)} sets: all as apt says"
    )
