"""A disk that wants to be obeyed: roots whose every scanned place is something else than it should be, and what watches them."""

from __future__ import annotations

import json
import os
import re
import socket
import stat
import subprocess
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from swept_shelf.worker.client import worker_command

PERSON, UID = "mallow", 1007
HOME = f"home/{PERSON}"

# Files that some reader opens, relative to the root.
FILES = [
    "etc/machine-id",
    "etc/hostname",
    "etc/os-release",
    "etc/timezone",
    "etc/passwd",
    "etc/group",
    "etc/fstab",
    "etc/environment",
    "etc/environment.d/50-x.conf",
    "etc/apt/apt.conf",
    "etc/apt/apt.conf.d/99x",
    "etc/swept-shelf/protected.toml",
    "etc/crontab",
    "etc/cron.d/x",
    "etc/profile",
    "etc/profile.d/x.sh",
    "etc/bash.bashrc",
    "etc/xdg/mimeapps.list",
    "etc/xdg/autostart/x.desktop",
    "etc/systemd/system/x.service",
    "etc/systemd/system/display-manager.service",
    "etc/X11/default-display-manager",
    "etc/logrotate.d/x",
    "etc/dbus-1/services/x.service",
    "var/lib/dpkg/status",
    "var/lib/dpkg/available",
    "var/lib/dpkg/arch",
    "var/lib/dpkg/diversions",
    "var/lib/dpkg/statoverride",
    "var/lib/dpkg/lock",
    "var/lib/dpkg/lock-frontend",
    "var/lib/dpkg/info/format",
    "var/lib/dpkg/info/lantern.list",
    "var/lib/dpkg/info/lantern.md5sums",
    "var/lib/dpkg/info/lantern.postrm",
    "var/lib/dpkg/updates/0001",
    "var/lib/dpkg/triggers/File",
    "var/lib/dpkg/alternatives/editor",
    "var/lib/apt/extended_states",
    "var/lib/apt/lists/x_Packages",
    "var/lib/apt/lists/y_Packages.gz",
    "var/lib/apt/lists/z_Packages.lz4",
    "var/log/dpkg.log",
    "var/log/dpkg.log.2.gz",
    "var/log/apt/history.log",
    "var/log/apt/history.log.1.xz",
    "var/log/wtmp",
    "var/log/audit/audit.log",
    "var/log/account/pacct",
    "var/log/journal/0123456789abcdef0123456789abcdef/system.journal",
    "var/lib/wtmpdb/wtmp.db",
    "var/lib/rpm/rpmdb.sqlite",
    "usr/lib/sysimage/rpm/Packages",
    "var/lib/snapd/snaps/knot_7.snap",
    "run/snapd.socket",
    "var/lib/snapd/desktop/applications/knot_knot.desktop",
    "var/lib/flatpak/app/org.x.Y/x86_64/stable/active/metadata",
    "var/lib/flatpak/app/org.x.Y/x86_64/stable/active/deploy",
    "var/lib/flatpak/repo/config",
    "var/spool/cron/crontabs/mallow",
    "var/lib/mysql/ibdata1",
    "var/lib/postgresql/15/main/PG_VERSION",
    "var/lib/systemd/timers/stamp-x.timer",
    "var/crash/_usr_bin_lantern.1.crash",
    "usr/share/applications/lantern.desktop",
    "usr/share/applications/x.desktop",
    "usr/share/dbus-1/services/x.service",
    "usr/bin/lantern",
    "usr/bin/x",
    "usr/share/lantern/x.jar",
    "usr/lib/python3/x.pyc",
    "usr/local/bin/x",
    "opt/Thing.AppImage",
    "opt/thing/thing",
    "usr/local/lib/node_modules/x/package.json",
    "var/lib/gems/3.1.0/specifications/x-1.gemspec",
    "usr/local/lib/python3.11/dist-packages/x-1.dist-info/METADATA",
    "swapfile",
    "machine.json",
    *(
        f"{HOME}/{name}"
        for name in (
            ".bashrc",
            ".profile",
            ".bash_profile",
            ".bash_history",
            ".zsh_history",
            ".zshrc",
            ".local/share/fish/fish_history",
            ".pam_environment",
            ".config/environment.d/x.conf",
            ".config/user-dirs.dirs",
            ".config/mimeapps.list",
            ".local/share/applications/mimeapps.list",
            ".local/share/applications/x.desktop",
            ".config/autostart/x.desktop",
            "Desktop/x.desktop",
            ".config/gtk-3.0/bookmarks",
            ".local/share/recently-used.xbel",
            ".local/share/user-places.xbel",
            ".local/share/gnome-shell/application_state",
            ".local/share/kactivitymanagerd/resources/database",
            ".local/share/zeitgeist/activity.sqlite",
            ".config/dconf/user",
            ".local/share/keyrings/login.keyring",
            ".config/systemd/user/x.service",
            ".local/share/dbus-1/services/x.service",
            ".local/share/pipx/venvs/x/pipx_metadata.json",
            ".cargo/.crates2.json",
            ".local/lib/python3.11/site-packages/x-1.dist-info/METADATA",
            ".npm-global/lib/node_modules/x/package.json",
            ".gem/ruby/3.1.0/specifications/x-1.gemspec",
            "Downloads/x.AppImage",
            ".wine/system.reg",
            ".wine/drive_c/x",
            ".steam/steam/steamapps/appmanifest_7.acf",
            ".local/share/Trash/info/x.trashinfo",
            ".cache/thumbnails/normal/x.png",
            ".config/lantern/settings.ini",
            ".config/lantern/store.sqlite",
            ".local/share/lantern/places.db",
            ".cache/lantern/x",
            ".local/bin/x",
            ".config/unknown/notes.txt",
            ".local/share/flatpak/app/org.x.Z/x86_64/stable/active/metadata",
            ".var/app/org.x.Z/config/x",
            "snap/knot/7/x",
            ".crash",
            ".fonts/x.ttf",
        )
    ),
]
_KEPT = (
    "etc/passwd",
    "var/lib/dpkg/status",
    "usr/share/applications/lantern.desktop",
    "usr/bin/lantern",
    "var/lib/dpkg/info/lantern.list",
)

