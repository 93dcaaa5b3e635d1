"""Twenty and more real applications in one order on a fresh Debian root, services among them, that share files: `make test-real`."""

from __future__ import annotations

import contextlib
import ctypes
import os
import random
import signal
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path

import pytest

from helpers import Job, MadeUp, differences, picture
from real.debian_root import SERVICED, make_root, on_a_disk_of_its_own, sh
from real.test_real import MADE_ANEW
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.documents.operations import EditLines
from swept_shelf.core.documents.order import FREED

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]

APPS = [
    "galculator",
    "mousepad",
    "l3afpad",
    "xarchiver",
    "gpicview",
    "feh",
    "mc",
    "htop",
    "ncdu",
    "tmux",
    "screen",
    "joe",
    "jed",
    "tinyproxy",
    "lighttpd",
    "vsftpd",
    "rsync",
    "figlet",
    "sl",
    "jq",
    "xterm",
    "zathura",
    "ristretto",
]
# Beside what three applications leave: what triggers and services write anew.
ALSO_ANEW = (
    "/usr/lib/x86_64-linux-gnu/gtk-2.0/2.10.0/immodules.cache",
    "/usr/lib/x86_64-linux-gnu/gdk-pixbuf",
    "/usr/share/info/dir",
    "/var/lib/ucf",
    "/var/lib/systemd",
    "/var/cache/man",
    "/etc/papersize.dpkg-inst",  # left by its package's own script, which was answered anew
)


@pytest.fixture(scope="module")
def debian():
    with on_a_disk_of_its_own("real-many-", "4g") as top:
        make_root(top / "root", (*APPS, *SERVICED), "DEBIAN_MANY_ROOT")
        furnish(top / "root")
        yield MadeUp(top)


def furnish(root: Path) -> None:
    """Two people whose files name many of them at once."""
    editors = [a for a in APPS if list(root.glob(f"usr/share/applications/*{a}*.desktop"))]
    launchers = [p.name for a in editors for p in root.glob(f"usr/share/applications/*{a}*.desktop")]
    for number, name in enumerate(("hanna", "odile")):
        sh(f"chroot {root} useradd -m -u {1000 + number} -s /bin/bash {name}")
        home = root / "home" / name
        marks = "".join(
            f'  <bookmark href="file:///home/{name}/n{i}.txt">\n'
            '    <info><metadata owner="http://freedesktop.org"><bookmark:applications>\n'
            + "".join(
                f'      <bookmark:application name="{a}" exec="&apos;{a} %u&apos;" modified="2026-05-01T10:00:00Z" count="1"/>\n'
                for a in pair
            )
            + "    </bookmark:applications></metadata></info>\n  </bookmark>\n"
            for i, pair in enumerate([editors[:2], editors[1:3], editors[2:5], editors[:1]])
        )
        files = {
            ".config/mimeapps.list": "[Default Applications]\ntext/plain="
            + ";".join(launchers)
            + ";\nimage/png="
            + ";".join(launchers[::-1])
            + "\nx/own=own.desktop\n",
            ".local/share/recently-used.xbel": '<?xml version="1.0"?>\n'
            '<xbel version="1.0" xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks">\n'
            + marks
            + "</xbel>\n",
            ".bashrc": "alias m='mc -b'\nalias t='tmux new'; alias s='screen -R'\n"
            "alias ll='ls -l'\nif true; then htop -v >/dev/null; fi\n"
            "figlet hello\n",
            ".config/mc/ini": "[Midnight-Commander]\nverbose=true\n",
            ".config/htop/htoprc": "fields=0\n",
            ".config/autostart/galculator.desktop": "[Desktop Entry]\nType=Application\nName=Sums\nExec=galculator\n",
            "Documents/own.txt": "mine\n",
        }
        for path, text in files.items():
            (home / path).parent.mkdir(parents=True, exist_ok=True)
            (home / path).write_text(text)
        sh(f"chown -R {1000 + number}:{1000 + number} {home}")
    (root / "etc/cron.d/night").write_text(
        "5 3 * * * root /usr/bin/tinyproxy -h >/dev/null\n6 3 * * *\troot\tlighttpd "
        "-t\n7 3 * * * root true\n8 3 * * * root rsync -a /a /b\n"
    )


@contextlib.contextmanager
def running(root: Path, program: str) -> Iterator[None]:
    """A program of the root as it stands right after it was started: traced, so that it does not go on (ptrace(2))."""
    pid = os.fork()
    if pid == 0:
        try:
            os.chroot(root)
            os.chdir("/")
            ctypes.CDLL(None).ptrace(0, 0, 0, 0)
            os.execv(program, [program])
        finally:
            os._exit(1)
    os.waitpid(pid, 0)
    try:
        yield
    finally:
        os.kill(pid, signal.SIGKILL)
        os.waitpid(pid, 0)


