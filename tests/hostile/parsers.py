"""Every parser of what others wrote, with true samples to begin from, and the strategy that spoils them.

A parser may say that a text is not what it should be (its own errors, named below); anything else is a fault."""

from __future__ import annotations

import json
import os
import re
import sqlite3
import struct
import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from xml.parsers.expat import ExpatError

from hypothesis import strategies as st

from planted import ASH, PLANTED, PLOT, SETTINGS_PLANTED
from swept_shelf.core.belongings import keyring
from swept_shelf.core.belongings.corrections import read_rules
from swept_shelf.core.carry.journal import check, damaged, read_journal, replay, tops_noted
from swept_shelf.core.carry.records import why_no_manifest
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.masking import masked
from swept_shelf.core.documents.wire import read_order
from swept_shelf.core.grammars import gvdb
from swept_shelf.core.machine.databases import copied_database
from swept_shelf.core.machine.description import find_description, write_description
from swept_shelf.core.machine.machine import open_machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.unpacked import unpacked_bytes
from swept_shelf.core.references.cutting import without
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.references.take_out import cut_of
from swept_shelf.core.registries.debian import history, read, settings
from swept_shelf.core.registries.images import image_behind, text_inside
from swept_shelf.core.registries.launchers import read_launcher
from swept_shelf.core.use import desktop_records, logins, shell_history, thumbnails

TO = Pointees([PLOT, ASH])
_PLACE = Path(tempfile.mkdtemp(prefix="fuzz-"))
(_PLACE / "root").mkdir()
_MACHINE = open_machine(_PLACE / "root")


@dataclass(frozen=True)
class Parser:
    act: Callable[[bytes], object]
    samples: list[bytes]
    may_raise: tuple[type[BaseException], ...] = (SweptShelfError, ValueError)


def _text(data: bytes) -> str:
    return data.decode("utf-8", "surrogateescape")


def _file(name: str, data: bytes) -> str:
    path = _PLACE / "root" / name
    path.parent.mkdir(parents=True, exist_ok=True)
    path.write_bytes(data)
    return f"/{name}"


def _pointing(name: str, path: str) -> Callable[[bytes], object]:
    """Finding, and taking out what was found: what is left points only where it could not be cut."""
    kind = KINDS[name]

    def act(data: bytes) -> None:
        text = _text(data)
        found = [e for e in kind.parse(path, text) if any(TO.whose(t, "/home/edda") for t in e.targets)]
        cuts = [c for e in found if (c := cut_of(e))]
        after = without(text, cuts)
        assert len(after) <= len(text) and (cuts or after == text)
        if all(cut_of(e) for e in found) and not kind.why_broken(path, text, after):
            list(kind.parse(path, after))

    return act


def _debian(data: bytes) -> None:
    text = data.decode("utf-8", "surrogateescape")
    for row in text.split("\x1e"):
        if row:
            read._package(row.split("\x1f"))


def _apt_history(data: bytes) -> None:
    _file("var/log/apt/history.log", data)
    _file("var/log/dpkg.log", data)
    by_apt = list(history.apt_history(_MACHINE, []))
    history.asked(by_apt)
    history.commands(by_apt)
    list(history.removed(_MACHINE, []))
    list(history.dpkg_history(_MACHINE, []))


def _database(data: bytes) -> None:
    path = _file("x.db", data)
    for read_it in (desktop_records._resources, desktop_records._activities):
        with copied_database(_MACHINE, path) as base:
            list(read_it(base))


def _journal(data: bytes) -> None:
    path = _PLACE / "journal.jsonl"
    path.write_bytes(data)
    records = read_journal(path)
    check(records)
    tops_noted(records)
    replay(records)
    damaged(path)


def _description(data: bytes) -> None:
    (_PLACE / "machine.json").write_bytes(data)
    (_PLACE / "machine.json").chmod(0o600)
    assert find_description(_PLACE)[1] is None
    try:
        plain = json.loads(data)
    except (ValueError, RecursionError):
        return
    if isinstance(plain, dict):
        write_description(_PLACE, plain)
        find_description(_PLACE)


