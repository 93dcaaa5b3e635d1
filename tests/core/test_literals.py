"""Names searched in the files of programs: whole, in both encodings, inside archives, and once."""

from __future__ import annotations

import zipfile
from io import BytesIO
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from registries import write
from swept_shelf.core.belongings.common import normal, stem
from swept_shelf.core.belongings.literals import find_literals, program_files
from swept_shelf.core.machine import open_machine
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
