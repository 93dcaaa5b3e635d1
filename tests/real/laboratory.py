"""The laboratory: real applications in a real Debian root, each run by an ordinary user on a day that we choose.

The clock of a program is shifted by libfaketime; the times that the kernel writes meanwhile are set to that day afterwards, so
that the root looks as if the day had been that day. What each run wrote and read is the truth that judgements are held to."""

from __future__ import annotations

import contextlib
import os
import random
import struct
import subprocess
import time
from collections import defaultdict
from dataclasses import dataclass, field
from pathlib import Path

from real.debian_root import make_root, sh
from swept_shelf.core.documents.survey import Application, Survey

DAY = 86400
DESKTOP_FIRST = (
    "galculator",
    "mousepad",
    "zathura",
    "geany",
    "dillo",
    "qpdfview",
    "featherpad",
    "speedcrunch",
    "poedit",
    "xpad",
    "gnumeric",
    "viewnior",
    "homebank",
    "gtkhash",
)
DESKTOP_LATER = (
    "abiword",
    "pcmanfm",
    "keepassxc",
    "copyq",
    "meld",
    "quodlibet",
    "hexchat",
    "gpicview",
    "vym",
    "klavaro",
    "audacious",
    "xarchiver",
    "transmission-gtk",
    "bluefish",
    "gnome-mines",
    "feh",
)
TERMINAL_FIRST, TERMINAL_LATER = ("mc", "ranger"), ("htop", "newsboat", "cmus", "tmux")
FIRST, LATER = (*DESKTOP_FIRST, *TERMINAL_FIRST), (*DESKTOP_LATER, *TERMINAL_LATER)


def _given(variable: str) -> dict[str, str]:
    """Packages with what starts each, where it is called otherwise: "name name=program"."""
    return {
        name: program for name, _, program in (w.partition("=") for w in os.environ.get(variable, "").split())
    }


_DESKTOP, _SHELL = _given("LAB_APPS"), _given("LAB_TERMINAL")
OTHERS = (*_DESKTOP, *_SHELL)
TERMINAL = (*TERMINAL_FIRST, *TERMINAL_LATER, *_SHELL)
SERVICE = "tinyproxy"
_HELPERS = (
    "dbus",
    "dbus-x11",
    "libfaketime",
    "openbox",
    "wmctrl",
    "bsdutils",
    "fonts-dejavu-core",
    "adwaita-icon-theme",
    "dconf-gsettings-backend",
)
_COMMANDS = {"feh": "feh /usr/share/pixmaps/debian-logo.png", "tmux": "tmux new-session 'sleep 1'"} | {
    name: program for name, program in (_DESKTOP | _SHELL).items() if program
}
_QUIT = {"mc": "\x1b0", "ranger": "q", "htop": "q", "newsboat": "q", "cmus": ":quit\n", "tmux": ""}
DISPLAY = 77


def lab_root(root: Path, packages: tuple[str, ...]) -> None:
    """A root with these packages and with what runs them here; DEBIAN_LAB=DIR is copied instead, where it is given."""
    make_root(root, (*packages, *_HELPERS), "DEBIAN_LAB")


@dataclass
class Ran:
    """One run: what it wrote and read, as paths inside the root."""

    app: str
    person: str
    at: int
    wrote: set[str] = field(default_factory=set)
    read: set[str] = field(default_factory=set)
    record: str = ""


