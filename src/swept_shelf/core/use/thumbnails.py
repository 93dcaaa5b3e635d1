"""Sign: thumbnails that name the program that made them, also those it failed to make (Thumbnail Managing Standard)."""

from __future__ import annotations

import re
import struct
import zlib

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.use.trace import FAIR, Look, Trace
from swept_shelf.core.use.unasked import THUMBNAILS

KIND = "thumbnails"
_SIZES = ("normal", "large", "x-large", "xx-large")
_SIGNATURE = b"\x89PNG\r\n\x1a\n"
_NEWEST = 400  # of one folder


def look(at: Look) -> None:
    for person in at.people:
        top = f"{person.home}/.cache/thumbnails"
        folders = [f"{top}/{n}" for n in _SIZES if f"{top}/{n}" in at.tree]
        failed = at.tree.children(f"{top}/fail") if f"{top}/fail" in at.tree else []
        for folder in (*folders, *failed):
            pictures = sorted(
                (p for p in at.tree.children(folder) if p.endswith(".png")),
                key=lambda p: -at.tree.mtime[at.tree.where[p]],
            )
            named = re.sub(r"-[\d.]+$", "", folder.rsplit("/", 1)[1]) if folder in failed else ""
            for path in pictures[:_NEWEST]:
                at.saw(KIND)
                try:
                    maker = named or software(at.machine.read_bytes(path, 1 << 16))
                except CouldNotRead as error:
                    at.trouble(path, error.reason)
                    continue
                id = at.command(maker) or at.launched(maker) if maker else ""
                if id:
                    when = int(at.tree.mtime[at.tree.where[path]]) // 1_000_000_000
                    aside = at.timely(when) or (THUMBNAILS if THUMBNAILS in at.unasked[id].values() else "")
                    at.traces.append(
                        Trace(
                            id,
                            KIND,
                            when,
                            person.name,
                            path,
                            FAIR,
                            None,
                            0,
                            "a look into a folder makes thumbnails too",
                            aside,
                            maker,
                        )
                    )


def software(data: bytes) -> str:
    """The Software text of a PNG; "" where there is none or it is broken."""
    if not data.startswith(_SIGNATURE):
        return ""
    at = len(_SIGNATURE)
    while at + 8 <= len(data):
        (length,), kind = struct.unpack(">I", data[at : at + 4]), data[at + 4 : at + 8]
        body = data[at + 8 : at + 8 + length]
        if kind == b"tEXt" and body.startswith(b"Software\0"):
            return body[9:].decode("latin-1")
        if kind == b"zTXt" and body.startswith(b"Software\0"):
            try:
                return zlib.decompress(body[10:]).decode("latin-1")
            except zlib.error:
                return ""
        if kind == b"IDAT":
            return ""
        at += 12 + length
    return ""
