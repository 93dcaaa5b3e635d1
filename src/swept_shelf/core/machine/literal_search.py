"""Many literals in one text at once, by grep(1): at which byte each of them stands."""

from __future__ import annotations

import os
from collections.abc import Iterable, Iterator, Sequence
from io import BytesIO

from swept_shelf.core.machine.commands import run


def occurrences(
    literals: Iterable[bytes], place: str, fds: Sequence[int], timeout: float | None = None
) -> Iterator[tuple[int, bytes]]:
    """(byte, literal) in `place`, a path of this process behind one of `fds`; where several begin at one byte, the longest.

    Raises CouldNotRead where the search takes longer than `timeout` seconds."""
    names = os.memfd_create("names")
    try:
        write_all(names, b"".join(x + b"\n" for x in sorted(literals) if b"\n" not in x))
        words = ("-a", "-o", "-b", "-F", "-f", f"/proc/self/fd/{names}", place)
        said = run("grep", *words, fds=[names, *fds], timeout=timeout)
    finally:
        os.close(names)
    for line in BytesIO(said.out):
        digits, colon, literal = line.rstrip(b"\n").partition(b":")
        if colon and digits.isdigit():
            yield int(digits), literal


def write_all(fd: int, data: bytes) -> int:
    """Returns how many bytes they were."""
    view = memoryview(data)
    while view:
        view = view[os.write(fd, view) :]
    return len(data)
