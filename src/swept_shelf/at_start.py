"""What could not go now and waits for a restart: a unit that finishes it once, when the computer starts, before anybody logs in."""

from __future__ import annotations

import os
import re
import shutil
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.own_python import own_python
from swept_shelf.units import quoted, ran, said

UNIT = "swept-shelf-finish.service"
_WANTED = "multi-user.target.wants"
_SERVICE = re.compile(r"[\w:.\\@-]+\.service")
_AT_MOST = "15min"  # people wait for it: what is cut off then can be finished by hand


@dataclass(frozen=True)
class AtStart:
    """`units`: where units of this computer's administrator stand; `systemctl`: by which they are turned on; `booted`: there where
    systemd manages this computer (sd_booted(3))."""

    units: Path = Path("/etc/systemd/system")
    systemctl: tuple[str, ...] = ("systemctl",)
    booted: Path = Path("/run/systemd/system")

    @property
    def planned(self) -> bool:
        return (self.units / _WANTED / UNIT).is_symlink()

    def why_not(self, live: bool) -> str:
        """Why nothing can be planned; "" where it can. `live`: whether the machine is this computer's own root."""
        if not live:
            return "this is not the computer's own root: nothing of it starts"
        if not self.booted.is_dir() or shutil.which(self.systemctl[0]) is None:
            return "systemd does not manage this computer"
        return "" if os.geteuid() == 0 else "needs the administrator: start this program with sudo"

    def plan(self, run: Path, ledger: Path, visit: str, services: Iterable[str] = ()) -> None:
        """Finish the run in the folder `run`, of the ledger's `visit`, at the next start, once, and before its applications'
        `services` run again. Raises Refused; nothing is left of the try."""
        before = ["systemd-user-sessions.service", *sorted(s for s in set(services) if self._may_wait(s))]
        words = own_python("swept_shelf", "--ledger", str(ledger), "at-start", "--now", visit)
        text = (
            "[Unit]\nDescription=Swept Shelf: what could not go while the computer was in use\n"
            f"ConditionPathExists={str(run).replace('%', '%%')}\n"
            f"After=local-fs.target dbus.service\nBefore={' '.join(before)}\n\n"
            f"[Service]\nType=oneshot\nEnvironment={quoted(f'HOME={Path.home()}')}\n"
            f"ExecStart={' '.join(map(quoted, words))}\nTimeoutStartSec={_AT_MOST}\nSuccessExitStatus=1\n\n"
            "[Install]\nWantedBy=multi-user.target\n"
        )
        try:
            self.units.mkdir(parents=True, exist_ok=True)
            (self.units / UNIT).write_text(text)
        except OSError as error:
            raise Refused(f"no unit can be written: {error.strerror}", str(self.units / UNIT)) from None
        if why := ran(*self.systemctl, "enable", UNIT):
            self.drop()
            raise Refused(f"systemd does not take {UNIT}: {why}")

    def _may_wait(self, service: str) -> bool:
        """Whether a unit starts after the system's own, so that it can wait for this one, which does too."""
        asked = (*self.systemctl, "show", "--property=After", "--value", "--", service)
        return _SERVICE.fullmatch(service) is not None and "basic.target" in said(*asked)

    def drop(self) -> None:
        """Nothing is planned any more. Raises OSError."""
        for name in (f"{_WANTED}/{UNIT}", UNIT):
            (self.units / name).unlink(missing_ok=True)
