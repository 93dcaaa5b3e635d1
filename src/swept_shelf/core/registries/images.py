"""Single small files out of a squashfs image, read where it lies and never mounted or run."""

from __future__ import annotations

import struct
from typing import BinaryIO

from swept_shelf.core.documents.errors import CouldNotRead

AT_MOST = 1 << 18


def image_behind(head: bytes) -> int:
    """Where an image begins behind an ELF program: past its section headers (System V ABI). `head`: its first 64 bytes."""
    order = "<" if head[5] == 1 else ">"
    if head[4] == 2:
        (at,) = struct.unpack_from(f"{order}Q", head, 40)
        size, count = struct.unpack_from(f"{order}HH", head, 58)
    else:
        (at,) = struct.unpack_from(f"{order}I", head, 32)
        size, count = struct.unpack_from(f"{order}HH", head, 46)
    return int(at) + int(size) * int(count)


def text_inside(handle: BinaryIO, offset: int, folder: str, ending: str, path: str) -> str:
    """The first file of the image's `folder` ("" for its top) whose name ends so; "" where there is none.

    Raises CouldNotRead naming `path`: an image may come from anywhere."""
    from PySquashfsImage import SquashFsImage

    try:
        with SquashFsImage(handle, offset=offset, closefd=False) as image:
            place = image.select(folder) if folder else image.root
            for item in place.iterdir() if place is not None and place.is_dir else ():
                if item.name.endswith(ending):
                    found = image.select(item.readlink()) or item if item.is_symlink else item
                    if found.is_file and found.size <= AT_MOST:
                        return str(found.read_bytes().decode("utf-8", "replace"))
    except Exception as error:  # whatever a library says of a damaged image
        raise CouldNotRead(
            f"the image inside could not be read ({type(error).__name__}: {str(error)[:80]})", path
        ) from None
    return ""
