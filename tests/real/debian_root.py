"""Fresh Debian roots with packages from the registry; their scripts run inside them."""

from __future__ import annotations

import contextlib
import os
import shutil
import subprocess
import tempfile
from collections.abc import Iterable, Iterator
from pathlib import Path

SERVICED = ("cron", "python3", "systemd-sysv", "dbus-user-session")


def sh(script: str, **more) -> str:
    done = subprocess.run(["sh", "-ec", script], capture_output=True, text=True, **more)
    assert done.returncode == 0, done.stdout[-2000:] + done.stderr[-2000:]
    return done.stdout


def make_root(root: Path, packages: Iterable[str], ready: str, recommends: bool = False) -> None:
    """A debootstrapped root with these packages; nothing in it may start a service. `ready`: the variable that may name a
    root made earlier, which is copied instead and saves its minutes."""
    made = os.environ.get(ready)
    sh(f"cp -a {made} {root}" if made else f"debootstrap --variant=minbase bookworm {root} >/dev/null")
    (root / "usr/sbin/policy-rc.d").write_text("#!/bin/sh\nexit 101\n")
    (root / "usr/sbin/policy-rc.d").chmod(0o755)
    shutil.copy("/etc/resolv.conf", root / "etc/resolv.conf")
    for place in ("/etc/apt/sources.list.d", "/etc/apt/apt.conf.d", "/usr/share/keyrings"):
        sh(f"cp -aL {place}/. {root}{place}/ 2>/dev/null || true")
    how = "" if recommends else "--no-install-recommends "
    install = f"DEBIAN_FRONTEND=noninteractive apt-get install -y -qq {how}{' '.join(packages)}"
    sh(f"chroot {root} sh -ec 'apt-get update -qq; {install}' >/dev/null 2>&1; chroot {root} apt-get clean")


@contextlib.contextmanager
def on_a_disk_of_its_own(name: str, size: str) -> Iterator[Path]:
    """An empty folder whose free space is nobody else's. Not where old test folders are deleted: things are mounted in it."""
    top = Path(tempfile.mkdtemp(prefix=name))
    sh(f"mount -t tmpfs -o size={size},mode=755 tmpfs {top}")
    try:
        yield top
    finally:
        subprocess.run(["umount", "-R", "-l", str(top)])
        top.rmdir()
