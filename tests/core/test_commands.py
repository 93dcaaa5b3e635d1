"""Commands that read are started by a small process of ours: confined, with what they were handed, and never left behind."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import time

import psutil
import pytest

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine import commands, spawner
from swept_shelf.core.machine.commands import run

root_only = pytest.mark.skipif(os.geteuid() != 0, reason="mounts need root")
ALONE = """
import sys
from swept_shelf.core.machine import confine, commands
confine.take_a_view_to_read(); assert confine.reads_alone()
sys.stdout.write(commands.run("grep", "-H", "", *sys.argv[1:]).out.decode())
"""
FACTS = [f"/proc/self/{name}" for name in ("status", "mountinfo", "limits", "net/dev", "environ")]


def spawned_by(pid: int) -> list[psutil.Process]:
    return [p for p in psutil.Process(pid).children(recursive=True) if p.status() != psutil.STATUS_ZOMBIE]


@root_only
@pytest.mark.parametrize("alone", [False, True], ids=["from any process", "from one that reads alone"])
def test_a_command_can_read_and_nothing_else(alone, monkeypatch):
    monkeypatch.setenv("SECRET", "x")
    if alone:
        done = subprocess.run(
            [sys.executable, "-c", ALONE, *FACTS], capture_output=True, text=True, check=True
        )
        said = done.stdout
    else:
        said = run("grep", "-H", "", *FACTS).out.decode()
    of = {name: [x.split(":", 1)[1] for x in said.splitlines() if x.startswith(name + ":")] for name in FACTS}
    status = dict(line.split(":\t") for line in of[FACTS[0]] if ":\t" in line)
    assert status["CapPrm"] == status["CapBnd"] == "000000000000000c" and status["CapInh"] == "0" * 16
    assert status["NoNewPrivs"] == "1" and status["Seccomp"] == "2"
    assert all(line.split()[5].startswith("ro") for line in of[FACTS[1]])
    limits = {line[:20].strip(): line[26:].split()[0] for line in of[FACTS[2]]}
    assert limits["Max data size"] == str(768 << 20) and limits["Max open files"] == "1024"
    assert limits["Max cpu time"] == "301" and limits["Max core file size"] == "0"
    assert [line.split(":")[0].strip() for line in of[FACTS[3]][2:]] == ["lo"]
    assert "SECRET" not in "".join(of[FACTS[4]])


def test_it_gets_what_it_was_handed_under_the_same_numbers_and_nothing_more(tmp_path):
    (tmp_path / "it").write_text("one\ntwo\n")
    ours = os.open(tmp_path, os.O_RDONLY)  # not handed over
    handed = [os.open(tmp_path / "it", os.O_RDONLY) for _ in range(3)]
    try:
        seen = run("find", "/proc/self/fd/", "-type", "l", "-printf", "%f %l\n", fds=handed[1:]).out.decode()
        found = dict(line.split(" ", 1) for line in seen.splitlines())
        assert [found[str(n)] for n in handed[1:]] == [str(tmp_path / "it")] * 2
        assert "socket:" not in seen and str(tmp_path) not in found.values()
        plain = ["find", "/proc/self/fd/", "-type", "l", "-printf", "%f\n"]
        assert len(found) == len(subprocess.run(plain, capture_output=True).stdout.split()) + 2
        assert run("grep", "-c", "", f"/proc/self/fd/{handed[1]}", fds=handed[1:]).out == b"2\n"
        assert run("find", ".", "-printf", "%P|", cwd=f"/proc/self/fd/{ours}", fds=[ours]).out == b"|it|"
    finally:
        for fd in (ours, *handed):
            os.close(fd)


def test_what_it_is_told_and_what_it_says_may_be_long(tmp_path):
    text = b"x" * 5_000_000
    assert len(run("grep", "-a", "", text_in=text).out) == len(text) + 1
    names = [f"{tmp_path}/{'n' * 200}{i}" for i in range(500)]
    said = run("find", *names)
    assert said.status == 1 and len(said.err) > 100_000
    (tmp_path / "names").write_text("a\nb\n")
    assert run("grep", "-c", "", fed_by=["grep", "", str(tmp_path / "names")]).out == b"2\n"


def test_no_such_command_and_no_end_are_said(monkeypatch, tmp_path):
    with pytest.raises(CouldNotRead, match="gave no answer in time"):
        os.mkfifo(tmp_path / "never")
        run("grep", "x", str(tmp_path / "never"), timeout=0.3)
    monkeypatch.setitem(commands._ENVIRONMENT, "PATH", str(tmp_path))
    with pytest.raises(CouldNotRead, match="the command find is not on this computer"):
        run("find", "/nothing")
    monkeypatch.undo()
    assert run("find", "/proc", "-maxdepth", "0").status == 0
    assert not [p for p in spawned_by(os.getpid()) if p.name() == "grep"]


def test_a_spawner_that_was_ended_is_made_again():
    run("find", "/proc", "-maxdepth", "0")
    (pid,) = spawner.own_processes() - {os.getpid()}
    os.kill(pid, signal.SIGKILL)
    for _ in range(200):
        if not psutil.pid_exists(pid) or psutil.Process(pid).status() == psutil.STATUS_ZOMBIE:
            break
        time.sleep(0.01)
    assert run("find", "/proc", "-maxdepth", "0").status == 0
    assert spawner.own_processes() - {os.getpid(), pid}


def test_a_spawner_that_dies_while_a_command_runs_leaves_none_behind(tmp_path):
    os.mkfifo(tmp_path / "never")
    run("find", "/proc", "-maxdepth", "0")
    (pid,) = spawner.own_processes() - {os.getpid()}
    threading.Timer(0.3, os.kill, (pid, signal.SIGKILL)).start()
    with pytest.raises(CouldNotRead):
        run("grep", "x", str(tmp_path / "never"), timeout=1.5)
    assert not [
        p for p in psutil.process_iter(["cmdline"]) if str(tmp_path / "never") in (p.info["cmdline"] or [])
    ]


def test_whoever_dies_takes_its_commands_and_its_spawner_along(tmp_path):
    os.mkfifo(tmp_path / "never")
    program = (
        f"from swept_shelf.core.machine.commands import run; run('grep', 'x', {str(tmp_path / 'never')!r})"
    )
    parent = subprocess.Popen([sys.executable, "-c", program])
    for _ in range(500):
        if len(mine := spawned_by(parent.pid)) == 2:
            break
        time.sleep(0.02)
    assert len(mine) == 2, mine
    parent.kill()
    parent.wait()
    _, alive = psutil.wait_procs(mine, timeout=10)
    assert alive == []


def test_a_forked_process_has_a_spawner_of_its_own():
    run("find", "/proc", "-maxdepth", "0")
    ours = spawner.own_processes()
    child = os.fork()
    if child == 0:
        alike = (
            spawner.own_processes() == {os.getpid()} and run("find", "/proc", "-maxdepth", "0").status == 0
        )
        os._exit(0 if alike and not (spawner.own_processes() & ours) else 1)
    assert os.waitpid(child, 0)[1] == 0
    assert run("find", "/proc", "-maxdepth", "0").status == 0 and spawner.own_processes() == ours


@root_only
def test_what_was_mounted_since_is_seen_and_read_only_too(tmp_path):
    place, disk = tmp_path / "place", tmp_path / "disk"
    place.mkdir()
    disk.mkdir()
    (disk / "it").write_text("x")
    assert run("find", str(place), "-printf", "%P|").out == b"|"
    subprocess.run(["mount", "--bind", str(disk), str(place)], check=True)
    try:
        assert run("find", str(place), "-printf", "%P|").out == b"|it|"
        mounts = run("grep", f" {place} ", "/proc/self/mountinfo").out.split()
        assert mounts[5].startswith(b"ro")
    finally:
        subprocess.run(["umount", str(place)], check=True)
