"""A machine for the bench: 150 applications with programs of two megabytes, five homes with 400,000 files."""

from __future__ import annotations

import os
import random
from pathlib import Path

from bench_registry import write_registry

APPLICATIONS, PEOPLE = 150, 5


def build(root: Path, files: int) -> None:
    chance = random.Random(5)
    names = [f"quill{chance.getrandbits(20):05x}{i:03}" for i in range(APPLICATIONS)]
    block = chance.randbytes(1 << 21)

    def program(i: int, name: str) -> bytes:
        literal = f"Vendor{i:03}" if i % 3 == 0 else f".config/{name}"
        return b"\x7fELF\0" + literal.encode() + b"\0" + block

    write_registry(root, names, PEOPLE, program)
    each = files // PEOPLE // APPLICATIONS
    for person in range(PEOPLE):
        for i, name in enumerate(names):
            top = (
                root / f"home/p{person}" / (f".config/Vendor{i:03}" if i % 3 == 0 else f".local/share/{name}")
            )
            for part in range(1 + each // 100):
                inner = top / f"part{part}"
                inner.mkdir(parents=True)
                for j in range(min(100, each - part * 100)):
                    (inner / f"f{j}").touch()
            (top / f"{name}.conf").write_text("x=1\n")
            os.utime(top)
