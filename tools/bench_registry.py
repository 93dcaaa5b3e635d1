"""A made-up Debian registry for the benches: one desktop application a package, and people."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path


def write_registry(root: Path, names: list[str], people: int, program: Callable[[int, str], bytes]) -> None:
    """`program`: what the executable of each application holds, by its number and name."""
    for place in ("etc", "usr/bin", "usr/share/applications", "var/lib/dpkg/info", "var/log"):
        (root / place).mkdir(parents=True)
    status = ""
    for i, name in enumerate(names):
        (root / f"usr/bin/{name}").write_bytes(program(i, name))
        (root / f"usr/bin/{name}").chmod(0o755)
        (root / f"usr/share/applications/{name}.desktop").write_text(
            f"[Desktop Entry]\nType=Application\nName={name}\nExec={name}\n"
        )
        (root / f"var/lib/dpkg/info/{name}.list").write_text(
            f"/.\n/usr\n/usr/bin\n/usr/bin/{name}\n/usr/share\n/usr/share/applications\n/usr/share/applications/{name}.desktop\n"
        )
        status += (
            f"Package: {name}\nStatus: install ok installed\nPriority: optional\n"
            "Maintainer: B <b@bench.example>\nArchitecture: all\n"
            "Version: 1\nDescription: made up\n\n"
        )
    (root / "var/lib/dpkg/status").write_text(status)
    (root / "var/lib/dpkg/available").touch()
    (root / "etc/passwd").write_text(
        "".join(f"p{i}:x:{1001 + i}:{1001 + i}::/home/p{i}:/bin/sh\n" for i in range(people))
    )
