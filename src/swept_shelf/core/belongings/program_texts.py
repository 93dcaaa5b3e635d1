"""Many names at once in the files of programs: in what of them can hold a text, in archives' members, whole, as UTF-8 or UTF-16.

Small files are searched many together, as copies of their texts; large ones where they lie, within a time."""

from __future__ import annotations

import mmap
import os
import stat
import time
import zipfile
import zlib
from bisect import bisect_right
from collections.abc import Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.literal_search import occurrences, write_all
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.program_parts import text_parts
from swept_shelf.core.tree.walk import Tree

_LARGEST = 64 << 20  # bytes of one file that is copied; a larger one is searched where it lies
_MOST = 16 << 30  # bytes of one that is
_BUDGET = 30.0  # seconds for all of those
_MOST_NAMES = 100_000  # members of one archive whose names are looked at
_CHUNK = 8 << 20  # bytes that one search reads
_ARCHIVES = (".jar", ".zip", ".whl", ".egg", ".apk", ".pyz")
_MEMBERS = (".class", ".properties", ".xml", ".py", ".pyc", ".js", ".json", ".txt", ".MF")
_EDGES = frozenset(b"\0/\"'`.:;,=()[]<>|\n\t \\$@%*")  # what may stand beside a whole name


@dataclass(slots=True)
class Searched:
    """`not_read`: files that were not read, and why; `read`: bytes of small files that were searched."""

    not_read: list[tuple[str, str]] = field(default_factory=list)
    read: int = 0


def search(
    machine: Machine, tree: Tree, paths: list[str], names: list[str], found: Searched
) -> Iterator[tuple[str, str]]:
    """(file, name) for every name that stands whole in a file: many files in one search by grep(1), two at a time."""
    spelled: dict[bytes, str] = {}
    for name in names:
        plain = name.encode("utf-8", "surrogateescape")
        spelled[plain] = name
        wide = name.encode("utf-16-le", "surrogatepass")
        spelled[wide[:-1] if wide.endswith(b"\0") else wide] = (
            name  # the last zero byte is also the end of the text
        )
    large = sorted(
        (p for p in paths if _size(tree, p) > _LARGEST and not p.endswith(_ARCHIVES)),
        key=lambda p: _size(tree, p),
    )
    searched_there = set(large)
    small = [p for p in paths if p not in searched_there]
    with ThreadPoolExecutor(2) as pool:
        for rows in pool.map(lambda part: _chunk(machine, part, spelled, found), _chunks(tree, small)):
            yield from rows
        until = time.monotonic() + _BUDGET
        for rows in pool.map(lambda path: _large(machine, path, spelled, found, until), large):
            yield from rows


def _size(tree: Tree, path: str) -> int:
    entry = tree.entry(path)
    return entry.identity.size if entry else 0


def _large(
    machine: Machine, path: str, spelled: dict[bytes, str], found: Searched, until: float
) -> list[tuple[str, str]]:
    """The same in a large file, as it lies there: grep is handed it, and each place that it names is read again."""
    left = until - time.monotonic()
    try:
        if left <= 0:
            raise CouldNotRead(
                f"is larger than {_LARGEST >> 20} MiB, and the {_BUDGET:.0f} s for such files were over"
            )
        with machine.handed_file(path, _MOST) as (place, fd):
            size = os.fstat(fd).st_size
            if sum(length + 1 for _, length in text_parts(fd, size)) <= _LARGEST:
                return [(path, name) for name in _in_its_texts(fd, size, spelled, left)]
            hits = occurrences(spelled, place, [fd], left)
            return [(path, name) for _, name in _whole_names(hits, _Read(fd), [0], spelled)]
    except (CouldNotRead, OSError) as error:
        found.not_read.append(
            (path, error.reason if isinstance(error, CouldNotRead) else str(error.strerror))
        )
        return []


def _in_its_texts(fd: int, size: int, spelled: dict[bytes, str], seconds: float) -> set[str]:
    """The names in a large program most of which is no text: what is goes where small files go."""
    texts = os.memfd_create("texts")
    try:
        if not (total := _append(texts, fd, size)):
            return set()
        found_at = occurrences(spelled, f"/proc/self/fd/{texts}", [texts], seconds)
        with mmap.mmap(texts, total, access=mmap.ACCESS_READ) as whole:
            return {name for _, name in _whole_names(found_at, whole, [0], spelled)}
    finally:
        os.close(texts)


