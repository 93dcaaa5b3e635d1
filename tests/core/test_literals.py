"""Names searched in the files of programs: whole, in both encodings, inside archives, and once."""

from __future__ import annotations

import struct
import tempfile
import zipfile
from io import BytesIO
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from registries import write
from swept_shelf.core.belongings.common import normal, stem
from swept_shelf.core.belongings.literals import find_literals, program_files
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.program_parts import text_parts
from swept_shelf.core.tree.walk import walk


def literals(tmp_path: Path, files: dict[str, bytes], names: list[str], **more: str) -> dict[str, list[str]]:
    for path, data in files.items():
        write(tmp_path / "r", path, data, 0o755)
    machine = open_machine(tmp_path / "r")
    tree = walk(machine)
    found = find_literals(machine, tree, program_files(tree, tree.paths), names, **more)
    return {name: paths for name, paths in found.holders.items() if paths}


def test_names_are_found_in_programs_libraries_archives_and_both_encodings(tmp_path):
    packed = BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("a/B.class", b"\0\x09PlateWorks\0")
    found = literals(
        tmp_path,
        {
            "usr/bin/a": b"\x7fELF\0x\0PlateWorks\0y",
            "usr/lib/b.so": "PlateWorks".encode("utf-16-le").join([b"\0\0", b"\0\0"]),
            "usr/share/c.jar": packed.getvalue(),
            "usr/bin/d": b"PlateWorkshop SomePlateWorks",
            "usr/bin/e": "h='~/.config/Blätter'".encode(),
            "usr/share/broken.jar": b"PK\x03\x04 no archive",
        },
        ["PlateWorks", "Blätter", "nowhere"],
    )
    assert found == {
        "PlateWorks": ["/usr/bin/a", "/usr/lib/b.so", "/usr/share/c.jar"],
        "Blätter": ["/usr/bin/e"],
    }


def test_a_second_survey_reads_only_what_changed(tmp_path):
    (tmp_path / "1").mkdir()
    (tmp_path / "2").mkdir()
    files = {"usr/bin/a": b"'PlateWorks'", "usr/bin/b": b"'other'"}
    literals(tmp_path, files, ["PlateWorks"], keep=str(tmp_path / "1"))
    write(tmp_path / "r", "usr/bin/b", b"'PlateWorks' too, and longer", 0o755)
    machine = open_machine(tmp_path / "r")
    tree = walk(machine)
    again = find_literals(
        machine,
        tree,
        program_files(tree, tree.paths),
        ["PlateWorks"],
        str(tmp_path / "1"),
        str(tmp_path / "2"),
    )
    assert again.holders["PlateWorks"] == ["/usr/bin/a", "/usr/bin/b"] and again.read < 40
    both = find_literals(
        machine, tree, program_files(tree, tree.paths), ["PlateWorks", "other"], str(tmp_path / "2")
    )
    assert both.holders["other"] == [] and both.holders["PlateWorks"] == ["/usr/bin/a", "/usr/bin/b"]
    (tmp_path / "2/literals.json").write_text("{}{")
    assert find_literals(
        machine, tree, program_files(tree, tree.paths), ["PlateWorks"], str(tmp_path / "2")
    ).holders["PlateWorks"] == ["/usr/bin/a", "/usr/bin/b"]


@given(
    st.text("aBc9-", min_size=3, max_size=6),
    st.lists(st.sampled_from([b"\0", b"/", b'"', b"x", b"9", b" "]), min_size=2, max_size=2),
)
def test_a_name_counts_only_where_it_stands_whole(tmp_path_factory, name, around):
    folder = tmp_path_factory.mktemp("whole")
    found = literals(folder, {"usr/bin/a": around[0] + name.encode() + around[1]}, [name])
    whole = all(edge not in (b"x", b"9") for edge in around)
    assert bool(found) == whole


@given(
    st.from_regex(r"[a-z]{4,12}", fullmatch=True),
    st.sampled_from(["", ".conf", ".ini", "rc", ".db", ".log", ".json", "_history"]),
)
def test_an_ending_does_not_tell_names_apart(name, ending):
    assert normal(stem(f".{name}{ending}")) in (normal(name), normal(stem(name)))


