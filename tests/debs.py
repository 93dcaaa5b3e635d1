"""Packages made for one test, built by dpkg-deb and installed into a made-up machine as its own would be."""

from __future__ import annotations

import subprocess
from pathlib import Path

from helpers import MadeUp
from registries import write


def install(machine: MadeUp, top: Path, name: str, version: str, files: dict[str, str]) -> None:
    """`files`: by path, DEBIAN/... among them; what begins like a script may be run. Built in `top`."""
    head = f"Package: {name}\nVersion: {version}\nArchitecture: all\nMaintainer: T <t@test.example>\nDescription: x\n"
    for path, text in {"DEBIAN/control": head, **files}.items():
        write(top / name, path, text).chmod(0o755 if text.startswith("#!") else 0o644)
    deb = top / f"{name}.deb"
    subprocess.run(["dpkg-deb", "--root-owner-group", "-b", top / name, deb], check=True, capture_output=True)
    log = f"--log={machine.root}/var/log/dpkg.log"
    dpkg = ["dpkg", f"--root={machine.root}", "--force-script-chrootless", log, "-i", deb]
    subprocess.run(dpkg, check=True, capture_output=True)
