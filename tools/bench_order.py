"""A machine for the bench of orders: 70 applications that go with 500 packages, and 800 that stay."""

from __future__ import annotations

from pathlib import Path

from swept_shelf.core.machine.description import write_description

APPLICATIONS, OWN, SHARED, STAYING, FILES = 70, 4, 150, 800, 60


def build(folder: Path) -> None:
    root = folder / "root"
    for place in (
        "etc",
        "usr/bin",
        "usr/share/applications",
        "var/lib/dpkg/info",
        "var/lib/dpkg/updates",
        "var/log",
        "var/lib/apt",
    ):
        (root / place).mkdir(parents=True)
    status, automatic = [], []
    for i in range(APPLICATIONS):
        own = [f"app{i:02}-part{j}" for j in range(OWN)]
        shared = [f"lib-shared{(i * 7 + j) % SHARED:03}" for j in range(12)]
        status.append(_package(root, f"app{i:02}", [*own, *shared], program=True))
        status += [_package(root, name, []) for name in own]
        automatic += own
    libraries = [f"lib-shared{i:03}" for i in range(SHARED)]
    status += [_package(root, name, []) for name in libraries]
    status += [_package(root, f"stays{i:03}", [f"stays{i - 1:03}"] if i % 5 else []) for i in range(STAYING)]
    (root / "var/lib/dpkg/status").write_text("".join(status))
    (root / "var/lib/dpkg/available").touch()
    marks = "".join(
        f"Package: {n}\nArchitecture: all\nAuto-Installed: 1\n\n" for n in [*automatic, *libraries]
    )
    (root / "var/lib/apt/extended_states").write_text(marks)
    (root / "etc/passwd").write_text("root:x:0:0::/root:/bin/sh\n")
    volume = {"id": "v", "mount": "/", "file_system": "ext4", "capacity": 10**13, "base": 0}
    told = {
        "name": "Bench",
        "key": "bench",
        "clock": None,
        "ledger": "ledger/ledger.sqlite",
        "volumes": [volume],
        "chrootless": True,
    }
    write_description(folder, {"format": "swept-shelf/machine", "version": 1, **told})


def _package(root: Path, name: str, needs: list[str], program: bool = False) -> str:
    place = root / "usr/share" / name
    place.mkdir()
    listed = ["/.", "/usr", "/usr/share", f"/usr/share/{name}"]
    for i in range(FILES):
        (place / f"f{i}").write_text("x")
        listed.append(f"/usr/share/{name}/f{i}")
    if program:
        (root / f"usr/bin/{name}").write_text("#!/bin/sh\n")
        (root / f"usr/bin/{name}").chmod(0o755)
        launcher = f"/usr/share/applications/{name}.desktop"
        (root / launcher[1:]).write_text(f"[Desktop Entry]\nType=Application\nName={name}\nExec={name}\n")
        listed += ["/usr/bin", f"/usr/bin/{name}", "/usr/share/applications", launcher]
    (root / f"var/lib/dpkg/info/{name}.list").write_text("\n".join(listed) + "\n")
    depends = f"Depends: {', '.join(needs)}\n" if needs else ""
    return (
        f"Package: {name}\nStatus: install ok installed\nPriority: optional\nMaintainer: B <b@bench.example>\n"
        f"Architecture: all\nVersion: 1\n{depends}Description: made up\n\n"
    )
