"""An archive of the holding shelf: what went comes back from it, here or on another computer, and nothing that was changed does."""

from __future__ import annotations

import hashlib
import io
import json
import os
import subprocess
import tarfile
from pathlib import Path

import pytest
import zstandard

from helpers import Job, built, cli, differences, picture, seal_anew
from staging import copied, staged
from swept_shelf.core.carry.archive.read import checked, restore
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine import open_machine


def said_by(*words: object):
    return cli(*map(str, words))


GOING = ("debian:willowvane", "debian:vellumcote")


def gone(job):
    job.carry(job.prepare(job.order(*GOING)))
    file = job.machine.folder / "medium" / "shelf.tar.zst"
    file.parent.mkdir()
    said = said_by("--root", job.machine.folder, "archive", file)
    assert said.returncode == 0, said.stderr
    job.empty()
    assert not job.shop.shelves.waiting()


@pytest.fixture
def archived(tmp_path):
    """(job, picture before, archive) of two applications that went, their shelf emptied."""
    job = copied(staged(gone), tmp_path / "machine")
    return job, picture(built(1).root), job.machine.folder / "medium" / "shelf.tar.zst"


def members(file: Path) -> dict[str, tuple[tarfile.TarInfo, bytes]]:
    with open(file, "rb") as source:
        data = io.BytesIO(zstandard.ZstdDecompressor().stream_reader(source).read())
    with tarfile.open(fileobj=data) as tar:
        return {i.name: (i, tar.extractfile(i).read() if i.isreg() else b"") for i in tar}


def packed(file: Path, parts: dict[str, tuple[tarfile.TarInfo, bytes]]) -> None:
    made = io.BytesIO()
    with tarfile.open(fileobj=made, mode="w", format=tarfile.PAX_FORMAT) as tar:
        for info, content in parts.values():
            info.size = len(content) if info.isreg() else 0
            tar.addfile(info, io.BytesIO(content))
    file.write_bytes(zstandard.ZstdCompressor().compress(made.getvalue()))


def test_what_was_emptied_comes_back_from_the_archive_as_it_was(archived):
    job, before, file = archived
    said = said_by("--root", archived[0].machine.folder, "restore", file)
    assert said.returncode == 0, said.stderr
    assert differences(before, picture(archived[0].machine.root)) == []
    assert not job.shop.shelves.waiting()


def test_one_application_of_it_comes_back_alone(archived):
    job, _, file = archived
    said = said_by("--root", archived[0].machine.folder, "restore", file, "willowvane")
    assert said.returncode == 0, said.stderr
    ids = {a.id for a in job.survey().survey.applications}
    assert "debian:willowvane" in ids and "debian:vellumcote" not in ids


def test_it_is_an_ordinary_tar_that_says_what_it_holds(archived):
    _, _, file = archived
    parts = members(file)
    names = list(parts)
    assert names[0] == "archive.json" and names[-1] == "digests.json"
    head = json.loads(parts["archive.json"][1])
    assert head["machine_name"] == open_machine(archived[0].machine.folder).name
    assert {t["name"] for t in head["things"]} == {"Willowvane", "Vellumcote"}
    assert any(n.startswith("originals/") and n.endswith(".deb") for n in names)
    listed = said_by("--root", archived[0].machine.folder, "restore", file, "--list")
    assert (
        listed.returncode == 0 and "Willowvane" in listed.stdout and "sealed by this carrier" in listed.stderr
    )
    assert (
        subprocess.run(
            ["tar", "-tf", "-"],
            input=zstandard.ZstdDecompressor().stream_reader(file.open("rb")).read(),
            capture_output=True,
        ).returncode
        == 0
    )


@pytest.mark.parametrize("what", ["content", "mode", "name", "one less", "one more", "cut off", "no archive"])
def test_what_was_changed_is_named_and_nothing_of_it_comes_back(archived, what):
    _, _, file = archived
    parts = members(file)
    name = next(n for n, (i, c) in parts.items() if "/item" in n and i.isreg() and c)
    info, content = parts[name]
    if what == "content":
        parts[name] = (info, content[:-1] + b"!")
    elif what == "mode":
        info.mode = 0o4755
    elif what == "name":
        info.name = name.partition("/")[0] + "/../../../etc/evil"
    elif what == "one less":
        del parts[name]
    elif what == "one more":
        parts["9999/item"] = (tarfile.TarInfo("9999/item"), b"evil")
    packed(file, parts)
    if what == "cut off":
        os.truncate(file, file.stat().st_size - 40)
    elif what == "no archive":
        file.write_bytes(os.urandom(4000))
    after = picture(archived[0].machine.root)
    for more in ((), ("--from-elsewhere",)):
        said = said_by("--root", archived[0].machine.folder, "restore", file, *more)
        assert said.returncode == 1 and "no whole archive" in said.stderr, said.stderr
    assert differences(after, picture(archived[0].machine.root)) == []


def test_one_that_another_carrier_made_is_taken_only_when_that_is_said(archived):
    _, before, file = archived
    parts = members(file)
    told = json.loads(parts["digests.json"][1])
    told["seal"] = hashlib.sha256(b"another key").hexdigest()
    parts["digests.json"] = (parts["digests.json"][0], json.dumps(told).encode())
    packed(file, parts)
    assert not checked(str(file)).sealed
    said = said_by("--root", archived[0].machine.folder, "restore", file)
    assert said.returncode == 2 and "does not carry this carrier’s seal" in said.stderr
    said = said_by("--root", archived[0].machine.folder, "restore", file, "--from-elsewhere")
    assert said.returncode == 0, said.stderr
    assert differences(before, picture(archived[0].machine.root), times=False) == []