@dataclass
class Laboratory:
    """`installed`: when everything in the root came, in seconds."""

    root: Path
    installed: int
    runs: list[Ran] = field(default_factory=list)
    created: dict[str, set[str]] = field(default_factory=dict)
    sessions: list[tuple[str, int, int]] = field(default_factory=list)

    def __enter__(self) -> Laboratory:
        sh(
            f"mount -t proc proc {self.root}/proc; mount -t tmpfs tmpfs {self.root}/dev/shm; mount --bind /dev/pts {self.root}/dev/pts;"
            f"mkdir -p {self.root}/tmp/.X11-unix /tmp/.X11-unix; mount --bind /tmp/.X11-unix {self.root}/tmp/.X11-unix"
        )
        self.display = subprocess.Popen(
            ["Xvfb", f":{DISPLAY}", "-ac", "-screen", "0", "1000x700x24"], stderr=subprocess.DEVNULL
        )
        for name, uid in (("hanna", 1000), ("joris", 1001)):
            sh(f"chroot {self.root} useradd -m -u {uid} -s /bin/bash {name} 2>/dev/null || true")
        time.sleep(1)
        self.manager = self._start("hanna", "openbox", int(time.time()))
        return self

    def __exit__(self, *_: object) -> None:
        for process in (self.manager, self.display):
            process.kill()
            process.wait()
        for place in ("tmp/.X11-unix", "dev/pts", "dev/shm", "proc"):
            subprocess.run(["umount", "-l", f"{self.root}/{place}"])

    def age(self) -> None:
        """Let everything have been installed on the day of the installation."""
        day = time.strftime("%Y-%m-%d", time.gmtime(self.installed))
        log = self.root / "var/log/dpkg.log"
        log.write_text("".join(f"{day} {line[11:]}\n" for line in log.read_text().splitlines()))
        (self.root / "var/log/apt/history.log").unlink(missing_ok=True)
        (self.root / "etc/machine-id").write_text("0123456789abcdef0123456789abcdef\n")
        for path, status in self._files():
            os.utime(path, (self.installed, min(status.st_mtime, self.installed)), follow_symlinks=False)

    def run(self, app: str, person: str, at: int) -> Ran:
        """Run it for some seconds on that day, end it as its user would, and set the times of what it touched."""
        began = time.time()
        ran = Ran(app, person, at)
        if app in TERMINAL:
            self._in_terminal(app, person, at)
            ran.record = "shell history"
        else:
            process = self._start(person, _COMMANDS.get(app, app), at)
            time.sleep(4.5)
            subprocess.run(
                [
                    "chroot",
                    str(self.root),
                    "env",
                    f"DISPLAY=:{DISPLAY}",
                    "sh",
                    "-c",
                    "for w in $(wmctrl -l | cut -d' ' -f1); do wmctrl -i -c $w; done",
                ],
                stderr=subprocess.DEVNULL,
            )
            time.sleep(1.2)
            process.terminate()
            self._end()
            process.wait()
        self._shift(began, ran)
        self.runs.append(ran)
        return ran

    def _user(self, person: str, at: int) -> list[str]:
        uid = 1000 if person == "hanna" else 1001
        home = f"/home/{person}"
        when = time.strftime("%Y-%m-%d %H:%M:%S", time.gmtime(at))
        return [
            "chroot",
            f"--userspec={uid}:{uid}",
            str(self.root),
            "env",
            "-i",
            f"HOME={home}",
            f"USER={person}",
            "PATH=/usr/bin:/bin:/usr/games:/usr/sbin",
            f"DISPLAY=:{DISPLAY}",
            "TZ=UTC",
            "LANG=C.UTF-8",
            "TERM=xterm",
            "LD_PRELOAD=/usr/lib/x86_64-linux-gnu/faketime/libfaketime.so.1",
            f"FAKETIME=@{when}",
            "NO_FAKE_STAT=1",
            "FAKETIME_DONT_FAKE_MONOTONIC=1",
            "SHELL=/bin/bash",
        ]

    def _start(self, person: str, command: str, at: int) -> subprocess.Popen[bytes]:
        return subprocess.Popen(
            [*self._user(person, at), "sh", "-c", f"cd; exec dbus-run-session -- {command}"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )

    def _in_terminal(self, app: str, person: str, at: int) -> None:
        """Typed into a real bash, which writes its history with times."""
        script = [*self._user(person, at), "HISTTIMEFORMAT=%F %T ", "script", "-qec", "bash -i", "/dev/null"]
        shell = subprocess.Popen(
            script, stdin=subprocess.PIPE, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
        )
        assert shell.stdin
        for text, wait in (
            (f"cd; {_COMMANDS.get(app, app)}\n", 2.5),
            (_QUIT.get(app, "/quit\nq"), 0.8),
            ("\n", 0.3),
            ("exit\n", 0.5),
        ):
            shell.stdin.write(text.encode())
            shell.stdin.flush()
            time.sleep(wait)
        shell.stdin.close()
        try:
            shell.wait(3)
        except subprocess.TimeoutExpired:
            shell.kill()
        self._end()

    def _end(self) -> None:
        """End what a run left behind: processes in this root, but for the window manager."""
        for signal in (15, 15, 9):
            left = [p for p in self._inside() if not _above(self.manager.pid, p)]
            for pid in left:
                with contextlib.suppress(OSError):
                    os.kill(pid, signal)
            if not left:
                return
            time.sleep(0.6)

    def _inside(self) -> list[int]:
        found = []
        for folder in Path("/proc").glob("[0-9]*"):
            with contextlib.suppress(OSError):
                if os.readlink(folder / "root") == str(self.root):
                    found.append(int(folder.name))
        return found

    def _files(self):
        for folder, _, names in os.walk(self.root):
            if folder == str(self.root / "proc") or folder.startswith(
                (f"{self.root}/proc/", f"{self.root}/sys", f"{self.root}/dev", f"{self.root}/tmp")
            ):
                continue
            for name in names:
                path = f"{folder}/{name}"
                try:
                    yield path, os.lstat(path)
                except OSError:
                    continue

    def _shift(self, began: float, ran: Ran) -> None:
        for path, status in list(self._files()):
            read, wrote = status.st_atime >= began, status.st_mtime >= began
            if read or wrote:
                inside = path[len(str(self.root)) :]
                os.utime(
                    path,
                    (
                        ran.at + (status.st_atime - began) if read else status.st_atime,
                        ran.at + (status.st_mtime - began) if wrote else status.st_mtime,
                    ),
                    follow_symlinks=False,
                )
                if wrote:
                    ran.wrote.add(inside)
                if read:
                    ran.read.add(inside)

    # -- what the system around the programs writes ---------------------------------------------------------

    def write_logins(self) -> None:
        """wtmp(5) as logins write it: a session around every run."""
        records = []
        for i, run in enumerate(sorted(self.runs, key=lambda r: r.at)):
            records += [_login(7, run.person, run.at - 2400, i), _login(8, "", run.at + 900, i)]
        (self.root / "var/log/wtmp").write_bytes(b"".join(records))

    def write_journal(self, runs: list[Ran]) -> None:
        """Scopes of applications as the service manager of a session writes them, made to a journal by its own tool."""
        text = b""
        folder = self.root / "var/log/journal/0123456789abcdef0123456789abcdef"
        folder.mkdir(parents=True, exist_ok=True)
        for i, run in enumerate(sorted(runs, key=lambda r: r.at)):
            launcher = next(
                (
                    p.stem
                    for p in (self.root / "usr/share/applications").glob("*.desktop")
                    if f"Exec={run.app}" in p.read_text()
                ),
                run.app,
            )
            unit = f"app-room-{launcher}-{1000 + i}.scope"
            run.record = "journal"
            fields = {
                "__REALTIME_TIMESTAMP": run.at * 1_000_000,
                "__MONOTONIC_TIMESTAMP": 1000 + i,
                "_BOOT_ID": "0123456789abcdef0123456789abcdef",
                "_MACHINE_ID": "0123456789abcdef0123456789abcdef",
                "_UID": 1000 if run.person == "hanna" else 1001,
                "_COMM": "systemd",
                "_EXE": "/usr/lib/systemd/systemd",
                "USER_UNIT": unit,
                "MESSAGE": f"Started {unit} - {run.app}.",
                "PRIORITY": 6,
            }
            text += "".join(f"{k}={v}\n" for k, v in fields.items()).encode() + b"\n"
        subprocess.run(
            ["/lib/systemd/systemd-journal-remote", f"--output={folder}/user-1000.journal", "-"],
            input=text,
            check=True,
            capture_output=True,
        )

    # -- noise: laid over, and taken away again -------------------------------------------------------------

    def remember(self) -> None:
        self._times = {p: (s.st_atime_ns, s.st_mtime_ns) for p, s in self._files()}
        self._log = (self.root / "var/log/dpkg.log").read_bytes()
        self._logins = (self.root / "var/log/wtmp").read_bytes()

    def restore(self) -> None:
        """Everything as `remember` saw it."""
        (self.root / "var/log/dpkg.log").write_bytes(self._log)
        (self.root / "var/log/wtmp").write_bytes(self._logins)
        (self.root / "etc/fstab").unlink(missing_ok=True)
        for table in (self.root / "var/spool/cron/crontabs").glob("*"):
            table.unlink()
        for path, times in self._times.items():
            with contextlib.suppress(OSError):
                os.utime(path, ns=times, follow_symlinks=False)

    def backup(self, at: int) -> None:
        """A backup reads everything within forty minutes; relatime moves what was read longer than a day before."""
        files = sorted(self._files())
        for i, (path, status) in enumerate(files):
            when = at + 2400 * i / len(files)
            if when - status.st_atime >= DAY or status.st_atime <= status.st_mtime:
                os.utime(path, (when, status.st_mtime), follow_symlinks=False)

    def upgrade(self, packages: list[str], at: int) -> None:
        """Their files anew, as dpkg unpacks them, and its log and database with the day."""
        stamp = time.strftime("%Y-%m-%d %H:%M:%S", time.gmtime(at))
        with open(self.root / "var/log/dpkg.log", "a") as log:
            for name in packages:
                listing = self.root / f"var/lib/dpkg/info/{name}.list"
                for path in listing.read_text().splitlines():
                    target = self.root / path.lstrip("/")
                    if target.is_file() and not target.is_symlink():
                        os.utime(target, (at + 5, target.stat().st_mtime))
                os.utime(listing, (at + 8, at + 8))
                log.write(f"{stamp} upgrade {name}:amd64 1.0 1.1\n")

    def check_few(self, packages: list[str], at: int) -> None:
        """All files of a few packages read within a minute, as a check of them does."""
        for i, name in enumerate(packages):
            listing = next((self.root / "var/lib/dpkg/info").glob(f"{name}*.list"))
            for j, path in enumerate(listing.read_text().splitlines()):
                target = self.root / path.lstrip("/")
                if target.is_file() and not target.is_symlink():
                    os.utime(target, (at + 12 * i + j / 500, target.stat().st_mtime))

    def home_restored(self, person: str, at: int) -> None:
        """A whole home written within three minutes, by a copy that kept no times."""
        files = [p for p in sorted((self.root / "home" / person).rglob("*")) if p.is_file()]
        for i, path in enumerate(files):
            when = at + 180 * i / len(files)
            os.utime(path, (when, when), follow_symlinks=False)

    def logouts_write(self, settings: list[str], person: str, logouts: list[int]) -> None:
        """Settings of several applications rewritten whenever a session ends."""
        with (self.root / "var/log/wtmp").open("ab") as log:
            for at in logouts:
                log.write(_login(7, person, at - 5400) + _login(8, "", at))
        for i, path in enumerate(settings):
            when = logouts[-1] - 2 + i / 10
            os.utime(f"{self.root}{path}", (when, when))

    def job(self, app: str, person: str, written: list[str], at: int) -> None:
        """A crontab starts its program every night; the last time it wrote these files."""
        table = self.root / "var/spool/cron/crontabs" / person
        table.parent.mkdir(parents=True, exist_ok=True)
        clock = time.gmtime(at)
        program = next(p for d in ("bin", "games") if os.path.lexists(p := self.root / "usr" / d / app))
        table.write_text(f"{clock.tm_min} {clock.tm_hour} * * * /{program.relative_to(self.root)} --batch\n")
        for path in written:
            os.utime(f"{self.root}{path}", (at + 3, at + 3))
        os.utime(program, (at + 1, program.stat().st_mtime))

    def noatime(self) -> None:
        (self.root / "etc/fstab").write_text("UUID=0 / ext4 rw,noatime 0 1\n")

    def honest(self, app: str) -> bool:
        """Whether anything of the application's last run is still as that run left it, and could be nobody else's."""
        mine = [r for r in self.runs if r.app == app]
        last = max(mine, key=lambda r: r.at)
        if last.record:
            return True
        others = {p for r in self.runs if r.app != app for p in r.wrote}
        kept = [
            p for p in last.wrote - others if p.startswith("/home/") and self._stands(p, last.at, "st_mtime")
        ]
        programs = {
            p
            for p in last.read
            if p.startswith(("/usr/bin/", "/usr/games/")) and p.rsplit("/", 1)[1].startswith(app)
        }
        return bool(kept) or any(
            self._stands(p, last.at, "st_atime") for p in programs if not self._no_times()
        )

    def _no_times(self) -> bool:
        return "noatime" in (
            (self.root / "etc/fstab").read_text() if (self.root / "etc/fstab").exists() else ""
        )

    def _stands(self, path: str, at: int, which: str) -> bool:
        try:
            return 0 <= getattr(os.lstat(f"{self.root}{path}"), which) - at < 600
        except OSError:
            return False


def _login(kind: int, user: str, at: int, number: int = 0) -> bytes:
    """One record of wtmp(5): 7 a session begins, 8 it ends."""
    terminal = (b"tty7", b"7", user.encode(), b":0", 0, 0, 0, at, 0, b"")
    return struct.pack("<hxxi32s4s32s256shhiii16s20x", kind, 100 + number, *terminal)


def _above(ancestor: int, pid: int) -> bool:
    while pid > 1:
        if pid == ancestor:
            return True
        try:
            pid = int(Path(f"/proc/{pid}/stat").read_text().rsplit(")", 1)[1].split()[1])
        except (OSError, ValueError):
            return False
    return False


def days_of(apps: tuple[str, ...], now: int, seed: int) -> list[tuple[str, str, int]]:
    """(application, person, moment): one to three runs of each over two years, oldest first."""
    chance = random.Random(seed)
    found: list[tuple[str, str, int]] = []
    free = [now - d * DAY - chance.randrange(3600, 20000) for d in range(4, 690)]
    chance.shuffle(free)
    for app in apps:
        for _ in range(chance.choice((1, 1, 2))):
            found.append((app, chance.choice(("hanna", "hanna", "joris")), free.pop()))
    return sorted(found, key=lambda f: f[2])


def line_of(survey: Survey, package: str) -> Application:
    """The line of a package that was asked for: its own, or that of the program for whose sake it is there."""
    lines = [a for a in survey.applications if a.registry == "debian" and package in a.packages]
    return min(lines, key=lambda a: (a.packages[0] != package, len(a.packages)))


def counted(rows: dict[str, bool]) -> str:
    groups: dict[bool, list[str]] = defaultdict(list)
    for name, good in rows.items():
        groups[good].append(name)
    return f"{len(groups[True])} of {len(rows)}" + (
        f"; not: {', '.join(groups[False])}" if groups[False] else ""
    )