def _manifest(data: bytes) -> None:
    try:
        content = json.loads(data)
    except (ValueError, RecursionError):
        return
    assert why_no_manifest(content, "another run", 1)
    if isinstance(content, dict):
        why_no_manifest(content, str(content.get("run")), 1)


def _image(data: bytes) -> None:
    with open(_PLACE / "image", "wb") as handle:
        handle.write(data)
    with open(_PLACE / "image", "rb") as handle:
        at = image_behind(data[:64]) if data[:4] == b"\x7fELF" and len(data) >= 64 else 0
        text_inside(handle, at, "", ".desktop", "/x")


def _history(data: bytes) -> None:
    for shell in ("bash", "zsh", "fish"):
        shell_history._dated(data, data, shell)


def _people(data: bytes) -> None:
    _file("etc/passwd", data)
    read_people(_MACHINE)


def _sqlite_sample() -> bytes:
    path = _PLACE / "sample.db"
    base = sqlite3.connect(path)
    base.executescript(
        "CREATE TABLE ResourceEvent(usedActivity, initiatingAgent, targettedResource, "
        "start, end); INSERT INTO ResourceEvent VALUES (1,'lantern','x',5,6);"
        "CREATE TABLE ResourceScoreCache(targettedResource, initiatingAgent, lastUpdate);"
        " INSERT INTO ResourceScoreCache VALUES ('x', 'lantern', 7);"
        "CREATE TABLE event(id, timestamp, actor); CREATE TABLE actor(id, value);"
        " INSERT INTO event VALUES (1, 2000, 1); INSERT INTO actor VALUES (1, 'application://lantern.desktop');"
    )
    base.commit()
    base.close()
    return path.read_bytes()


_LAUNCHER = b'[Desktop Entry]\nType=Application\nName=Lantern\nExec=env A=b "/usr/bin/lantern" %U\nIcon=x\nMimeType=text/x;\n'
_XBEL = (
    b'<?xml version="1.0"?><xbel version="1.0"><bookmark href="file:///x" modified="2025-01-01T00:00:00Z"><info><metadata '
    b'owner="http://freedesktop.org">'
    b'<bookmark:applications><bookmark:application name="lantern" exec="&apos;lantern %u&apos;" modified="2025-01-01T00:00:00Z" count="3"/>'
    b"</bookmark:applications></metadata></info></bookmark></xbel>"
)
_ORDER = json.dumps(
    {
        "format": "swept-shelf/order",
        "version": 1,
        "id": "1.1",
        "drawn_at": "2026-01-01T00:00:00Z",
        "machine": {"key": "k", "name": "n", "root": "/"},
        "survey": {"id": "s", "sha256": "0"},
        "lines": [
            {
                "id": "debian:x",
                "name": "x",
                "verdict": "remove",
                "ticks": ["/x"],
                "packages": ["x"],
                "references": [],
                "comes_back": 5,
            }
        ],
        "packages": ["x"],
        "comes_back": [{"volume": "v", "now": 1, "when_emptied": 2, "when_ended": 0}],
        "settle": [],
    }
).encode()
_MANIFEST = json.dumps(
    {
        "format": "swept-shelf/slot",
        "version": 2,
        "run": "r",
        "order": "1",
        "machine": "m",
        "number": 1,
        "line": "l",
        "name": "n",
        "do": "shelve",
        "at": "2026-01-01T00:00:00Z",
        "bytes": 0,
        "files": 0,
        "volume": "v",
        "path": "/x",
        "identity": {},
        "parent": {},
    }
).encode()
_DESCRIPTION = json.dumps(
    {
        "format": "swept-shelf/machine",
        "version": 1,
        "name": "x",
        "key": "k",
        "clock": None,
        "ledger": "ledger/l",
        "volumes": [{"id": "v", "mount": "/", "file_system": "x", "capacity": 1, "base": 0}],
    }
).encode()
_GVDB = (
    b"GVariant"
    + struct.pack("<IIII", 0, 0, 24, 48)
    + struct.pack("<II", 0, 1)
    + struct.pack("<I", 0)
    + struct.pack("<IIIHBBII", 5381, 0xFFFFFFFF, 52, 4, 118, 0, 56, 60)
    + b"/a/b"
    + bytes(16)
)

