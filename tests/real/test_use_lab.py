"""When real applications were last used, judged against the days on which they really ran: `make test-lab` (as root).

Half of them (FIRST) were there while the rules were written, half (LATER) joined when the rules were frozen. LAB_APPS="name name"
(and LAB_TERMINAL, for those of the terminal) tries others than these: packages, with "=program" where that is called otherwise."""

from __future__ import annotations

import os
import shutil
import tempfile
import time
from datetime import UTC, datetime
from pathlib import Path

import pytest
from laboratory import (
    DAY,
    DESKTOP_FIRST,
    DESKTOP_LATER,
    FIRST,
    LATER,
    OTHERS,
    SERVICE,
    Laboratory,
    counted,
    days_of,
    lab_root,
    line_of,
)

from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey.take import take_survey

pytestmark = [pytest.mark.real, pytest.mark.skipif(os.geteuid() != 0, reason="needs root")]
SETS = (("later", OTHERS),) if OTHERS else (("first", FIRST), ("later", LATER))
APPS = tuple(app for _, apps in SETS for app in apps)
RECORDED = OTHERS[::4] if OTHERS else (*DESKTOP_FIRST[::4], *DESKTOP_LATER[::4])
UPGRADED = APPS[1::7] if OTHERS else ("galculator", "geany", "zathura", "abiword", "meld", "htop")
CHECKED, AT_LOGOUT, BY_JOB = APPS[2::9], APPS[3::4], APPS[5]
NOISE = (
    "none",
    "backup",
    "upgrade",
    "noatime",
    "all of them",
    "few checked",
    "home restored",
    "logouts",
    "job",
)


@pytest.fixture(scope="module")
def lab():
    top, now = Path(tempfile.mkdtemp(prefix="real-lab-")), int(time.time())
    try:
        lab_root(top / "root", (*APPS, SERVICE))
        with Laboratory(top / "root", now - 700 * DAY) as made:
            made.age()
            for app, person, at in days_of(APPS, now, int(os.environ.get("LAB_SEED", "4"))):
                made.run(app, person, at)
            made.write_logins()
            last = {r.app: r for r in made.runs if r.app in RECORDED}
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
    if noise in ("few checked", "all of them"):
        lab.check_few(list(CHECKED), now - 5 * DAY)
    if noise == "home restored":
        lab.home_restored("joris", now - 2 * DAY)
    if noise == "logouts":
        lab.logouts_write(
            [p for app in AT_LOGOUT for p in written(lab, app)], "hanna", [now - d * DAY for d in (9, 6, 2)]
        )
    if noise == "job":
        lab.job(BY_JOB, "hanna", written(lab, BY_JOB), (now // DAY - 1) * DAY + 3 * 3600)


def written(lab: Laboratory, app: str) -> list[str]:
    """What only this application wrote in its last run in hanna's home and is still there; a few of them."""
    last = max((r for r in lab.runs if r.app == app), key=lambda r: r.at)
    others = {p for r in lab.runs if r.app != app for p in r.wrote}
    return [
        p
        for p in sorted(last.wrote - others)
        if p.startswith("/home/hanna/") and (lab.root / p[1:]).is_file()
    ][:2]


@pytest.mark.parametrize("noise", NOISE)
def test_the_last_use_is_known_within_a_day_and_noise_never_makes_it_later(lab, noise, tmp_path):
    lay_over(lab, noise)
    survey = take_survey(open_machine(lab.root), str(tmp_path), [])
    judged = {app: line_of(survey, app).last_use for app in (*APPS, SERVICE)}
    right, not_later = {}, {}
    for name, apps in SETS:
        for app in apps:
            truth, said = max(r.at for r in lab.runs if r.app == app), judged[app].at
            if lab.honest(app):
                right[app] = said is not None and abs(said.timestamp() - truth) <= DAY
            not_later[app] = said is None or said.timestamp() <= truth + DAY
            if not (right.get(app, True) and not_later[app]):
                signs = "".join(
                    f"\n    {s.kind} {s.at} {s.source} {s.doubt} {s.set_aside}" for s in judged[app].signs
                )
                print(f"\n  {app} ran {datetime.fromtimestamp(truth, UTC)}, said {said}:{signs}")
        print(
            f"\n{noise}, {name}: {counted({a: right[a] for a in apps if a in right})};"
            f" no later than the truth: {counted({a: not_later[a] for a in apps})}"
        )
    assert sum(right.values()) >= 0.97 * len(right), counted(right)
    assert all(not_later.values()), counted(not_later)
    assert judged[SERVICE].background and judged[SERVICE].at is None