def unexplained(before, after) -> list[str]:
    """Differences in content, owner or mode that put back does not excuse."""
    anew = (*MADE_ANEW, *ALSO_ANEW)
    return [d for d in differences(before, after, times=False) if not d.startswith(anew)]


def registered(root: Path) -> str:
    return sh(
        f"dpkg-query --admindir={root}/var/lib/dpkg -W -f '${{Package}} ${{Version}} "
        f"${{Status}}\\n'; cat {root}/var/lib/apt/extended_states | sort"
    )


def test_all_of_them_in_one_order_go_and_come_back_one_first(debian, tmp_path):
    job = Job(debian, survey=False)
    job.shop = type(job.shop)(str(debian.root), str(tmp_path / "ledger.sqlite"))
    job.survey()
    applications = [a for a in job.surveyed.survey.applications if a.registry == "debian" and not a.protected]
    ids = [a.id for a in applications if a.packages[0] in APPS or a.own_packages[0] in APPS]
    assert len(ids) >= 20, sorted(a.id for a in applications)
    before, known = picture(debian.root), registered(debian.root)
    answers = {f"needed_by:{a.id}": "remove_both" for a in applications}
    answers |= {f"pointed_at:{a.id}": "go_too" for a in applications}
    order = job.order(*ids, answers=answers)
    assert order.unsettled == []
    began = time.monotonic()
    rehearsal = job.shop.orders.rehearse(order, "the order")
    print(
        f"{len(order.lines)} lines, {len(order.packages)} packages, {len(rehearsal.plan.operations)} operations"
    )
    print(f"rehearsed in {time.monotonic() - began:.1f} s")
    assert rehearsal.problems == {} and rehearsal.refused == ""
    edited = Counter(op.path for op in rehearsal.plan.operations if isinstance(op, EditLines))
    assert max(edited.values()) > 2, edited
    began = time.monotonic()
    run = job.carry(job.prepare(order))
    print(f"carried out in {time.monotonic() - began:.1f} s")
    skipped = [(r.where, r.note) for r in records_of(run) if r.state != "done"]
    assert skipped == [], "\n".join(map(str, skipped))
    clearance = job.clearance()
    for line in clearance.lines:
        for c in line.cells:
            for f in c.findings:
                print("found:", line.name, c.family, f.path, f.line, f.text[:80], f.detail)
    left = {x.path for x in run.plan.left_alone}
    told = [
        f
        for x in clearance.lines
        for c in x.cells
        for f in c.findings
        if f.path in left or "on purpose" in f.detail
    ]
    everything = [f for x in clearance.lines for c in x.cells for f in c.findings]
    assert [f for f in everything if f not in told] == []
    middle = [line.id for line in order.lines if line.packages][len(order.lines) // 2]
    print("put back first:", middle)
    assert job.put_back([middle])["left"] == 0
    rest = job.put_back()
    assert rest["left"] == 0, rest["why"]
    wrong = unexplained(before, picture(debian.root, shelf=True))
    assert wrong == [], "\n".join(w[:200] for w in wrong)
    assert registered(debian.root) == known
    assert sh(f"chroot {debian.root} dpkg --audit") == ""


@pytest.mark.parametrize("seed", range(4))
def test_what_the_rehearsal_says_is_what_happens(debian, tmp_path, seed):
    """Orders drawn at random, with a trouble each: a line is left where the rehearsal said so, done whole everywhere else."""
    chance = random.Random(seed)
    job = Job(debian, survey=False)
    job.shop = type(job.shop)(str(debian.root), str(tmp_path / "ledger.sqlite"))
    job.survey()
    applications = [a for a in job.surveyed.survey.applications if a.registry == "debian" and not a.protected]
    before, known = picture(debian.root), registered(debian.root)
    ids = chance.sample([a.id for a in applications if a.own_packages[0] in APPS], chance.randint(1, 6))
    answers = {f"needed_by:{a.id}": "remove_both" for a in applications}
    answers |= {f"pointed_at:{a.id}": "they_stay" for a in applications}
    order = job.order(*ids, answers=answers)
    run = job.prepare(order)
    victim = job.app(chance.choice(ids))
    with contextlib.ExitStack() as trouble:
        if seed % 2:
            trouble.enter_context(running(debian.root, victim.executables[0]))
        said = job.shop.orders.rehearse(order, "the order")
        print(len(order.lines), "lines,", f"{victim.name} runs" if seed % 2 else "", said.problems)
        job.carry(run)
    states: dict[str, set[str]] = {}
    for r in records_of(run):
        states.setdefault(r.line, set()).add(str(r.state))
    for line, seen in states.items():
        if line != FREED:
            assert (seen == {"left"}) == (line in said.problems), (line, seen, said.problems)
            assert seen in ({"left"}, {"done"}), [r for r in records_of(run) if r.line == line]
    assert (victim.id in said.problems) == bool(seed % 2)
    assert job.put_back()["left"] == 0
    assert unexplained(before, picture(debian.root, shelf=True)) == []
    assert registered(debian.root) == known
