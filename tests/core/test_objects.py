"""What belongs to an application and is no path: accounts, alternatives, diversions, settings, items of a keyring, databases."""

from __future__ import annotations

import struct
from contextlib import suppress

import pytest
from hypothesis import given
from hypothesis import strategies as st

from databases import gvdb
from evidence import DESKTOP, TERMINAL, ago
from evidence import add_program as add
from evidence import belongings_of as of
from registries import write
from swept_shelf.core.belongings.postgres import databases_of
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.grammars.gvdb import keys_of
from swept_shelf.core.machine import open_machine

# -- what is no path ----------------------------------------------------------------------------------------


def test_accounts_alternatives_diversions_and_settings_made_for_it_are_named_and_never_ticked(room, look):
    schema = '<schemalist><schema id="example.quill" path="/example/quill/"><key name="size" type="i"/></schema></schemalist>'
    add(
        room,
        "quillserve",
        more={
            "usr/lib/sysusers.d/quillserve.conf": 'u quillserve - "Quill" /var/lib/quillserve\n',
            "usr/share/glib-2.0/schemas/example.quill.gschema.xml": schema,
            "usr/src/quillmod-1.2/dkms.conf": "PACKAGE_NAME=quillmod\n",
        },
    )
    write(
        room.root,
        "var/lib/dpkg/info/quillserve.postinst",
        "#!/bin/sh\naddgroup --system quillkeys || true\nadduser --system --home /x hanna\n",
    )
    passwd = room.root / "etc/passwd"
    passwd.write_text(
        passwd.read_text()
        + "quillserve:x:120:120::/var/lib/quillserve:/usr/sbin/nologin\nhanna:x:1003:1003::/home/hanna:/bin/sh\n"
    )
    write(room.root, "etc/group", "quillserve:x:120:\nquillkeys:x:121:\nvera:x:1001:\n")
    write(room.root, "var/lib/dpkg/alternatives/quill", "auto\n/usr/bin/quill\n\n/usr/bin/quillserve\n50\n\n")
    write(
        room.root,
        "var/lib/dpkg/diversions",
        "/usr/bin/pen\n/usr/bin/pen.distrib\nquillserve\n/usr/bin/other\n/usr/bin/other.x\nsomebody\n",
    )
    write(room.root, "var/lib/dpkg/statoverride", "root quillkeys 2755 /usr/bin/quillserve\n")
    write(room.root, "var/lib/dkms/quillmod/1.2/source", "x")
    write(room.root, "var/lib/mysql/quillserve/t.ibd", "x" * 5000)
    room.home(
        "vera",
        ".config/dconf/user",
        gvdb(["/example/quill/size", "/example/quill/pen/width", "/example/quiller/other"]),
        ago(3),
    )
    room.home("otto", ".config/dconf/user", b"GVariant cut off", ago(3))
    survey = look()
    found = {
        (b.object, b.path, b.person) for b in survey.find("debian:quillserve").belongings if not b.is_path
    }
    assert found == {
        ("user", "quillserve", "everyone"),
        ("group", "quillserve", "everyone"),
        ("group", "quillkeys", "everyone"),
        ("alternative", "quill", "everyone"),
        ("diversion", "/usr/bin/pen", "everyone"),
        ("statoverride", "/usr/bin/quillserve", "everyone"),
        ("module", "/var/lib/dkms/quillmod", "everyone"),
        ("database", "/var/lib/mysql/quillserve", "everyone"),
        ("dconf", "/example/quill/", "vera"),
    }
    assert not any(
        b.ticked
        for b in survey.find("debian:quillserve").belongings
        if not b.is_path or b.path.startswith("/var/lib/mysql")
    )
    settings = next(b for b in survey.find("debian:quillserve").belongings if b.object == "dconf")
    assert settings.files == 2 and settings.evidence[0].path.endswith("example.quill.gschema.xml")


@given(st.binary(max_size=200))
def test_a_broken_settings_database_never_ends_the_look(data):
    for text in (data, b"GVariant" + data):
        with suppress(ValueError):
            assert keys_of(text) == sorted(keys_of(text))


# -- databases of a local server ----------------------------------------------------------------------------


def catalogue(rows: list[tuple[int, str, bool]]) -> bytes:
    """One page of pg_database by the manual's page layout: (oid, name, whether the row was deleted)."""
    page = bytearray(8192)
    at = 8192
    for i, (oid, name, deleted) in enumerate(rows):
        data = struct.pack("<I", oid) + name.encode()[:63].ljust(64, b"\0") + b"\0" * 20
        tuple_ = (
            struct.pack(
                "<IIIHHHHHB", 700, 701 if deleted else 0, 0, 0, 0, i + 1, 18, 0 if deleted else 0x0800, 24
            ).ljust(24, b"\0")
            + data
        )
        at -= (len(tuple_) + 7) // 8 * 8
        page[at : at + len(tuple_)] = tuple_
        struct.pack_into("<I", page, 24 + 4 * i, at | 1 << 15 | len(tuple_) << 17)
    struct.pack_into("<HHHH", page, 12, 24 + 4 * len(rows), at, 8192, 8192 | 4)
    return bytes(page)


@pytest.mark.parametrize("moved", [False, True])
def test_a_database_called_like_it_in_a_local_server_is_named_and_never_touched(room, look, moved):
    top = room.root / "var/lib/postgresql/15/main"
    write(top, "base/16384/1", "x" * 9000)
    write(
        top,
        f"global/{2964 if moved else 1262}",
        catalogue([(1, "template1", False), (16384, DESKTOP, False), (16390, TERMINAL, True)]),
    )
    if moved:
        write(top, "global/1262", catalogue([]))
        write(
            top,
            "global/pg_filenode.map",
            struct.pack("<iiIIII", 0x592717, 2, 1213, 1213, 1262, 2964).ljust(512, b"\0"),
        )
    survey = look()
    b = of(survey, DESKTOP)[f"/var/lib/postgresql/15/main, database {DESKTOP}"]
    assert (b.object, b.ticked, b.personal) == ("database", False, True) and b.bytes >= 9000
    assert not any(b.object == "database" for b in of(survey, TERMINAL).values())


@given(st.binary(max_size=300), st.binary(max_size=9000))
def test_a_broken_server_folder_never_ends_the_look(tmp_path_factory, table, page):
    root = tmp_path_factory.mktemp("server")
    write(root, "c/global/pg_filenode.map", table)
    write(root, "c/global/1262", page)
    with suppress(CouldNotRead):
        databases_of(open_machine(root), "/c")
