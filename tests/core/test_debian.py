"""Debian packages: what dpkg knows, its history, and an original rebuilt from the root alone."""

from __future__ import annotations

import gzip
import os
import subprocess
from pathlib import Path

import pytest

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.grammars.commands import command_words, parse_entry, program_of
from swept_shelf.core.machine import open_machine
from swept_shelf.core.registries.debian import change
from swept_shelf.core.registries.debian.original import info_files, rebuild, status_stanza
from swept_shelf.core.registries.debian.read import query, read
from swept_shelf.core.registries.launchers import read_launcher


@pytest.fixture
def machine(made_up):
    return open_machine(made_up.folder)


def test_the_registry_says_what_dpkg_says(machine, made_up):
    registry = read(machine)
    said = subprocess.run(
        [
            "dpkg-query",
            f"--admindir={made_up.root}/var/lib/dpkg",
            "-W",
            "-f",
            "${binary:Package} ${Version} ${db:Status-Status}\n",
        ],
        capture_output=True,
        text=True,
    ).stdout.splitlines()
    assert sorted(said) == sorted(f"{p.name} {p.version} {p.status}" for p in registry.packages.values())
    hero = registry.packages[made_up.id("map", "7").removeprefix("debian:")]
    listed = (made_up.root / f"var/lib/dpkg/info/{hero.name}.list").read_text().splitlines()
    assert sorted(hero.files) == sorted(x for x in listed if x != "/.")
    assert {c.path.rsplit("/", 1)[1] for c in hero.conffiles} == {"tiles.conf", "pens.conf"}
    assert registry.problems == () and registry.keeps_recommends and registry.keeps_suggests
    assert "libcalyx2" in registry.automatic and hero.name not in registry.automatic


def test_the_roots_own_apt_settings_count(machine, made_up):
    conf = made_up.root / "etc/apt/apt.conf"
    conf.write_text(
        'APT::AutoRemove::RecommendsImportant "false";\nAPT::NeverAutoRemove { "^libcalyx2$"; };\n'
    )
    registry = read(machine)
    assert (
        not registry.keeps_recommends and registry.keeps_suggests and "^libcalyx2$" in registry.never_remove
    )


def test_history_is_read_from_rotated_and_compressed_logs_and_a_broken_one_is_named(machine, made_up):
    log = made_up.root / "var/log"
    (log / "dpkg.log.2.gz").write_bytes(
        gzip.compress(
            b"2020-01-02 03:04:05 install old-thing:all <none> 1.0\nrubbish\n2020-13-40 99:99:99 install x:all <none> 1\n"
        )
    )
    (log / "dpkg.log.3.gz").write_bytes(b"\x1f\x8bnot gzip")
    registry = read(machine)
    assert registry.history[0].package == "old-thing:all" and registry.history[0].line == 1
    assert [p for p, _ in registry.problems] == ["/var/log/dpkg.log.3.gz"]


def test_an_original_is_rebuilt_from_the_root_alone_and_installs_to_the_same(machine, made_up, tmp_path):
    name = made_up.id("map", "7").removeprefix("debian:")
    (package,) = query(machine, name)
    made = rebuild(machine, package, str(tmp_path))
    out = tmp_path / "unpacked"
    subprocess.run(["dpkg-deb", "-R", made.file, str(out)], check=True)
    for path in package.files:
        here, there = made_up.root / path[1:], out / path[1:]
        if here.is_file():
            assert there.read_bytes() == here.read_bytes() and there.stat().st_mode == here.stat().st_mode, (
                path
            )
    for script in ("postinst", "postrm", "prerm"):
        assert (out / "DEBIAN" / script).read_text() == (
            made_up.root / f"var/lib/dpkg/info/{name}.{script}"
        ).read_text()
    assert sorted((out / "DEBIAN/conffiles").read_text().split()) == sorted(c.path for c in package.conffiles)
    control = (out / "DEBIAN/control").read_text()
    assert "Status:" not in control and f"Version: {package.version}" in control
    assert set(made.status["paths"]) == set(package.files)
    assert status_stanza(machine, package).startswith(f"Package: {name}\n")
    assert len(info_files(machine, package)) >= 5


def test_an_original_of_a_damaged_package_is_refused_and_leaves_nothing(machine, made_up, tmp_path):
    name = made_up.id("match").removeprefix("debian:")
    next((made_up.root / f"usr/lib/{name}").iterdir()).unlink()
    with pytest.raises(CouldNotRead, match="cannot be rebuilt"):
        rebuild(machine, query(machine, name)[0], str(tmp_path))
    assert list(tmp_path.glob("*.part")) == []


def test_dpkg_is_asked_and_its_refusal_is_told(machine, made_up):
    label = made_up.id("label").removeprefix("debian:")
    with pytest.raises(Refused, match="dpkg would refuse"):
        change.simulate(machine, [label])
    desk = made_up.id("desk").removeprefix("debian:")
    assert change.simulate(machine, [label, desk]) == sorted([label, desk])
    assert change.states(machine, [label, "no-such"]) == {
        label: ("installed", "3.3"),
        "no-such": ("not-installed", ""),
    }
    with pytest.raises(Refused, match="dpkg would refuse"):
        change.simulate(machine, ["roombase"])


def test_a_lock_held_by_another_tool_is_waited_for_and_then_said(machine, made_up):
    import fcntl

    with open(made_up.root / "var/lib/dpkg/lock", "w") as handle:
        pid = os.fork()
        if pid == 0:
            fcntl.lockf(handle, fcntl.LOCK_EX)
            import time

            time.sleep(20)
            os._exit(0)
        try:
            import time

            time.sleep(0.2)
            with pytest.raises(Refused, match="another package tool"):
                change.wait_for_lock(machine, seconds=0.2)
        finally:
            os.kill(pid, 9)
            os.waitpid(pid, 0)
    change.wait_for_lock(machine, seconds=5)


@pytest.mark.parametrize(
    ("line", "program"),
    [
        ("env A=1 thing --x %f", "thing"),
        ("/opt/x/bin/y", "/opt/x/bin/y"),
        ("sh -c 'exec thing --y'", "thing"),
        ('"/opt/my app/run" %U', "/opt/my app/run"),
        ("bash /opt/x/start.sh", "/opt/x/start.sh"),
        ("nice thing", "thing"),
        ("'broken", ""),
        ("", ""),
    ],
)
def test_which_program_a_launcher_starts(line, program):
    assert program_of(command_words(line)) == program


def test_a_launcher_is_read_by_its_first_group_and_first_keys(tmp_path):
    text = "# note\n[Other]\nName=No\n[Desktop Entry]\nName=Yes\nName=Again\nExec=a b\nNoDisplay=true\n[Desktop Action x]\nName=Late\n"
    assert parse_entry(text)["Name"] == (5, "Yes")
    (tmp_path / "x.desktop").write_text(text)
    launcher = read_launcher(open_machine(tmp_path), "/x.desktop")
    assert launcher.name == "Yes" and not launcher.visible and launcher.executable == "a"
    Path(tmp_path / "y.desktop").write_text("nothing")
    with pytest.raises(CouldNotRead, match=r"no \[Desktop Entry\]"):
        read_launcher(open_machine(tmp_path), "/y.desktop")