PARSERS: dict[str, Parser] = {
    "desktop entries": Parser(lambda d: read_launcher(_MACHINE, _file("x.desktop", d)), [_LAUNCHER]),
    "dpkg's rows": Parser(
        _debian,
        [
            "\x1f".join(
                [
                    "lantern",
                    "1",
                    "all",
                    "install",
                    "ok",
                    "",
                    "x",
                    "optional",
                    "no",
                    "no",
                    "s",
                    "h",
                    "m",
                    "s",
                    "",
                    "a, b",
                    "",
                    "",
                    "",
                    " /etc/x 0 obsolete\n",
                    "1700000000",
                    "120",
                    " /.\n /usr\n",
                ]
            ).encode()
            + b"\x1e"
        ],
    ),
    "apt's history": Parser(
        _apt_history,
        [
            b"\nStart-Date: 2024-01-01  10:00:00\nCommandline: apt install lantern --password=x\n"
            b"Requested-By: a (1000)\nInstall: lantern:all (1.0, automatic), b:amd64 "
            b"(2)\nPurge: c:all (3)\n\n2024-01-01 10:00:00 install lantern:all <none> "
            b"1.0\n"
        ],
    ),
    "apt's settings": Parser(
        lambda d: list(settings.statements(_text(d))),
        [
            b'APT { AutoRemove { RecommendsImportant "false"; }; NeverAutoRemove { "^a";'
            b' "b"; }; };\n#clear APT::X;\n// x\n/* y */ A::B "c";\n'
        ],
    ),
    "shell histories": Parser(
        _history,
        [
            b"1:#1700000000\n2:lantern x\n",
            b"1:: 1700000000:0;lantern x\n",
            b"1:- cmd: lantern x\n2:  when: 1700000000\n",
        ],
    ),
    "settings databases (gvdb)": Parser(lambda d: gvdb.keys_of(d), [_GVDB]),
    "settings in them (gvariant)": Parser(
        lambda d: list(KINDS["dconf"].parse("", gvdb.text_of(d))), [gvdb.data_of(SETTINGS_PLANTED)]
    ),
    "keyrings": Parser(
        lambda d: keyring.read_items(d),
        [b"GnomeKeyring\n\r\0\n\0\0\0\0" + struct.pack(">I", 5) + b"login" + bytes(80)],
    ),
    "images": Parser(
        _image, [(Path(__file__).parents[2] / "src/swept_shelf/core/demo/box.squashfs").read_bytes()]
    ),
    "databases": Parser(_database, [_sqlite_sample()]),
    "logins": Parser(
        lambda d: logins._records(d, 1_800_000_000),
        [
            struct.pack(
                "<hxxi32s4s32s256shhiii4i20x",
                7,
                9,
                b"tty1",
                b"1",
                b"anna",
                b"",
                0,
                0,
                0,
                1_700_000_000,
                0,
                0,
                0,
                0,
                0,
            )
            * 2
        ],
    ),
    "application states": Parser(
        lambda d: list(desktop_records._states(_text(d))),
        [
            b'<application-state><context id=""><application id="lantern.desktop" score="3" '
            b'last-seen="1700000000"/></context></application-state>'
        ],
        (SweptShelfError, ValueError, ExpatError),
    ),
    "pictures' makers": Parser(
        lambda d: thumbnails.software(d),
        [b"\x89PNG\r\n\x1a\n" + struct.pack(">I", 17) + b"tEXtSoftware\0lantern" + bytes(8)],
    ),
    "what is packed": Parser(
        lambda d: unpacked_bytes(_MACHINE, _file("x.gz", d)), [__import__("gzip").compress(b"lantern" * 50)]
    ),
    "people": Parser(
        _people, [b"root:x:0:0:root:/root:/bin/sh\nanna:x:1000:1000:,,,:/home/anna:/bin/bash\n"]
    ),
    "orders": Parser(lambda d: read_order(d, "x"), [_ORDER]),
    "manifests": Parser(_manifest, [_MANIFEST]),
    "journals of runs": Parser(
        _journal,
        [
            b'{"event": "mode", "mode": "carry_out", "at": "2026-01-01T00:00:00Z"}\n'
            b'{"event": "begin", "at": "2026-01-01T00:00:00Z", "n": 1}\n'
            b'{"event": "done", "at": "2026-01-01T00:00:00Z", "n": 1}\n{"event": "end", "at": "2026-01-01T00:00:00Z", "state": "x"}\n'
        ],
    ),
    "descriptions": Parser(_description, [_DESCRIPTION]),
    "corrections": Parser(
        lambda d: read_rules(_text(d), "x"),
        [
            b'[[its]]\napplication = "debian:x"\nplace = "~/.x"\n[[not_its]]\napplication = "debian:y"\nplace = "/x"\nnote = "y"\n'
        ],
    ),
    "quotations": Parser(
        lambda d: masked(_text(d)), [b"curl -u a:b https://c:d@e --token=f -pg 'Authorization: Bearer h'"]
    ),
}
PARSERS |= {
    f"references: {kind}": Parser(
        _pointing(kind, samples[0][0]), [text.encode() for _, text, _ in samples], (ValueError,)
    )
    for kind, samples in PLANTED.items()
}
if os.environ.get("FUZZ_ONLY"):
    PARSERS = {n: p for n, p in PARSERS.items() if re.search(os.environ["FUZZ_ONLY"], n)}

