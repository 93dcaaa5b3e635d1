"""Small files that become large, short ones that take long, and readers that lose themselves: one line in "not read" each."""

from __future__ import annotations

import bz2
import gzip
import json
import lzma
import os
import resource
import sqlite3
import struct
import time
import zlib
from functools import partial
from pathlib import Path

import disk
import pytest

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.databases import copied_database
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.unpacked import unpacked_bytes

HOME = disk.HOME


def _deep_json(depth: int) -> bytes:
    return b'{"a":' * depth + b"1" + b"}" * depth


def _squashfs(inodes: int = 3, block: int = 17) -> bytes:
    """A superblock of squashfs 4.0 that promises what it has not: blocks of 2^`block` bytes, `inodes` inodes."""
    head = struct.pack(
        "<IIIIIHHHHHHQQQQQQQQ",
        0x73717368,
        inodes & 0xFFFFFFFF,
        0,
        1 << min(block, 31),
        0,
        1,
        block,
        0xC0,
        1,
        4,
        0,
        0,
        1 << 40,
        96,
        0xFFFFFFFFFFFFFFFF,
        96,
        200,
        0xFFFFFFFFFFFFFFFF,
        0xFFFFFFFFFFFFFFFF,
    )
    return head + zlib.compress(bytes(1 << 20)) * 3 + bytes(8192)


def appimage(image: bytes) -> bytes:
    """A small ELF head with an image behind it."""
    head = bytearray(b"\x7fELF\x02\x01\x01\x00AI\x02" + bytes(53))
    struct.pack_into("<Q", head, 40, 64)
    struct.pack_into("<HH", head, 58, 64, 0)
    return bytes(head) + image


def database(path: Path) -> None:
    """A view that never ends where a table should be."""
    path.parent.mkdir(parents=True, exist_ok=True)
    base = sqlite3.connect(path)
    base.execute(
        "CREATE VIEW wtmp AS WITH RECURSIVE n(Type) AS (SELECT 3 UNION ALL SELECT "
        "Type FROM n) SELECT Type, 1 AS User, Type AS Login, 2 AS Logout FROM n"
    )
    base.execute(
        "CREATE VIEW ResourceEvent AS WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL "
        "SELECT x+1 FROM n) SELECT x AS usedActivity, x AS initiatingAgent, x AS "
        "targettedResource, x AS start, x AS end FROM n"
    )
    base.commit()
    base.close()


TOML = b"a = " + b"[" * 100_000
YAML = (
    b"a: &a [x,x,x,x,x,x,x,x,x]\n"
    + b"".join(
        b"%c: &%c [%s]\n" % (c, c, b",".join([b"*%c" % (c - 1)] * 9)) for c in range(ord("b"), ord("k"))
    )
    + b"version: *j\nname: knot\n"
)


def bombed(root: Path) -> Path:
    disk.plain_root(root)
    put = lambda path, data: disk.put(root, path, data)  # noqa: E731
    put("var/log/dpkg.log.1.gz", gzip.compress(bytes(20 << 20), 1) * 10)
    put("var/log/dpkg.log.2.gz", gzip.compress(b"2020-01-01 01:01:01 install x:all <none> 1\n", 9) * 3)
    put("var/log/apt/history.log.1.xz", lzma.compress(bytes(15 << 20), preset=0) * 10)
    put("var/log/apt/history.log.2.bz2", bz2.compress(bytes(1 << 20), 1) * 150)
    put("var/lib/apt/lists/x_Packages.xz", lzma.compress(b"Package: a\n" * 1_300_000, preset=0) * 10)
    put("etc/swept-shelf/protected.toml", TOML)
    put(f"{HOME}/.local/share/pipx/venvs/x/pipx_metadata.json", _deep_json(100_000))
    put(f"{HOME}/.cargo/.crates2.json", b'{"installs":' + b"9" * 5000 + b"}")
    put(
        "usr/local/lib/node_modules/x/package.json",
        json.dumps({"name": "x", "version": "1", "bin": {f"{i}": "" for i in range(200_000)}}),
    )
    for n in range(4):
        put(f"opt/bomb{n}.AppImage", appimage(_squashfs(1 << 31, 20)))
        put(f"{HOME}/Applications/big{n}.AppImage", appimage(_squashfs(3, 31)))
    put("var/lib/snapd/snaps/knot_1.snap", _squashfs(1 << 30, 20))
    database(root / "var/lib/wtmpdb/wtmp.db")
    database(root / HOME / ".local/share/kactivitymanagerd/resources/database")
    put(
        f"{HOME}/.config/dconf/user",
        b"GVariant" + struct.pack("<IIII", 0, 0, 24, 2**31) + struct.pack("<II", 0, 2**30) + bytes(200),
    )
    put(f"{HOME}/.local/share/keyrings/login.keyring", b"GnomeKeyring\n\r\0\n" + b"\xff" * 4000)
    put(
        f"{HOME}/.local/share/recently-used.xbel",
        b'<!DOCTYPE x [<!ENTITY a "'
        + b"x" * 1000
        + b'">'
        + b"".join(b'<!ENTITY %c "%s">' % (c, b"&%c;" % (c - 1) * 20) for c in range(ord("b"), ord("k")))
        + b']><xbel><bookmark href="&j;"/></xbel>',
    )
    put(
        f"{HOME}/.local/share/applications/large.desktop",
        b"[Desktop Entry]\nName=x\nExec=" + b"a 'b' " * 9_000_000,
    )
    put("usr/share/applications/words.desktop", b"[Desktop Entry]\nName=x\nExec=" + b'\\"a ' * 200_000)
    put("etc/cron.d/long", b"* * * * * root " + b"/usr/bin/lantern; " * 100_000)
    put(
        f"{HOME}/.bashrc",
        b"alias a='" + b"x" * 5_000_000 + b"'\n" + b"export A=$A:/usr/bin/lantern\n" * 50_000,
    )
    with open(put(f"{HOME}/.bash_history", ""), "r+b") as handle:
        handle.truncate(30 << 30)
    deep = root / "etc/systemd/system/a.wants"
    for _ in range(300):
        deep = deep / "b.wants"
    deep.mkdir(parents=True)
    for n in range(300):
        os.symlink(f"../{n}/" * 30, disk.put(root, f"opt/links/{n}/x", "").with_name("loop"))
    return root


