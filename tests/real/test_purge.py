"""What stays of twenty real applications: after their registry's own purge, and after ours. `make test-real` (as root).

Each is installed by itself, so that it is known what came with it, and used: desktop and terminal programs by a person, services
started and ended. PURGE_TABLE=FILE writes the table, PURGE_KEEP=DIR keeps the used root, PURGE_USED=DIR takes one that was
kept."""

from __future__ import annotations

import json
import os
import re
import time
from pathlib import Path

import pytest

from helpers import Job, MadeUp
from real.debian_root import SERVICED, on_a_disk_of_its_own, sh
from real.laboratory import DAY, Laboratory, lab_root
from real.test_real import MADE_ANEW

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]


def _chosen(name: str, *usual: str) -> tuple[str, ...]:
    """Others than the usual ones where PURGE_SERVICES and so on name them."""
    return tuple(os.environ[f"PURGE_{name}"].split()) if f"PURGE_{name}" in os.environ else usual


SERVICES = _chosen(
    "SERVICES", "mosquitto", "redis-server", "memcached", "dnsmasq", "ntpsec", "icecast2", "privoxy", "bind9"
)
GAMES = _chosen("GAMES", "greed", "bastet", "moon-buggy", "ninvaders")
DESKTOP = _chosen("DESKTOP", "geany", "hexchat", "xpad", "featherpad", "pidgin")
TERMINAL = _chosen("TERMINAL", "irssi", "newsboat", "moc")
APPS = (*SERVICES, *GAMES, *DESKTOP, *TERMINAL)
_STARTED = {"moc": "mocp", "greed": "greed"}
# What belongs to the registry's tools and to everybody, and changes whoever comes or goes.
_EVERYBODYS = (
    *(p for p in MADE_ANEW if p != "/var/log/"),
    "/var/lib/dpkg",
    "/var/lib/apt",
    "/var/cache",
    "/var/log/apt",
    "/var/log/dpkg.log",
    "/var/log/alternatives.log",
    "/var/lib/systemd",
    "/etc/ld.so.cache",
    "/usr/share/mime",
    "/usr/lib/x86_64-linux-gnu/gdk-pixbuf",
    "/tmp",
    "/proc",
    "/sys",
    "/dev",
    "/run",
    "/var/tmp",
    "/.swept-shelf",
)
_ACCOUNTS = ("passwd", "group", "shadow", "gshadow", "subuid", "subgid")


def paths(root: Path) -> set[str]:
    found = set()
    for folder, folders, names in os.walk(root):
        here = folder[len(str(root)) :]
        if here.startswith(("/proc", "/sys", "/dev")):
            folders.clear()
            continue
        found |= {f"{here}/{n}" for n in (*folders, *names)}
    return {p for p in found if not p.startswith(_EVERYBODYS) and "/__pycache__" not in p}


def accounts(root: Path) -> set[str]:
    """Each line of the lists of accounts by its first field, with the list."""
    return {
        f"{name}: {line.split(':')[0]}"
        for name in _ACCOUNTS
        for line in (root / "etc" / name).read_text().split("\n")
        if line
    }


@pytest.fixture(scope="module")
def used():
    """A root with all of them installed and used, and what came with each."""
    with on_a_disk_of_its_own("real-purge-", "9g") as top:
        root = top / "root"
        if made := os.environ.get("PURGE_USED"):
            sh(f"cp -a {made}/root {root}")
            yield (
                top,
                {app: set(rows) for app, rows in json.loads(Path(made, "came.json").read_text()).items()},
            )
            return
        lab_root(root, SERVICED)
        came: dict[str, set[str]] = {}
        with Laboratory(root, int(time.time()) - 400 * DAY) as lab:
            for app in APPS:
                before, who = paths(root), accounts(root)
                sh(
                    f"chroot {root} sh -ec 'DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "
                    f"{app}' >/dev/null 2>&1"
                )
                if app in SERVICES:
                    sh(
                        f"chroot {root} sh -c 'for s in $(dpkg -L {app} | grep ^/etc/init.d/); do $s start; sleep 1; $s stop; done'"
                        " >/dev/null 2>&1 || true"
                    )
                    lab._end()
                elif app in DESKTOP:
                    lab.run(app, "hanna", int(time.time()) - 5 * DAY)
                else:
                    lab._in_terminal(_STARTED.get(app, app), "hanna", int(time.time()) - 5 * DAY)
                came[app] = (paths(root) - before) | (accounts(root) - who)
            sh(f"chroot {root} apt-get clean")
        if keep := os.environ.get("PURGE_KEEP"):
            sh(f"mkdir -p {keep}; cp -a {root} {keep}/root")
            Path(keep, "came.json").write_text(json.dumps({app: sorted(rows) for app, rows in came.items()}))
        yield top, came


