"""The timer: units of systemd's own for this person, or for root; where systemd does not answer, a line of crontab(5)."""

from __future__ import annotations

import os
import shutil
import subprocess
from dataclasses import dataclass
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.upkeep import Every
from swept_shelf.own_python import own_python
from swept_shelf.units import quoted, ran

UNIT = "swept-shelf-upkeep"
_CALENDAR: dict[Every, str] = {"day": "daily", "week": "weekly", "month": "monthly"}
_CRON: dict[Every, str] = {"day": "@daily", "week": "@weekly", "month": "@monthly"}
_MARK = "# swept-shelf upkeep"


@dataclass(frozen=True)
class Timer:
    """`units`: where units of this person, or of root, stand. `systemctl`, `crontab`: by which they are turned on."""

    units: Path
    systemctl: tuple[str, ...]
    crontab: tuple[str, ...] = ("crontab",)

    @property
    def on(self) -> str:
        """By what it is on: "systemd", "cron", or "" where it is off."""
        if (self.units / "timers.target.wants" / f"{UNIT}.timer").is_symlink():
            return "systemd"
        return "cron" if _MARK in self._cron_lines() else ""

    def turn_on(self, every: Every) -> str:
        """By what it was turned on. Raises Refused where neither systemd nor cron takes it; nothing is left of the try."""
        self.turn_off()
        words = self._by_systemd(every)
        if not words:
            return "systemd"
        self._drop_units()
        if why := self._by_cron(every):
            raise Refused(f"no timer can be set: systemd: {words}; cron: {why}")
        return "cron"

    def turn_off(self) -> None:
        if (self.units / f"{UNIT}.timer").exists():
            ran(*self.systemctl, "disable", "--now", f"{UNIT}.timer")
            self._drop_units()
        if _MARK in (text := self._cron_lines()):
            self._write_cron("".join(x for x in text.splitlines(True) if _MARK not in x))

    def _by_systemd(self, every: Every) -> str:
        """Returns "" or why not."""
        if shutil.which(self.systemctl[0]) is None:
            return "is not here"
        command = " ".join(quoted(w) for w in _command())
        try:
            self.units.mkdir(parents=True, exist_ok=True)
            (self.units / f"{UNIT}.service").write_text(
                "[Unit]\nDescription=Swept Shelf upkeep: what grew, what nobody uses\n\n"
                f"[Service]\nType=oneshot\nExecStart={command}\nNice=10\nIOSchedulingClass=idle\nSuccessExitStatus=1\n"
            )
            (self.units / f"{UNIT}.timer").write_text(
                "[Unit]\nDescription=Swept Shelf upkeep\n\n"
                f"[Timer]\nOnCalendar={_CALENDAR[every]}\nPersistent=true\nRandomizedDelaySec=1h\n\n[Install]\nWantedBy=timers.target\n"
            )
        except OSError as error:
            return error.strerror or str(error)
        ran(*self.systemctl, "daemon-reload")
        return ran(*self.systemctl, "enable", "--now", f"{UNIT}.timer")

    def _drop_units(self) -> None:
        for name in (f"timers.target.wants/{UNIT}.timer", f"{UNIT}.timer", f"{UNIT}.service"):
            (self.units / name).unlink(missing_ok=True)

    def _by_cron(self, every: Every) -> str:
        if shutil.which(self.crontab[0]) is None:
            return "is not here"
        command = " ".join(_shell(w) for w in _command())
        text = self._cron_lines()
        return self._write_cron(
            f"{text}{'' if not text or text.endswith(chr(10)) else chr(10)}{_CRON[every]} {command} {_MARK}\n"
        )

    def _cron_lines(self) -> str:
        """The person's table as it is. Raises Refused where it cannot be read: it would be lost by writing it."""
        if shutil.which(self.crontab[0]) is None:
            return ""
        done = subprocess.run(
            [*self.crontab, "-l"],
            capture_output=True,
            text=True,
            stdin=subprocess.DEVNULL,
            env=os.environ | {"LC_ALL": "C"},
        )
        if done.returncode != 0 and "no crontab" not in done.stderr:
            raise Refused(f"crontab does not say what it holds: {' '.join(done.stderr.split())[:200]}")
        return done.stdout if done.returncode == 0 else ""

    def _write_cron(self, text: str) -> str:
        done = subprocess.run([*self.crontab, "-"], input=text, capture_output=True, text=True)
        return "" if done.returncode == 0 else done.stderr.strip() or "refused"


def timer() -> Timer:
    """This person's own, or root's."""
    if os.geteuid() == 0:
        return Timer(Path("/etc/systemd/system"), ("systemctl",))
    config = os.environ.get("XDG_CONFIG_HOME") or str(Path.home() / ".config")
    return Timer(Path(config) / "systemd/user", ("systemctl", "--user"))


def _command() -> list[str]:
    return own_python("swept_shelf", "upkeep")


def _shell(word: str) -> str:
    """As cron hands it to sh: a % would be a line's end."""
    return "'" + word.replace("'", "'\\''").replace("%", "\\%") + "'"
