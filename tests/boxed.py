"""A copy-on-write image of this computer in namespaces of its own, in which people, rights and a polkit daemon of the test's stand."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest

HERE = Path(__file__).parents[1]
_START = """
set -e
trap "exit 77" EXIT
mount -t tmpfs -o size=2g up {place}
mkdir {place}/up {place}/work {place}/root {place}/python {place}/here {place}/up2 {place}/work2
mount -t overlay -o lowerdir=/,upperdir={place}/up,workdir={place}/work box {place}/root
R={place}/root
mount --bind {python} {place}/python
mount -t overlay -o lowerdir={here},upperdir={place}/up2,workdir={place}/work2 here {place}/here
for hidden in root home opt tmp; do mount -t tmpfs -o mode=755 none $R/$hidden; done
chmod 1777 $R/tmp
mkdir -p $R{python} $R{here}
mount --bind -o ro {place}/python $R{python}; mount --bind {place}/here $R{here}
mount --rbind /dev $R/dev; mount -t proc proc $R/proc; mount --rbind /sys $R/sys
mount -t tmpfs none $R/run; mkdir -p $R/run/dbus
cp {place}.py $R/root/inside.py; chmod 644 $R/root/inside.py
trap - EXIT
exec chroot $R {executable} -X utf8 /root/inside.py
"""
_PEOPLE = '''
import json, os, pty, select, signal, subprocess, sys, time
PYTHON, BIN = sys.executable, os.path.dirname(sys.executable)

def sh(words, **more):
    return subprocess.run(words, shell=True, check=True, capture_output=True, text=True, **more).stdout

sh("useradd -m keeper -s /bin/bash; useradd -m boss -G sudo -s /bin/bash; echo boss:wayfarer | chpasswd")

def polkit():
    """A bus and a polkit daemon of this image's own."""
    sh("dbus-daemon --system --fork --nopidfile")
    daemon = subprocess.Popen(["/usr/lib/polkit-1/polkitd", "--no-debug"], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    for _ in range(100):
        if subprocess.run(["pkcheck", "--action-id", "org.freedesktop.policykit.exec", "--process", str(os.getpid())], capture_output=True).returncode in (0, 1, 2, 3):
            return daemon
        time.sleep(0.1)
    raise SystemExit("polkit does not answer")

def as_keeper():
    os.setgroups([]); entry = __import__("pwd").getpwnam("keeper")
    os.setresgid(entry.pw_gid, entry.pw_gid, entry.pw_gid); os.setresuid(entry.pw_uid, entry.pw_uid, entry.pw_uid)
    os.environ.clear()
    os.environ.update(HOME="/home/keeper", PATH="/usr/bin:/bin", LC_ALL="C.UTF-8", USER="keeper")
    os.chdir("/home/keeper")

def keeper(words, shown=False):
    """What a command of the keeper's says, and its status; no terminal is there."""
    env = {"HOME": "/home/keeper", "PATH": "/usr/bin:/bin", "LC_ALL": "C.UTF-8"} | ({"DISPLAY": ":0"} if shown else {})
    done = subprocess.run(["setpriv", "--reuid=keeper", "--regid=keeper", "--init-groups", *words], cwd="/home/keeper",
                          env=env, capture_output=True, text=True, stdin=subprocess.DEVNULL)
    return done.returncode, done.stdout + done.stderr

def on_terminal(words, answers, seconds=180, shown=False):
    """The same on a terminal of its own: each of `answers` is (what is waited for, what is typed then)."""
    pid, fd = pty.fork()
    if pid == 0:
        signal.signal(signal.SIGHUP, signal.SIG_DFL)
        as_keeper()
        if shown:
            os.environ["DISPLAY"] = ":0"
        os.execv(words[0], words)
    said, seen, until, answers, status = "", 0, time.time() + seconds, list(answers), None
    while time.time() < until:
        if select.select([fd], [], [], 0.1)[0]:
            try:
                piece = os.read(fd, 65536)
            except OSError:
                break
            if not piece:
                break
            said += piece.decode(errors="replace")
            if answers and answers[0][0] in said[seen:]:
                seen = len(said)
                typed = answers.pop(0)[1]
                time.sleep(0.3)
                typed(pid) if callable(typed) else os.write(fd, typed.encode())
        elif status is not None:
            break  # all that it said was read; whoever it left behind is nobody's answer
        if status is None and (ended := os.waitpid(pid, os.WNOHANG))[0]:
            status = ended[1]
    try:
        os.killpg(pid, 9)
    except ProcessLookupError:
        pass
    if status is None:
        status = os.waitpid(pid, 0)[1]
    os.close(fd)
    return os.waitstatus_to_exitcode(status), said

found = {}
'''


def boxed(folder: Path, script: str, seconds: int = 600) -> dict[str, object]:
    """Run `script` as root of the image; what it put into `found` comes back. Skips where no such image can be made."""
    if os.geteuid() != 0:
        pytest.skip("only root can make an image of the computer with rights of its own")
    place = folder / "box"
    place.mkdir()
    inside = f"{_PEOPLE}\n{script}\nprint('\\n' + json.dumps(found))\n"
    Path(f"{place}.py").write_text(inside)
    start = _START.format(
        place=place, python=Path(sys.executable).resolve().parents[1], here=HERE, executable=sys.executable
    )
    done = subprocess.run(
        [
            "unshare",
            "-m",
            "-p",
            "-f",
            "--mount-proc",
            "--kill-child",
            "--propagation",
            "private",
            "sh",
            "-c",
            start,
        ],
        capture_output=True,
        text=True,
        timeout=seconds,
    )
    if done.returncode == 77:
        pytest.skip(f"no image of the computer can be made here: {done.stderr.strip()[-200:]}")
    assert done.returncode == 0, done.stdout[-2000:] + done.stderr[-4000:]
    answer: dict[str, object] = json.loads(done.stdout.strip().splitlines()[-1])
    return answer