def test_bombs_cost_a_line_each_and_little_time_and_memory(tmp_path):
    root = bombed(tmp_path / "disk")
    out = tmp_path / "out"
    out.mkdir(mode=0o700)
    seen = disk.watched(
        {"do": "survey", "root": str(root), "folder": str(out)}, tmp_path / "log", [out], seconds=200
    )
    assert seen.last["event"] == "result", seen.last
    assert seen.seconds < 90 and 0 < seen.memory < 500 << 20, (seen.seconds, seen.memory >> 20)
    found = json.loads((out / "survey.json").read_bytes())
    named = {n["path"] for n in found["not_read"]}
    for path in (
        "var/log/dpkg.log.1.gz",
        "var/log/apt/history.log.1.xz",
        "etc/swept-shelf/protected.toml",
        "var/lib/wtmpdb/wtmp.db",
        f"{HOME}/.bash_history",
        f"{HOME}/.local/share/pipx/venvs/x/pipx_metadata.json",
        "opt/bomb0.AppImage",
        f"{HOME}/Applications/big0.AppImage",
        "var/lib/snapd/snaps/knot_1.snap",
        f"{HOME}/.local/share/recently-used.xbel",
    ):
        assert f"/{path}" in named, path
    assert "debian:lantern" in {a["id"] for a in found["applications"]}


def test_a_database_is_read_by_its_tables_alone(tmp_path):
    """Views, triggers, functions, other databases, pragmas: refused; a table is read."""
    root = disk.plain_root(tmp_path / "disk")
    base = sqlite3.connect(root / "x.db")
    base.executescript("CREATE TABLE t(a); INSERT INTO t VALUES (1); CREATE VIEW v AS SELECT a FROM t;")
    base.close()
    machine = open_machine(root)
    with copied_database(machine, "/x.db") as opened:
        assert opened.execute("SELECT max(a) FROM t").fetchall() == [(1,)]
    for wrong in (
        "SELECT a FROM v",
        "ATTACH '/etc/passwd' AS p",
        "PRAGMA journal_mode",
        "SELECT load_extension('x')",
        "INSERT INTO t VALUES (2)",
        "WITH RECURSIVE n(x) AS (SELECT 1 UNION ALL SELECT x+1 FROM n) SELECT x FROM n",
        "SELECT readfile('/etc/passwd')",
        "SELECT randomblob(99)",
    ):
        with pytest.raises(CouldNotRead), copied_database(machine, "/x.db") as opened:
            opened.execute(wrong).fetchall()


@pytest.mark.parametrize("ending", [".gz", ".bz2", ".xz"])
def test_what_is_packed_comes_out_whole_or_is_said_to_be_cut_off_or_too_much(tmp_path, ending):
    root = disk.plain_root(tmp_path / "disk")
    pack = {
        ".gz": partial(gzip.compress, compresslevel=1),
        ".bz2": partial(bz2.compress, compresslevel=1),
        ".xz": partial(lzma.compress, preset=0),
    }[ending]
    machine, text = open_machine(root), os.urandom(3 << 20) + bytes(2 << 20)
    disk.put(root, f"x{ending}", pack(text) + pack(b"more") + bytes(100))
    assert unpacked_bytes(machine, f"/x{ending}") == text + b"more"
    for cut in (pack(text)[:-5], pack(text)[: 1 << 20], b"nonsense"):
        disk.put(root, f"x{ending}", cut)
        with pytest.raises(CouldNotRead, match="unpacked"):
            unpacked_bytes(machine, f"/x{ending}")
    disk.put(root, f"x{ending}", pack(bytes(14 << 20)) * 10)
    with pytest.raises(CouldNotRead, match="more than"):
        unpacked_bytes(machine, f"/x{ending}")


def test_a_fence_holds_time_memory_and_every_error_and_gives_both_back():
    said: list[tuple[str, str]] = []
    before = resource.getrlimit(resource.RLIMIT_DATA)

    def recurse(n: int) -> int:
        return recurse(n + 1)

    def greedy() -> None:
        held = []
        while True:
            held.append(bytes(8 << 20))

    def stubborn() -> None:
        while True:
            try:
                time.sleep(0.01)
            except Exception:  # what a reader does with others' mistakes
                continue

    def broken() -> None:
        raise KeyError("\udcff\x1b[31m")

    for act in (lambda: recurse(0), greedy, stubborn, broken, lambda: open_machine("/nowhere-at-all")):
        with fence("/x", lambda path, reason: said.append((path, reason)), seconds=1.0, memory=64 << 20):
            act()
    assert len(said) == 5 and all("\x1b" not in r and "\n" not in r for _, r in said)
    assert "memory" in said[1][1] and "longer than" in said[2][1]
    assert resource.getrlimit(resource.RLIMIT_DATA) == before
    with fence("/outer", lambda path, reason: said.append((path, reason)), seconds=0.4):
        for _ in range(100):
            with fence("/inner", lambda path, reason: None, seconds=5.0):
                time.sleep(0.05)
    assert said[-1][0] == "/outer"