def elf(parts: list[tuple[int, int, bytes]], order: str = "<", bits: int = 64) -> bytes:
    """A program of these sections, each of a type, flags and bytes (elf(5))."""
    head, number = (64, "Q") if bits == 64 else (52, "I")
    body = b"".join(data for _, _, data in parts)
    start = head
    table = b""
    for kind, flags, data in parts:
        row = (0, kind, flags, 0, start, len(data), 0, 0, 0, 0)
        table += struct.pack(order + ("IIQQQQIIQQ" if bits == 64 else "10I"), *row)
        start += len(data)
    magic = b"\x7fELF" + bytes([2 if bits == 64 else 1, 1 if order == "<" else 2])
    made = bytearray((magic + bytes(head))[:head])
    struct.pack_into(order + number, made, 40 if bits == 64 else 32, head + len(body))
    struct.pack_into(order + "HH", made, 58 if bits == 64 else 46, len(table) // len(parts), len(parts))
    return bytes(made) + body + table


def parts_of(tmp_path: Path, data: bytes) -> list[tuple[int, int]]:
    (file := tmp_path / "f").write_bytes(data)
    with open(file, "rb") as handle:
        return text_parts(handle.fileno(), len(data))


@pytest.mark.parametrize("order", ["<", ">"])
@pytest.mark.parametrize("bits", [32, 64])
def test_of_a_program_only_what_can_hold_a_text_is_searched(tmp_path, order, bits):
    room = bytes(5000)
    sections = [
        (1, 2, b"\0PlateWorks\0" + room),  # data
        (1, 6, b"\0Instructions\0" + room),
        (4, 2, b"\0Relocations\0" + room),
        (1, 6, b"\0Little\0"),  # not worth leaving out
        (8, 3, b""),  # nothing of it is in the file
        (1, 3, b"\0Behind\0"),
    ]
    found = literals(
        tmp_path,
        {"usr/bin/a": elf(sections, order, bits)},
        ["PlateWorks", "Instructions", "Relocations", "Little", "Behind"],
    )
    assert set(found) == {"PlateWorks", "Little", "Behind"}


def test_names_on_both_sides_of_what_is_left_out_are_not_run_together(tmp_path):
    sections = [(1, 2, b"\0Plate"), (1, 6, bytes(5000)), (1, 2, b"Works\0")]
    assert literals(tmp_path, {"usr/bin/a": elf(sections)}, ["PlateWorks", "Plate"]) == {
        "Plate": ["/usr/bin/a"]
    }


def test_a_large_program_is_searched_by_its_texts(tmp_path):
    sections = [(1, 2, b"\0PlateWorks\0"), (1, 6, b"\0Instructions\0" + bytes(66 << 20))]
    names = ["PlateWorks", "Instructions"]
    assert literals(tmp_path, {"usr/bin/a": elf(sections)}, names) == {"PlateWorks": ["/usr/bin/a"]}


@given(
    st.integers(0, 2**64 - 1), st.integers(0, 2**16 - 1), st.integers(0, 2**16 - 1), st.binary(max_size=400)
)
def test_whatever_its_header_says_parts_lie_in_order_inside_the_file(offset, length, count, rest):
    made = bytearray(elf([(1, 2, bytes(6000)), (1, 6, bytes(9000)), (2, 0, rest)]))
    struct.pack_into("<Q", made, 40, offset)
    struct.pack_into("<HH", made, 58, length, count)
    with tempfile.TemporaryDirectory() as folder:
        parts = parts_of(Path(folder), bytes(made))
    ends = [0]
    for at, long in parts:
        assert at >= ends[-1] and long > 0
        ends.append(at + long)
    assert ends[-1] <= len(made)


@given(st.integers(0, 20_000), st.integers(0, 20_000) | st.integers(2**63, 2**64 - 1))
def test_a_section_that_is_not_inside_the_file_leaves_nothing_out(start, long):
    made = bytearray(elf([(1, 6, bytes(9000))]))
    struct.pack_into("<QQ", made, len(made) - 64 + 24, start, long)
    with tempfile.TemporaryDirectory() as folder:
        left = len(made) - sum(n for _, n in parts_of(Path(folder), bytes(made)))
    assert left == (long if long >= 4096 and start + long <= len(made) else 0)


@pytest.mark.parametrize(
    "data", [b"", b"\x7fELF", b"#!/bin/sh\necho PlateWorks\n", b"\x7fELF\x09" + bytes(90)]
)
def test_what_is_no_program_is_searched_whole(tmp_path, data):
    assert sum(n for _, n in parts_of(tmp_path, data)) == len(data)


def test_a_real_programs_parts_hold_its_texts_and_not_its_instructions(tmp_path):
    data = Path("/bin/bash").read_bytes()
    parts = parts_of(tmp_path, data)
    held = b"\0".join(data[at : at + n] for at, n in parts)
    assert b"\0BASH_VERSION\0" in held and len(held) < 0.8 * len(data)