_TOKENS = [
    b"\0",
    b"\xff",
    b"\n",
    b"\r",
    b"\x1b",
    b"\x1e",
    b"\x1f",
    b'"',
    b"'",
    b"\\",
    b"%",
    b"[",
    b"]",
    b"{",
    b"}",
    b"(",
    b";",
    b":",
    b"=",
    b"/",
    b"..",
    b"~",
    b"$(",
    b"`",
    b"&amp;",
    b"<!DOCTYPE",
    b"9" * 30,
    b"-1",
    b"\xc2\xb2",
    b"\xed\xa0\x80",
    b"null",
    b"true",
    b"1e999",
    b"lantern",
    b"/usr/bin/lantern",
    b"\xff\xff\xff\xff",
    b"\x00\x00\x00\x80",
]


@st.composite
def spoiled(draw: st.DrawFn, samples: list[bytes]) -> bytes:
    """A sample with some of its bytes cut, doubled, exchanged or put in; now and then any bytes at all."""
    if draw(st.integers(0, 9)) == 0:
        return draw(st.binary(max_size=300))
    data = bytearray(draw(st.sampled_from(samples)))
    for _ in range(draw(st.integers(0, 8))):
        at, end = (draw(st.integers(0, len(data))) for _ in range(2))
        at, end = min(at, end), max(at, end)
        kind = draw(st.integers(0, 5))
        if kind == 0:
            del data[at:end]
        elif kind == 1:
            data[at:at] = data[at : min(end, at + 200)]
        elif kind == 2:
            data[at:at] = draw(st.sampled_from(_TOKENS)) * draw(st.sampled_from([1, 1, 1, 2, 50]))
        elif kind == 3 and at < len(data):
            data[at] = draw(st.integers(0, 255))
        elif kind == 4 and at + 4 <= len(data):
            data[at : at + 4] = struct.pack(
                "<I", draw(st.sampled_from([0, 1, 0x7FFFFFFF, 0x80000000, 0xFFFFFFFF, 0x10000]))
            )
        else:
            data[at : at + draw(st.integers(0, 8))] = draw(st.binary(max_size=8))
    return bytes(data)