class _Read:
    """Single bytes of an open file, which may be written to meanwhile: what is not there any more is no byte."""

    def __init__(self, fd: int) -> None:
        self._fd = fd

    def __len__(self) -> int:
        return os.fstat(self._fd).st_size

    def __getitem__(self, at: int) -> int:
        byte = os.pread(self._fd, 1, at)
        return byte[0] if byte else 0


def _chunks(tree: Tree, paths: list[str]) -> Iterator[list[str]]:
    part: list[str] = []
    size = 0
    for path in paths:
        entry = tree.entry(path)
        size += entry.identity.size if entry else 0
        part.append(path)
        if size > _CHUNK:
            yield part
            part, size = [], 0
    if part:
        yield part


def _chunk(
    machine: Machine, paths: list[str], spelled: dict[bytes, str], found: Searched
) -> list[tuple[str, str]]:
    """One search: the files stand one after the other in a nameless file, and grep says at which byte each name stands."""
    starts: list[int] = []
    read: list[str] = []
    texts = os.memfd_create("texts")
    try:
        total = 0
        for path in paths:
            try:
                size = (
                    _members(machine, path, texts)
                    if path.endswith(_ARCHIVES)
                    else _copy(machine, path, texts)
                )
            except CouldNotRead as error:
                found.not_read.append((path, error.reason))
                os.ftruncate(texts, total)
                os.lseek(texts, total, os.SEEK_SET)
                continue
            starts.append(total)
            read.append(path)
            total += size + write_all(texts, b"\n\0")
        found.read += total
        if not total:
            return []
        found_at = occurrences(spelled, f"/proc/self/fd/{texts}", [texts])
        with mmap.mmap(texts, total, access=mmap.ACCESS_READ) as whole:
            hits = _whole_names(found_at, whole, starts, spelled)
    finally:
        os.close(texts)
    return [(read[i], name) for i, name in sorted(hits)]


def _whole_names(
    found_at: Iterable[tuple[int, bytes]],
    text: mmap.mmap | _Read,
    starts: list[int],
    spelled: dict[bytes, str],
) -> set[tuple[int, str]]:
    """(number of the file, name) of what grep found, where it stands whole."""
    hits: set[tuple[int, str]] = set()
    for at, match in found_at:
        name = spelled.get(match)
        if name is None:
            continue
        step = 2 if match != name.encode("utf-8", "surrogateescape") else 1
        end = at + len(match) + (step - 1)
        framed = (
            step == 2 and at > 0 and text[at - 1] == len(match) + 2
        )  # behind its length (ECMA-335, II.24.2.4)
        if framed or ((at < step or text[at - step] in _EDGES) and (end >= len(text) or text[end] in _EDGES)):
            hits.add((bisect_right(starts, at) - 1, name))
    return hits


def _copy(machine: Machine, path: str, to: int) -> int:
    """Append a file's bytes without holding them; returns how many. Raises CouldNotRead."""
    try:
        fd = machine.open(path)
        try:
            status = os.fstat(fd)
            return _append(to, fd, status.st_size) if stat.S_ISREG(status.st_mode) else 0
        finally:
            os.close(fd)
    except OSError as error:
        raise CouldNotRead(error.strerror.lower() if error.strerror else str(error), path) from None


def _append(to: int, fd: int, size: int) -> int:
    """Append what can hold a text of an open file of this size, part by part with a zero byte between them; returns how many bytes,
    never more than a small file has."""
    done = 0
    for offset, length in text_parts(fd, size):
        done += write_all(to, b"\0") if done else 0
        until = offset + min(length, _LARGEST - done)
        while offset < until and (count := os.sendfile(to, fd, offset, min(until - offset, 1 << 22))):
            done += count
            offset += count
    return done


def _members(machine: Machine, path: str, to: int) -> int:
    """Append the members of an archive that can name a place, one after the other; returns how many bytes. Raises CouldNotRead."""
    done = 0
    try:
        with os.fdopen(machine.open(path), "rb") as file, zipfile.ZipFile(file) as archive:
            names = "\n".join(m.filename for m in archive.infolist()[:_MOST_NAMES])
            done += write_all(to, names.encode("utf-8", "surrogateescape") + b"\n\0")
            members = [
                m for m in archive.infolist() if m.filename.endswith(_MEMBERS) and m.file_size < _LARGEST // 8
            ]
            for member in members[:2000]:
                done += write_all(to, archive.read(member) + b"\0") if done < _LARGEST else 0
    except (
        zipfile.BadZipFile,
        OSError,
        ValueError,
        RuntimeError,
        NotImplementedError,
        EOFError,
        zlib.error,
    ) as error:
        raise CouldNotRead(f"is no whole archive: {error}", path) from None
    return done
