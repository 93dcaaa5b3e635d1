"""A package that its registry cannot remove its own way: stubborn by its scripts, or half installed."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

from helpers import MadeUp

ID = "debian:stiff"
STUBBORN = {"prerm": "#!/bin/sh\nexit 1\n", "postinst": '#!/bin/sh\n[ "$1" = configure ] || exit 1\n'}


def package(tmp_path: Path, machine: MadeUp, scripts: dict[str, str]) -> MadeUp:
    top = tmp_path / "stiff"
    for path, text in {
        "DEBIAN/control": "Package: stiff\nVersion: 1.0\nArchitecture: all\nMaintainer: T <t@test.example>\nDescription: x\n",
        **{f"DEBIAN/{name}": text for name, text in scripts.items()},
        "usr/bin/stiff": "#!/bin/sh\n",
        "usr/share/stiff/plates": "p" * 30_000,
        "usr/share/stiff.d/more": "m",
        "etc/stiff.conf": "a=1\n",
        "DEBIAN/conffiles": "/etc/stiff.conf\n",
    }.items():
        place = top / path
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text(text)
        place.chmod(0o755 if text.startswith("#!") else 0o644)
    deb = tmp_path / "stiff.deb"
    subprocess.run(["dpkg-deb", "--root-owner-group", "-b", top, deb], check=True, capture_output=True)
    dpkg = [
        "dpkg",
        f"--root={machine.root}",
        "--force-script-chrootless",
        f"--log={machine.root}/var/log/dpkg.log",
    ]
    subprocess.run([*dpkg, "-i", deb], check=True, capture_output=True)
    return machine


def half_installed(tmp_path: Path, machine: MadeUp) -> MadeUp:
    """Cut off while it was unpacked: half installed, files missing, to be installed anew before anything (dpkg's reinstreq)."""
    package(tmp_path, machine, {})
    status = machine.root / "var/lib/dpkg/status"
    told = re.sub(
        r"(Package: stiff\nStatus: install )ok installed", r"\1reinstreq half-installed", status.read_text()
    )
    assert "reinstreq" in told
    status.write_text(told)
    (machine.root / "usr/share/stiff.d/more").unlink()
    return machine
