"""Small files that were read already and in which no word stands without which they can name nobody: one search over them all."""

from __future__ import annotations

import os
import string
import weakref
from collections.abc import Iterable, Mapping
from itertools import islice
from typing import BinaryIO

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import run

WRITTEN_OTHERWISE = ("%", "\\", "&#")  # what may stand for a word: only who reads the file knows
_OTHERWISE = tuple(sign.encode() for sign in WRITTEN_OTHERWISE)
_PLAIN = bytes.maketrans(string.ascii_uppercase.encode() + b"_", string.ascii_lowercase.encode() + b" ")


class Sieve:
    """Of `files`, to which others may come, what is searched is written down once, however often and for whatever it is searched.
    A process that was made from this one goes on with what was written down until then."""

    def __init__(self, files: Mapping[str, bytes]) -> None:
        self._files = files
        self._seen = 0  # of the files
        self._paths: list[str] = []  # of what is searched, in the order in which it is written down
        self._size, self._texts, self._process = 0, _nameless("texts"), os.getpid()
        weakref.finalize(self, self._texts.close)

    def _part_from_others(self) -> None:
        """Another process writes to the same nameless file: go on with a copy."""
        if os.getpid() == self._process:
            return
        mine, done = _nameless("texts"), 0
        while done < self._size:
            done += os.sendfile(mine.fileno(), self._texts.fileno(), done, self._size - done)
        self._texts, self._process = mine, os.getpid()
        weakref.finalize(self, mine.close)

    def naming_nobody(self, words: Iterable[str]) -> set[str]:
        """Paths of those in which, as in the path itself, none of the words is found, in small or large letters; of files with other
        letters than ASCII's, or zeros, nothing is said."""
        sought = [w for w in words if w and w.isascii()]
        self._part_from_others()
        for path, data in islice(self._files.items(), self._seen, None):
            self._seen += 1
            if path.isascii() and _is_plain(data):
                self._paths.append(path)
                self._size += self._texts.write((path.encode() + b"\n" + data).translate(_PLAIN) + b"\0")
        self._texts.flush()
        if not sought or not self._paths:
            return set()
        found = self._with_any(sought)
        return (
            set() if found is None else set(self._paths).difference(self._paths[number] for number in found)
        )

    def _with_any(self, words: Iterable[str]) -> list[int] | None:
        """Numbers of the texts with any of the words, by grep(1): each text is one line of it, for a line ends with a zero here. None
        where that could not be found out."""
        with _nameless("words") as sought:
            sought.write("".join(f"{w}\n" for w in words).encode())
            sought.flush()
            fds = [sought.fileno(), self._texts.fileno()]
            names, place = (f"/proc/self/fd/{fd}" for fd in fds)
            try:
                said = run("grep", "-z", "-a", "-n", "-w", "-F", "-f", names, place, fds=fds)
            except CouldNotRead:
                return None
        if said.status > 1:
            return None
        return [int(line.partition(b":")[0]) - 1 for line in said.out.split(b"\0")[:-1]]


def _nameless(name: str) -> BinaryIO:
    return os.fdopen(os.memfd_create(name), "wb")


def _is_plain(data: bytes) -> bool:
    if not data.isascii() or b"\0" in data:
        return False
    percent, backslash, number = _OTHERWISE  # asked of every file, and so without a loop
    return percent not in data and backslash not in data and number not in data
