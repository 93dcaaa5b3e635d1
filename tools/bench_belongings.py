"""A machine for the bench: 150 applications with programs of two megabytes, five homes with 400,000 files."""

from __future__ import annotations

import os
import random
from pathlib import Path

APPLICATIONS, PEOPLE = 150, 5


def build(root: Path, files: int) -> None:
    chance = random.Random(5)
    names = [f"quill{chance.getrandbits(20):05x}{i:03}" for i in range(APPLICATIONS)]
    status = ""
    for place in ("etc", "usr/bin", "usr/share/applications", "var/lib/dpkg/info", "var/log"):
        (root / place).mkdir(parents=True)
    block = chance.randbytes(1 << 21)
    for i, name in enumerate(names):
        literal = f"Vendor{i:03}" if i % 3 == 0 else f".config/{name}"
        (root / f"usr/bin/{name}").write_bytes(b"\x7fELF\0" + literal.encode() + b"\0" + block)
        (root / f"usr/bin/{name}").chmod(0o755)
        (root / f"usr/share/applications/{name}.desktop").write_text(f"[Desktop Entry]\nType=Application\nName={name}\nExec={name}\n")
        (root / f"var/lib/dpkg/info/{name}.list").write_text(f"/.\n/usr\n/usr/bin\n/usr/bin/{name}\n/usr/share\n/usr/share/applications\n/usr/share/applications/{name}.desktop\n")
        status += f"Package: {name}\nStatus: install ok installed\nPriority: optional\nMaintainer: B <b@bench.example>\nArchitecture: all\nVersion: 1\nDescription: made up\n\n"
    (root / "var/lib/dpkg/status").write_text(status)
    (root / "var/lib/dpkg/available").touch()
    (root / "etc/passwd").write_text("".join(f"p{i}:x:{1001 + i}:{1001 + i}::/home/p{i}:/bin/sh\n" for i in range(PEOPLE)))
    each = files // PEOPLE // APPLICATIONS
    for person in range(PEOPLE):
        for i, name in enumerate(names):
            top = root / f"home/p{person}" / (f".config/Vendor{i:03}" if i % 3 == 0 else f".local/share/{name}")
            for part in range(1 + each // 100):
                inner = top / f"part{part}"
                inner.mkdir(parents=True)
                for j in range(min(100, each - part * 100)):
                    (inner / f"f{j}").touch()
            (top / f"{name}.conf").write_text("x=1\n")
            os.utime(top)
