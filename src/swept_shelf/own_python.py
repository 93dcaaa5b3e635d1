"""How every Python process of ours is started: nothing of the folder one stands in, nor of the environment, is on its path."""

from __future__ import annotations

import site
import sys
from pathlib import Path

FOLDER = "/"  # where processes of ours work: never in a folder of the machine


def own_python(module: str, *arguments: str) -> list[str]:
    """The command line for `python -m MODULE ARGUMENTS`, isolated (-I); where this program itself is installed for one person
    alone, that person's packages stay on the path (-E -P)."""
    here = Path(__file__).resolve()
    for_one = bool(site.ENABLE_USER_SITE) and here.is_relative_to(Path(site.getusersitepackages()).resolve())
    return [sys.executable, *(("-E", "-P") if for_one else ("-I",)), "-X", "utf8", "-m", module, *arguments]
