"""Small files that were read already and in which no word stands without which they can name nobody: one search over them all."""

from __future__ import annotations

import os
import string
from collections.abc import Iterable, Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.commands import run

WRITTEN_OTHERWISE = ("%", "\\", "&#")  # what may stand for a word: only who reads the file knows
_OTHERWISE = tuple(sign.encode() for sign in WRITTEN_OTHERWISE)
_PLAIN = bytes.maketrans(string.ascii_uppercase.encode() + b"_", string.ascii_lowercase.encode() + b" ")


def naming_nobody(files: Mapping[str, bytes], words: Iterable[str]) -> set[str]:
    """Paths of those in which, as in the path itself, none of the words is found, in small or large letters; of files with other
    letters than ASCII's, or zeros, nothing is said."""
    sought = [w for w in words if w and w.isascii()]
    paths = [p for p, data in files.items() if p.isascii() and _is_plain(data)]
    if not sought or not paths:
        return set()
    found = _with_any(sought, (p.encode() + b"\n" + files[p] for p in paths))
    return set() if found is None else set(paths).difference(paths[number] for number in found)


def _is_plain(data: bytes) -> bool:
    if not data.isascii() or b"\0" in data:
        return False
    percent, backslash, number = _OTHERWISE  # asked of every file, and so without a loop
    return percent not in data and backslash not in data and number not in data


def _with_any(words: Iterable[str], texts: Iterable[bytes]) -> list[int] | None:
    """Numbers of the texts with any of the words, by grep(1): each text is one line of it, for a line ends with a zero here. None
    where that could not be found out."""
    with (
        os.fdopen(os.memfd_create("words"), "wb") as sought,
        os.fdopen(os.memfd_create("texts"), "wb") as searched,
    ):
        sought.write("".join(f"{w}\n" for w in words).encode())
        searched.writelines(text.translate(_PLAIN) + b"\0" for text in texts)
        sought.flush()
        searched.flush()
        fds = [sought.fileno(), searched.fileno()]
        names, place = (f"/proc/self/fd/{fd}" for fd in fds)
        try:
            said = run("grep", "-z", "-a", "-n", "-w", "-F", "-f", names, place, fds=fds)
        except CouldNotRead:
            return None
    if said.status > 1:
        return None
    return [int(line.partition(b":")[0]) - 1 for line in said.out.split(b"\0")[:-1]]