STATUS = """Package: lantern
Status: install ok installed
Priority: optional
Section: utils
Installed-Size: 10
Maintainer: Nobody <n@x.invalid>
Architecture: all
Version: 1.0
Description: a lantern

"""
LAUNCHER = "[Desktop Entry]\nType=Application\nName=Lantern\nExec=/usr/bin/lantern\n"
LIST = "/.\n/usr\n/usr/bin\n/usr/bin/lantern\n/usr/share\n/usr/share/applications\n/usr/share/applications/lantern.desktop\n"


def plain_root(root: Path) -> Path:
    """The smallest root with one application and one person."""
    for path, text in {
        "etc/passwd": f"root:x:0:0:root:/root:/bin/sh\n{PERSON}:x:{UID}:{UID}::/{HOME}:/bin/sh\n",
        "etc/hostname": "thicket\n",
        "var/lib/dpkg/status": STATUS,
        "var/lib/dpkg/info/lantern.list": LIST,
        "usr/share/applications/lantern.desktop": LAUNCHER,
        "usr/bin/lantern": "#!/bin/sh\n",
        f"{HOME}/.config/lantern/settings.ini": "[x]\n",
        f"{HOME}/Documents/letter.txt": "dear\n",
    }.items():
        put(root, path, text)
    (root / "usr/bin/lantern").chmod(0o755)
    for place in (
        "var/lib/dpkg/updates",
        "var/lib/dpkg/triggers",
        "root",
        "tmp",
        "opt",
        "run",
        "proc",
        "dev",
    ):
        (root / place).mkdir(parents=True, exist_ok=True)
    (root / "var/lib/dpkg/available").touch()
    return root


def put(root: Path, path: str, text: str | bytes) -> Path:
    target = root / path
    target.parent.mkdir(parents=True, exist_ok=True)
    if target.is_symlink() or target.exists():
        target.unlink()
    target.write_bytes(text if isinstance(text, bytes) else text.encode("utf-8", "surrogateescape"))
    return target


def _link(to: str) -> Callable[[Path], None]:
    return lambda path: path.symlink_to(to)


def _socket(path: Path) -> None:
    fd = os.open(path.parent, os.O_PATH | os.O_DIRECTORY)
    with socket.socket(socket.AF_UNIX) as made:
        made.bind(f"/proc/self/fd/{fd}/{path.name}")
    os.close(fd)


def _huge(path: Path) -> None:
    with open(path, "wb") as handle:
        handle.truncate(30 << 30)


def _deep(path: Path) -> None:
    path.write_bytes(b"[" * 200_000)


