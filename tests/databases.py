"""Databases of the system, made byte by byte."""

from __future__ import annotations

import struct
from collections.abc import Iterable, Mapping


def gvdb(keys: Iterable[str], values: Mapping[str, bytes] | None = None) -> bytes:
    """A dconf database as dconf-service(1) writes it: every folder and value an entry of its own, values as strings."""
    keys = [*keys, *(values or {})]
    names = sorted({k[: i + 1] for k in keys for i, c in enumerate(k) if c == "/"} | set(keys))
    rows, text = [], b""
    items = 8 + 4 + 24 * len(names)
    for name in names:
        parent = max(
            (p for p in names if p != name and name.startswith(p) and p.endswith("/")), key=len, default=""
        )
        own, value = name[len(parent) :].encode(), (values or {}).get(name, b"")
        rows.append(
            struct.pack(
                "<IIIHcxII",
                0,
                names.index(parent) if parent else 0xFFFFFFFF,
                24 + items + len(text),
                len(own),
                b"L" if name.endswith("/") else b"v",
                24 + items + len(text) + len(own),
                24 + items + len(text) + len(own) + len(value),
            )
        )
        text += own + value
    return (
        b"GVariant"
        + struct.pack("<IIII", 0, 0, 24, 24 + items)
        + struct.pack("<III", 0, 1, 0)
        + b"".join(rows)
        + text
    )