# Nobody's application's: a person's standard folders and shell history, the host table, and what a tool of the system keeps of
# its own lists before each change.
_NOT_THEIRS = re.compile(
    r"/home/\w+/(\.local|\.local/share|\.config/dconf(/user)?|\.config/pulse(/.*)?|\.cache|\.config|\.config/autostart|\.cache/gstreamer-1\.0.*|\.bash_history|Downloads)$"
    r"|/home/\w+/\.cache/(dconf|fontconfig|mesa_shader_cache|openbox)\b|/etc/hosts$|/var/lib/ucf/(hashfile|registry)\.\d$|/usr/share/info/dir"
)


def left(root: Path, came: dict[str, set[str]]) -> dict[str, list[str]]:
    """What came with each and is there, apart from what a package lists that its registry keeps for others."""
    kept = set(sh(f"chroot {root} sh -c 'cat /var/lib/dpkg/info/*.list'").splitlines())
    there = {p for p in (paths(root) | accounts(root)) - kept if not _NOT_THEIRS.match(p)}
    return {app: sorted(rows & there) for app, rows in came.items()}


def test_nothing_of_twenty_applications_is_left(used, tmp_path):
    top, came = used
    sh(f"mkdir {top}/theirs; cp -a {top}/root {top}/theirs/root")
    theirs = top / "theirs/root"
    for app in APPS:
        sh(
            f"chroot {theirs} sh -ec 'DEBIAN_FRONTEND=noninteractive apt-get purge -y -qq --auto-remove {app}' >/dev/null 2>&1"
        )
    by_purge = left(theirs, came)
    job = Job(MadeUp(top), survey=False)
    job.shop = type(job.shop)(str(top / "root"), str(tmp_path / "ledger.sqlite"))
    job.survey()
    named = {
        a.own_packages[0].split(":")[0]: a.id for a in job.surveyed.survey.applications if a.own_packages
    }
    ids = [named[app] for app in APPS if app in named]
    assert len(ids) == len(APPS), set(APPS) - set(named)
    answers = {f"{q}:{id}": "go_too" for id in ids for q in ("personal", "pointed_at")}
    run = job.carry(job.prepare(job.order(*ids, answers=answers)))
    proved = job.clearance()
    job.empty()
    ours = left(top / "root", came)
    table = _table(came, by_purge, ours)
    print(table)
    if where := os.environ.get("PURGE_TABLE"):
        Path(where).write_text(table)
    found = [(line.name, family, f.path, f.detail) for line in proved.lines for family, f in line.found]
    assert found == [] and {app: rows for app, rows in ours.items() if rows} == {}
    assert sum(map(len, by_purge.values())) > 0 and run.order


def _table(came: dict[str, set[str]], theirs: dict[str, list[str]], ours: dict[str, list[str]]) -> str:
    rows = [
        "| application | came | left by its registry's purge | what, for example | left by us |",
        "|---|---|---|---|---|",
    ]
    for app in came:
        example = ", ".join(f"`{p}`" for p in _outermost(theirs[app])[:3])
        rows.append(f"| {app} | {len(came[app])} | {len(theirs[app])} | {example} | {len(ours[app])} |")
    totals = (sum(map(len, x.values())) for x in (came, theirs, ours))
    rows.append("| all | {} | {} | | {} |".format(*totals))
    return "\n".join(rows) + "\n"


def _outermost(rows: list[str]) -> list[str]:
    kept: list[str] = []
    for row in rows:
        if not kept or not row.startswith(kept[-1] + "/"):
            kept.append(row)
    return kept