ODDITIES: dict[str, Callable[[Path], Any]] = {
    "pipe": os.mkfifo,
    "device": lambda p: os.mknod(p, stat.S_IFCHR | 0o666, os.makedev(1, 5)),
    "socket": _socket,
    "loop of links": lambda p: p.symlink_to(p.name),
    "link to the host": _link("/etc/shadow"),
    "link out by the way up": _link("../" * 40 + "etc/passwd"),
    "link to a pipe": lambda p: (os.mkfifo(p.with_name(p.name + "-pipe")), p.symlink_to(p.name + "-pipe")),
    "huge and sparse": _huge,
    "empty": lambda p: p.touch(),
    "not UTF-8": lambda p: p.write_bytes(b"\xff\xfe\x80[x]\n\xff=\xfe\n" * 50),
    "zeros": lambda p: p.write_bytes(bytes(70_000)),
    "nested": _deep,
    "one long line": lambda p: p.write_bytes(b"a=" + b"x" * 1_200_000),
    "folder": lambda p: p.mkdir(),
    "separators": lambda p: p.write_bytes(b"\x1f\x1e\x1f\x00Package: \x1e\n\x1b]0;t\x07" * 200),
}


def odd_root(root: Path, make: Callable[[Path], Any]) -> Path:
    """A root whose every scanned place is what `make` makes; without what a survey cannot do without, so that it goes on."""
    plain_root(root)
    for name in FILES:
        path = root / name
        if name in _KEPT:
            continue
        path.parent.mkdir(parents=True, exist_ok=True)
        if path.exists() or path.is_symlink():
            path.unlink()
        make(path)
    return root


# -- watching -------------------------------------------------------------------------------------------------


@dataclass
class Watched:
    """A worker's last event, what it started, what it changed outside, how long it took, and the worker's largest memory in bytes."""

    last: dict[str, Any]
    started: set[str]
    written: list[str]
    connected: list[str]
    seconds: float
    memory: int


_STARTED = re.compile(r'execve\("([^"]+)".* = 0$', re.M)


def watched(request: dict[str, Any], log: Path, allowed: list[Path], seconds: float = 120) -> Watched:
    """Run a worker under strace and tell what it did beside its own folders `allowed`."""
    calls = (
        "execve,connect,creat,openat,mkdir,mkdirat,rename,renameat,renameat2,unlink,unlinkat,link,linkat,symlink,"
        "symlinkat,mknod,mknodat,chmod,fchmodat,chown,lchown,fchownat,truncate"
    )
    began = time.monotonic()
    process = subprocess.Popen(
        [
            "strace",
            "-f",
            "--seccomp-bpf",
            "-qq",
            "-e",
            f"trace={calls}",
            "-e",
            "signal=none",
            "-o",
            str(log),
            *worker_command(),
        ],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        cwd="/",
    )
    assert process.stdin and process.stdout
    stop = threading.Timer(seconds, process.kill)
    stop.start()
    process.stdin.write(json.dumps(request).encode() + b"\n")
    process.stdin.close()
    lines = process.stdout.read().splitlines()
    process.stdout.close()
    process.wait()
    stop.cancel()
    took = time.monotonic() - began
    text = log.read_text(errors="replace")
    mine = tuple(str(a) for a in allowed)
    written = []
    for line in text.splitlines():
        if not line.rstrip().endswith(tuple("0123456789>")) or " = -1 " in line:
            continue
        call = line.split("(", 1)[0].split()[-1]
        if call in ("execve", "connect") or (
            call == "openat" and not re.search(r"O_(WRONLY|RDWR|CREAT|TRUNC|TMPFILE)", line)
        ):
            continue
        paths = re.findall(r'"([^"]*)"', line)
        if paths and all(
            p.startswith((*mine, "/dev/null", "/proc/self/", "/proc/thread-self/")) or not p.startswith("/")
            for p in paths
        ):
            continue
        if paths:
            written.append(line)
    last = json.loads(lines[-1]) if lines else {"status": process.returncode}
    return Watched(
        last,
        set(_STARTED.findall(text)),
        written,
        [x for x in text.splitlines() if "connect(" in x],
        took,
        last.get("memory", 0),
    )


def picture_with_access(*tops: Path) -> dict[str, tuple[Any, ...]]:
    """Everything below, with access times, owners, modes and contents' times."""
    found = {}
    stack = [str(t) for t in tops]
    while (
        stack
    ):  # os.walk would follow links to see whether they lead to folders, which moves their own times
        path = stack.pop()
        s = os.lstat(path)
        found[path] = (
            s.st_mode,
            s.st_uid,
            s.st_gid,
            s.st_size,
            s.st_atime_ns,
            s.st_mtime_ns,
            s.st_ctime_ns,
            s.st_ino,
        )
        if stat.S_ISDIR(s.st_mode):
            fd = os.open(path, os.O_RDONLY | os.O_NOATIME | os.O_DIRECTORY)
            stack += [f"{path}/{name}" for name in os.listdir(fd)]
            os.close(fd)
    return found
