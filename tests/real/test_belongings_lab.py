"""What belongs to real applications, held against what each alone created in a fresh home: `make test-lab` (as root).

Half of them (FIRST) were there while the rules were written, half (LATER) joined when the rules were frozen. LAB_APPS="name name"
(and LAB_TERMINAL, for those of the terminal) tries others than these: packages, with "=program" where that is called otherwise."""

from __future__ import annotations

import os
import shutil
import tempfile
import time
from collections import defaultdict
from pathlib import Path

import pytest
from laboratory import DAY, FIRST, LATER, OTHERS, SERVICE, Laboratory, lab_root, line_of

from real.debian_root import sh
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Belonging, Survey
from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey.take import take_survey

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]
SETS = (("first", ()), ("later", OTHERS)) if OTHERS else (("first", FIRST), ("later", LATER))
APPS = tuple(app for _, apps in SETS for app in apps)
HOME = "/home/hanna"
# Written while nobody's program ran: the person's own, and what shells and logins keep.
OWN = (".bash_history", ".bashrc", ".profile", ".bash_logout", ".Xauthority", "Documents")


@pytest.fixture(scope="module")
def lab():
    """Each application once in a home of its own; then all that they created in one home."""
    top = Path(tempfile.mkdtemp(prefix="real-belongings-"))
    try:
        lab_root(top / "root", (*APPS, SERVICE))
        with Laboratory(top / "root", int(time.time()) - 700 * DAY) as made:
            made.age()
            home, stash = made.root / HOME[1:], top / "stash"
            made.created = defaultdict(set)
            for app in APPS:
                sh(
                    f"rm -rf {home}; cp -a {made.root}/etc/skel {home}; mkdir -p {home}/Documents;"
                    f" echo letter > {home}/Documents/letter.txt;"
                    f"chown -R 1000:1000 {home}"
                )
                before = {str(p.relative_to(home)) for p in home.rglob("*")}
                made.run(app, "hanna", int(time.time()) - 5 * DAY)
                new = {
                    str(p.relative_to(home)) for p in home.rglob("*") if p.is_file() and not p.is_symlink()
                } - before
                for path in new:
                    made.created[path].add(app)
                sh(f"mkdir -p {stash}; cp -a {home}/. {stash}/")
            sh(f"rm -rf {home}; cp -a {stash} {home}")
            yield made
    finally:
        shutil.rmtree(top, ignore_errors=True)


def covers(b: Belonging, path: str) -> bool:
    return within(path, b.path) and not any(within(path, x) for x in b.except_)


def _of_the_system(survey: Survey, root: Path) -> None:
    """What stands in the system's folders and no list has: whose it is, and what nobody is said to have."""
    claimed = [
        b.path for a in survey.applications for b in a.belongings if b.is_path and b.person == "everyone"
    ]
    lists = f"cat {root}/var/lib/dpkg/info/*.list | sort -u"
    listed = set(sh(lists).splitlines())
    places = [
        p
        for top in ("etc", "var/lib", "var/cache", "var/games", "usr/local", "usr/lib", "usr/share", "opt")
        for p in ("/" + str(q.relative_to(root)) for q in (root / top).rglob("*"))
        if p not in listed
    ]
    tops = [p for p in sorted(places) if str(Path(p).parent) in listed]
    unknown = [p for p in tops if not any(within(p, c) for c in claimed)]
    print(
        f"of {len(tops)} places of the system in no list {len(tops) - len(unknown)} are an application's; the rest:"
    )
    print("  " + " ".join(unknown))


def test_what_each_alone_created_is_its_own_and_nothing_else_is_ticked(lab, tmp_path):
    survey = take_survey(open_machine(lab.root), str(tmp_path), [])
    called = {line_of(survey, app).id: app for app in APPS}
    belongings = {
        called.get(a.id, a.packages[0]): [b for b in a.belongings if b.is_path and b.person == "hanna"]
        for a in survey.applications
        if a.registry == "debian"
    }
    there = {
        p: apps
        for p, apps in lab.created.items()
        if (lab.root / HOME[1:] / p).exists() and p.split("/")[0] not in OWN
    }
    alone = {f"{HOME}/{p}": next(iter(apps)) for p, apps in there.items() if len(apps) == 1}
    found = {p: any(covers(b, p) for b in belongings.get(app, ())) for p, app in alone.items()}
    size = {p: os.lstat(f"{lab.root}{p}").st_size for p in alone}
    ticked = {
        p for p, app in alone.items() if any(b.ticked and covers(b, p) for b in belongings.get(app, ()))
    }
    claims = [(app, b) for app, rows in belongings.items() for b in rows if b.share != "common"]
    others = sorted(
        {
            (app, b.path)
            for app, b in claims
            if (mine := [p for p in there if covers(b, f"{HOME}/{p}")])
            and not any(app in there[p] for p in mine)
        }
    )
    print(
        f"\n{len(ticked)} of {len(alone)} ticked; {len(claims)} claims, {len(others)} of them another's: {others}"
    )
    _of_the_system(survey, lab.root)
    common = {p for p in alone if any(within(p, c.path) for c in survey.common)}
    for name, apps in SETS:
        mine = [p for p, app in alone.items() if app in apps]
        good = [p for p in mine if found[p]]
        print(
            f"\n{name}: {len(good)} of {len(mine)} paths, {sum(size[p] for p in good)} "
            f"of {sum(size[p] for p in mine)} bytes; of the others known as common: {len(common & set(mine) - set(good))}"
        )
        for p in sorted(set(mine) - set(good)):
            print(f"  {'common, though' if p in common else 'not known as'} {alone[p]}'s: {p}")
        for p in sorted(set(good) - ticked):
            why = {b.reason for b in belongings.get(alone[p], ()) if covers(b, p)}
            print(f"  known and not ticked as {alone[p]}'s: {p}: {'; '.join(sorted(why))}")
    wrong = [
        (app, b.path, p, sorted(there[p]))
        for app, rows in belongings.items()
        for b in rows
        if b.ticked
        for p in there
        if covers(b, f"{HOME}/{p}") and there[p] != {app}
    ]
    ours = [
        (app, b.path)
        for app, rows in belongings.items()
        for b in rows
        if b.ticked
        for p in OWN
        if within(f"{HOME}/{p}", b.path) or within(b.path, f"{HOME}/{p}")
    ]
    print(
        f"{len(there)} paths created, {len(alone)} by one alone; ticked that is another's or shared: {wrong}"
    )
    assert wrong == [] and ours == []
    known = {p for p in alone if found[p] or p in common}
    assert len(known) >= 0.97 * len(alone) and sum(size[p] for p in known) >= 0.99 * sum(size.values())
