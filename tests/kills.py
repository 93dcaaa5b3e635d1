"""Kills a carrier at the Nth call that changes anything, for real, by strace's injection.

strace counts per system call and process: for each call, N = 1, 2, ... until a run survives reaches every point,
also inside the dpkg that the carrier started."""

from __future__ import annotations

import json
import shutil
import subprocess
import time
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import psutil
import pytest

from helpers import forked, seal_anew
from swept_shelf.worker.__main__ import main as worker_main

CALLS = (
    "renameat2",
    "rename",
    "renameat",
    "mkdir",
    "mkdirat",
    "unlink",
    "unlinkat",
    "rmdir",
    "write",
    "fsync",
    "utimensat",
    "ftruncate",
    "fchmod",
    "chmod",
    "fchmodat",
    "link",
    "symlink",
    "pwrite64",
)
# How many points each call had in the small order of the bench when the whole sweep last counted them (rows of tables came into
# it later): what samples are drawn from.
POINTS = {
    "carry_out": {
        "renameat2": 30,
        "rename": 20,
        "renameat": 57,
        "mkdir": 5,
        "mkdirat": 55,
        "unlink": 23,
        "unlinkat": 29,
        "rmdir": 54,
        "write": 218,
        "fsync": 271,
        "fchmod": 6,
        "link": 1,
    },
    "put_back": {
        "renameat2": 25,
        "rename": 67,
        "renameat": 27,
        "mkdir": 8,
        "unlink": 6,
        "unlinkat": 117,
        "write": 138,
        "fsync": 194,
        "fchmod": 17,
        "chmod": 9,
    },
    "empty": {"renameat2": 26, "unlink": 6, "unlinkat": 118, "write": 30, "fsync": 30},
}


def sampled(points: Sequence[Any], every: int) -> list[Any]:
    """Points for a parametrised test: each `every`th is always tried, the others in the sweep (`make test-kill`)."""
    return [
        pytest.param(
            *(p if isinstance(p, tuple) else (p,)), marks=() if i % every == 0 else pytest.mark.sweep
        )
        for i, p in enumerate(points)
    ]


@dataclass(frozen=True)
class Cut:
    """How a run under injection ended: `died` by signal, or the answer it gave; `whole`: as if nothing had been."""

    died: bool
    last: dict[str, Any]

    @property
    def whole(self) -> bool:
        return self.last.get("event") == "result" and not self.last.get("left")


def strace(call: str, what: str) -> list[str]:
    """strace(1) with a fault injected into one system call; `what`: signal=, error=, when=."""
    words = ["strace", "-f", "-qqq", "-o", "/dev/null", "-e", f"trace={call}"]
    return [*words, "-e", f"inject={call}:{what}"]


def under_injection(request: dict[str, Any], call: str, nth: int, what: str = "signal=SIGKILL") -> Cut:
    given = json.dumps(request).encode() + b"\n"
    _, out, _ = forked(worker_main, given, tracer=strace(call, f"{what}:when={nth}"))
    lines = [json.loads(x) for x in out.split(b"\n") if x.startswith(b"{")]
    last = lines[-1] if lines else {}
    return Cut(last.get("event") not in ("result", "failed"), last)


def wait_for_orphans(root: Path) -> None:
    """Until no dpkg of a killed carrier works on this root any more."""
    for _ in range(400):
        lines = [p.info["cmdline"] or [] for p in psutil.process_iter(["cmdline"])]
        if not any(line[:1] == ["dpkg"] and f"--root={root}" in line for line in lines):
            return
        time.sleep(0.02)


def fresh(source: Path, to: Path) -> Path:
    if to.exists():
        shutil.rmtree(to)
    subprocess.run(["cp", "-a", str(source), str(to)], check=True)
    seal_anew(to)
    return to
