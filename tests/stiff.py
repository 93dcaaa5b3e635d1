"""A package that its registry cannot remove its own way: stubborn by its scripts, or half installed."""

from __future__ import annotations

import re
from pathlib import Path

from debs import install
from helpers import MadeUp

ID = "debian:stiff"
STUBBORN = {"prerm": "#!/bin/sh\nexit 1\n", "postinst": '#!/bin/sh\n[ "$1" = configure ] || exit 1\n'}


def package(tmp_path: Path, machine: MadeUp, scripts: dict[str, str]) -> MadeUp:
    install(
        machine,
        tmp_path,
        "stiff",
        "1.0",
        {
            **{f"DEBIAN/{name}": text for name, text in scripts.items()},
            "usr/bin/stiff": "#!/bin/sh\n",
            "usr/share/stiff/plates": "p" * 30_000,
            "usr/share/stiff.d/more": "m",
            "etc/stiff.conf": "a=1\n",
            "DEBIAN/conffiles": "/etc/stiff.conf\n",
        },
    )
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