def test_an_archive_of_another_machine_is_taken_only_when_that_is_said(archived, tmp_path):
    _, _, file = archived
    other = built(1).copy(tmp_path / "other")
    plain = json.loads((other.folder / "machine.json").read_text()) | {"key": "another machine"}
    (other.folder / "machine.json").write_text(json.dumps(plain))
    seal_anew(other.folder)
    job = Job(other)
    before = picture(other.root)
    job.carry(job.prepare(job.order(*GOING)))
    job.empty()
    said = said_by("--root", other.folder, "restore", file)
    assert said.returncode == 2 and "is of another computer" in said.stderr, said.stderr
    said = said_by("--root", other.folder, "restore", file, "--from-elsewhere")
    assert said.returncode == 0, said.stderr
    assert differences(before, picture(other.root), times=False) == []


def test_nothing_is_overwritten_on_the_medium_or_on_the_machine(archived, tmp_path):
    job, _, file = archived
    said_by("--root", archived[0].machine.folder, "restore", file)
    said = said_by("--root", archived[0].machine.folder, "restore", file)
    assert said.returncode == 1 and "something newer stands there" in said.stderr, said.stderr
    job.survey()
    job.carry(job.prepare(job.order("debian:willowvane")))
    said = said_by("--root", archived[0].machine.folder, "archive", file)
    assert said.returncode == 2 and "there already" in said.stderr
    assert [p.name for p in file.parent.iterdir()] == [file.name]


def test_a_medium_that_is_full_is_a_sentence_and_the_shelf_is_as_it_was(job, tmp_path):
    if os.geteuid() != 0:
        pytest.skip("a small volume is mounted")
    job.carry(job.prepare(job.order(*GOING)))
    waiting = [(s.number, s.waiting) for s in job.shop.shelves.waiting()]
    medium = tmp_path / "small"
    medium.mkdir()
    subprocess.run(["mount", "-t", "tmpfs", "-o", "size=8k", "small", medium], check=True)
    try:
        said = said_by("--root", job.machine.folder, "archive", medium / "x.tar.zst")
        assert said.returncode != 0 and "No space left" in said.stderr and "Traceback" not in said.stderr
        assert list(medium.iterdir()) == []
    finally:
        subprocess.run(["umount", medium], check=True)
    assert [(s.number, s.waiting) for s in job.shop.shelves.waiting()] == waiting


def test_a_header_without_end_is_refused_before_it_is_in_memory(tmp_path):
    huge = tarfile.TarInfo("././@PaxHeader")
    huge.type, huge.size = tarfile.XHDTYPE, 1 << 40
    file = tmp_path / "bomb.tar.zst"
    file.write_bytes(zstandard.ZstdCompressor().compress(huge.tobuf(format=tarfile.GNU_FORMAT)))
    with pytest.raises(CouldNotRead, match="larger than any path"):
        checked(str(file))


def test_what_is_called_like_a_part_of_it_is_somebodys_and_stays(job, tmp_path):
    job.carry(job.prepare(job.order(GOING[0])))
    for name in ("x.tar.zst.part", "x.tar.zst.probe"):
        (tmp_path / name).write_text("somebody’s")
    said = said_by("--root", job.machine.folder, "archive", tmp_path / "x.tar.zst")
    assert said.returncode == 0, said.stderr
    assert {p.name for p in tmp_path.glob("x*")} == {"x.tar.zst", "x.tar.zst.part", "x.tar.zst.probe"}
    assert (tmp_path / "x.tar.zst.part").read_text() == "somebody’s"


def test_nothing_to_archive_is_said(job, tmp_path):
    said = said_by("--root", job.machine.folder, "archive", tmp_path / "x.tar.zst")
    assert said.returncode == 2 and "nothing of this visit waits" in said.stderr


def test_a_medium_that_gives_something_else_the_second_time_brings_nothing_back(archived):
    job, _, file = archived
    parts = members(file)
    name = next(n for n, (i, c) in reversed(parts.items()) if "/item" in n and i.isreg() and c)
    info, content = parts[name]
    parts[name] = (info, content[:-1] + b"!")
    other = file.with_name("other")
    packed(other, parts)
    after = picture(archived[0].machine.root)

    def swap(event):
        if other.exists():
            other.replace(file)

    with pytest.raises(CouldNotRead, match="not what was checked a moment ago"):
        restore(job.shop.machine, str(file), tell=swap)
    assert differences(after, picture(archived[0].machine.root)) == [] and not job.shop.shelves.waiting()


def test_what_goes_is_archived_in_the_same_command_where_that_is_wanted(job, tmp_path):
    before, file, order = (
        picture(job.machine.root),
        tmp_path / "medium/shelf.tar.zst",
        tmp_path / "order.json",
    )
    words = ("--root", job.machine.folder)
    assert said_by(*words, "order", "debian:willowvane", "-o", order).returncode == 0
    for put, why in (
        (file, "is no folder"),
        (order, "is there already"),
        ("/proc/shelf.tar.zst", "free, and what goes is"),
    ):
        said = said_by(*words, "carry-out", order, "--archive", put)
        assert said.returncode == 2 and why in said.stderr, said.stderr
        assert differences(before, picture(job.machine.root)) == []
    file.parent.mkdir()
    said = said_by(*words, "carry-out", order, "--archive", file)
    assert said.returncode == 0 and "read again and compared" in said.stdout + said.stderr, said.stderr
    job.empty()
    assert said_by(*words, "restore", file).returncode == 0
    assert differences(before, picture(job.machine.root)) == []
