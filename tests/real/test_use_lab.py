"""When real applications were last used, judged against the days on which they really ran: `make test-lab` (as root).

Half of them (FIRST) were there while the rules were written, half (LATER) joined when the rules were frozen."""

from __future__ import annotations

import os
import shutil
import tempfile
import time
from pathlib import Path

import pytest
from laboratory import (
    DAY,
    DESKTOP_FIRST,
    DESKTOP_LATER,
    FIRST,
    LATER,
    SERVICE,
    Laboratory,
    counted,
    days_of,
    lab_root,
)

from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey.take import take_survey

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]
UPGRADED = ("galculator", "geany", "zathura", "abiword", "meld", "htop")
NOISE = ("none", "backup", "upgrade", "noatime", "all of them")


@pytest.fixture(scope="module")
def lab():
    top, now = Path(tempfile.mkdtemp(prefix="real-lab-")), int(time.time())
    try:
        lab_root(top / "root", (*FIRST, *LATER, SERVICE))
        with Laboratory(top / "root", now - 700 * DAY) as made:
            made.age()
            for app, person, at in days_of((*FIRST, *LATER), now, int(os.environ.get("LAB_SEED", "4"))):
                made.run(app, person, at)
            made.write_logins()
            last = {r.app: r for r in made.runs if r.app in (*DESKTOP_FIRST[::4], *DESKTOP_LATER[::4])}
            made.write_journal(list(last.values()))
            made.remember()
            yield made
    finally:
        shutil.rmtree(top, ignore_errors=True)


def lay_over(lab: Laboratory, noise: str) -> None:
    now = int(time.time())
    lab.restore()
    if noise in ("upgrade", "all of them"):
        lab.upgrade(list(UPGRADED), now - 20 * DAY)
    if noise in ("backup", "all of them"):
        lab.backup(now - 3 * DAY)
    if noise in ("noatime", "all of them"):
        lab.noatime()


@pytest.mark.parametrize("noise", NOISE)
def test_the_last_use_is_known_within_a_day_and_noise_never_makes_it_later(lab, noise, tmp_path):
    lay_over(lab, noise)
    survey = take_survey(open_machine(lab.root), str(tmp_path), [])
    judged = {a.packages[0]: a.last_use for a in survey.applications if a.registry == "debian"}
    right, not_later = {}, {}
    for name, apps in (("first", FIRST), ("later", LATER)):
        for app in apps:
            truth, said = max(r.at for r in lab.runs if r.app == app), judged[app].at
            if lab.honest(app):
                right[app] = said is not None and abs(said.timestamp() - truth) <= DAY
            not_later[app] = said is None or said.timestamp() <= truth + DAY
        print(
            f"\n{noise}, {name}: {counted({a: right[a] for a in apps if a in right})};"
            f" no later than the truth: {counted({a: not_later[a] for a in apps})}"
        )
    assert sum(right.values()) >= 0.97 * len(right), counted(right)
    assert all(not_later.values()), counted(not_later)
    assert judged[SERVICE].background and judged[SERVICE].at is None
