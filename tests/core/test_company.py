"""Nobody uses several programs in one moment, and what starts by itself writes by itself: such signs are set aside, with why."""

from __future__ import annotations

import os
from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from evidence import DAY, DESKTOP, SERVICE, TERMINAL, VERA_UID, ago, seconds, signs
from registries import launcher, write
from swept_shelf.core.use.company import crowds, during, put_back
from swept_shelf.core.use.schedule_times import crontab, timers

SEVERAL = [f"pomefold{i}" for i in range(8)]


@pytest.fixture
def several(room):
    """Eight more desktop programs, none of which has to do with another."""
    room.packages(
        {
            name: {
                f"usr/bin/{name}": f'#!/bin/sh\nplace="$HOME/.config/{name}"\n',
                f"usr/share/applications/{name}.desktop": launcher(name.title(), name),
                f"usr/share/doc/{name}/copyright": "made up\n",
                f"usr/share/doc/{name}/changelog": "made up\n",
            }
            for name in SEVERAL
        }
    )
    return room


def why(use, kind: str) -> set[str]:
    return {s.set_aside for s in signs(use, kind) if s.set_aside}


# -- read in company ----------------------------------------------------------------------------------------


def test_a_check_of_one_package_that_reads_its_documents_too_is_no_use(several, uses):
    several.times(f"usr/bin/{SEVERAL[0]}", ago(4))
    for name in ("copyright", "changelog"):
        several.times(f"usr/share/doc/{SEVERAL[0]}/{name}", ago(4) + 2)
    several.times(f"usr/bin/{SEVERAL[1]}", ago(4))
    found = uses()
    assert found[SEVERAL[0]].at is None
    assert why(found[SEVERAL[0]], "program read") == {
        "its documents were read with it: its package was checked or copied"
    }
    assert seconds(found[SEVERAL[1]].at) == ago(4)


def test_a_part_that_was_read_without_its_program_is_no_use_of_it(room, uses):
    """An interpreter that looks through what is installed reads a file of it; a use of that day reads both."""
    room.times(f"usr/bin/{DESKTOP}", ago(40))
    room.times(f"usr/lib/{DESKTOP}/engine.bin", ago(4))
    found = uses()[DESKTOP]
    assert seconds(found.at) == ago(40)
    assert why(found, "parts read") == {"its program was not read then: another one read this"}
    room.times(f"usr/bin/{DESKTOP}", ago(4.5))
    assert seconds(uses()[DESKTOP].at) == ago(4)


def test_programs_of_several_applications_read_in_one_moment_were_not_all_used(several, uses):
    for i, name in enumerate(SEVERAL[:4]):
        several.times(f"usr/bin/{name}", ago(4) + 2 * i)
    several.times(f"usr/bin/{SEVERAL[4]}", ago(4) + 600)
    found = uses()
    assert {found[n].at for n in SEVERAL[:4]} == {None}
    assert why(found[SEVERAL[0]], "program read") == {"several programs were read in the same moment"}
    assert seconds(found[SEVERAL[4]].at) == ago(4) + 600


def test_a_program_that_was_read_while_one_person_was_there_was_used_by_that_one(room, uses):
    room.logins(
        ("vera", ago(30), ago(30) + 3600), ("otto", ago(5), ago(5) + 3600), ("vera", ago(5) + 60, ago(4))
    )
    room.times(f"usr/bin/{TERMINAL}", ago(30) + 60)
    room.times(f"usr/bin/{DESKTOP}", ago(5) + 600)
    found = uses()
    assert found[TERMINAL].person == "vera"
    assert found[DESKTOP].at is not None and found[DESKTOP].person == ""  # both were there


# -- written in company -------------------------------------------------------------------------------------


def test_settings_of_several_programs_written_in_one_moment_are_no_use_and_an_earlier_write_of_that_day_is(
    several, uses
):
    noon = ago(20) // DAY * DAY + 43_200
    for i, name in enumerate(SEVERAL[:3]):
        several.home("vera", f".config/{name}/settings", "x", noon + i)
    several.home("vera", f".config/{SEVERAL[0]}/window", "x", noon - 3600)
    several.home("vera", f".config/{SEVERAL[3]}/settings", "x", noon + 300)
    found = uses()
    assert seconds(found[SEVERAL[0]].at) == noon - 3600
    assert found[SEVERAL[1]].at is None
    assert why(found[SEVERAL[1]], "preferences written") == {
        "several programs wrote their files in the same moment"
    }
    assert seconds(found[SEVERAL[3]].at) == noon + 300


def test_a_home_put_back_without_its_times_is_no_use_of_any_of_its_programs(several, uses):
    for i, name in enumerate(SEVERAL):
        for n in range(3):
            several.home("vera", f".config/{name}/{n}", "x", ago(6) + 40 * i + n)
    for i in range(200):  # and much else, older
        several.home("vera", f"Letters/{i}", "x", ago(300) + i * 9000)
    several.home("vera", f".config/{SEVERAL[2]}/1", "x", ago(2))
    several.home("vera", f".config/{SEVERAL[2]}/4", "x", ago(2) - 50)
    found = uses()
    assert {n for n in SEVERAL if found[n].at is not None} == {SEVERAL[2]}
    assert seconds(found[SEVERAL[2]].at) == ago(2)
    assert any("put back" in w for w in why(found[SEVERAL[0]], "preferences written"))


def test_what_is_written_as_a_session_ends_is_no_use_and_what_was_written_in_it_is(room, uses):
    room.logins(("vera", ago(9), ago(9) + 7200), ("vera", ago(3), ago(3) + 7200))
    room.home("vera", f".config/{DESKTOP}/state", "x", ago(3) + 7203)
    room.home("vera", f".config/{DESKTOP}/page", "x", ago(9) + 900)
    use = uses()[DESKTOP]
    assert seconds(use.at) == ago(9) + 900
    assert why(use, "preferences written") == {"written as the session ended"}


# -- started by itself --------------------------------------------------------------------------------------


def test_what_is_written_when_a_schedule_started_it_is_no_use_whichever_program_of_it_that_was(room, uses):
    listing = room.root / f"var/lib/dpkg/info/{DESKTOP}.list"
    stamp = listing.stat().st_mtime
    helper = f"/usr/lib/{DESKTOP}/tidy"
    listing.write_text(listing.read_text() + f"{helper}\n/etc/cron.d/{DESKTOP}\n")
    os.utime(listing, (stamp, stamp))
    write(room.root, helper[1:], "#!/bin/sh\n", 0o755)
    room.times(helper[1:], ago(400), ago(430))
    write(room.root, f"etc/cron.d/{DESKTOP}", f"17 3 * * * vera {helper}\n")
    night = ago(5) // DAY * DAY + 3 * 3600 + 17 * 60
    room.home("vera", f".config/{DESKTOP}/index", "x", night + 8)
    use = uses()[DESKTOP]
    assert use.at is None and why(use, "preferences written") == {"written when a schedule had started it"}
    room.home("vera", f".config/{DESKTOP}/page", "x", night - 7200)
    assert seconds(uses()[DESKTOP].at) == night - 7200


def test_schedules_are_read_as_cron_and_timers_mean_them():
    def starts(schedule, *moment: int) -> bool:
        at = np.array([int(datetime(*moment, tzinfo=UTC).timestamp())], dtype=np.int64)
        return bool(schedule.started(at, UTC)[0])

    night = crontab("5 2 * * 1-5 root tidy")
    assert night and starts(night, 2026, 11, 27, 2, 6, 30) and not starts(night, 2026, 11, 27, 2, 12)
    assert not starts(night, 2026, 11, 28, 2, 5)  # a Saturday
    either = crontab("0 4 1 * sun x")
    assert either and starts(either, 2026, 11, 1, 4, 0) and starts(either, 2026, 11, 29, 4, 1)
    assert not starts(either, 2026, 11, 27, 4, 0)
    assert crontab("@daily x") == crontab("0 0 * * * x") and crontab("@reboot x") is None
    for wrong in ("", "x", "99 2 * * * x", "1-99 * * * * x", "*/0 * * * * x", "a b c d e f"):
        assert crontab(wrong) is None
    assert crontab("*/5 * * * * x").often
    (told,) = timers("[Timer]\nOnCalendar=*-*-* 06:30:00\nRandomizedDelaySec=10m\n")
    assert starts(told, 2026, 11, 27, 6, 39) and not starts(told, 2026, 11, 27, 6, 20)
    assert timers("[Timer]\nOnCalendar=daily\n")[0].hours == {0} and timers("[Timer]\nOnBootSec=5\n") == []


# -- shells, crashes, services ------------------------------------------------------------------------------


def test_a_line_without_a_time_is_bounded_by_what_the_registry_knows_of_lines_beside_it(room, uses):
    write(
        room.root,
        "var/log/apt/history.log",
        "".join(
            f"\nStart-Date: {datetime.fromtimestamp(ago(d)):%Y-%m-%d  %H:%M:%S}\nCommandline: apt {what}\n"
            f"End-Date: {datetime.fromtimestamp(ago(d) + 9):%Y-%m-%d  %H:%M:%S}\n"
            for d, what in (
                (90, "install sedgebox"),
                (60, "install  -y  mossbox"),
                (50, "upgrade"),
                (40, "upgrade"),
            )
        ),
    )
    room.home(
        "vera",
        ".bash_history",
        f"ls\nsudo apt upgrade\nsudo apt install sedgebox\n{TERMINAL} x\nsudo apt install -y mossbox\nls\n",
        ago(1),
    )
    use = uses()[TERMINAL]
    assert (seconds(use.from_), seconds(use.to)) == (ago(90), ago(60))


@pytest.mark.parametrize(
    "line", ["{} --version", "{} -h", "command -v {}", "type {}", "apt show {}", "sudo {} --help"]
)
def test_asking_about_a_program_is_no_use(room, uses, line):
    room.home("vera", ".bash_history", f"#{ago(9)}\n{line.format(TERMINAL)}\n", ago(9))
    assert uses()[TERMINAL].at is None


def test_a_crash_that_only_the_journal_tells_of_is_a_use_by_its_person(room, uses):
    room.journal(
        [
            {
                "at": ago(8),
                "_UID": 0,
                "_COMM": "systemd-coredum",
                "_SYSTEMD_UNIT": "systemd-coredump@3-99.service",
                "MESSAGE_ID": "fc2e22bc6ee647b6b90729ab34a250b1",
                "COREDUMP_EXE": f"/usr/bin/{TERMINAL}",
                "COREDUMP_UID": VERA_UID,
            }
        ]
    )
    use = uses()[TERMINAL]
    assert seconds(use.at) == ago(8) and use.person == "vera"
    assert signs(use, "journal")[0].note == f"broke down: /usr/bin/{TERMINAL}"


def test_a_service_that_is_asked_by_others_was_used_when_its_access_log_says_so(room, uses):
    target = write(room.root, f"var/log/{SERVICE}/access.log", "a line\n")
    os.utime(target, (ago(2), ago(2)))
    use = uses()[SERVICE]
    assert seconds(use.at) == ago(2) and use.signs[0].kind == "served"


# -- laws ---------------------------------------------------------------------------------------------------

EVENTS = st.lists(st.tuples(st.integers(0, 400), st.sampled_from("abcde")), max_size=60)


@given(EVENTS, st.randoms())
def test_a_crowd_is_where_so_many_are_within_the_moment_whatever_the_order(events, chance):
    spans = crowds(events, 5, 3)
    mixed = list(events)
    chance.shuffle(mixed)
    assert crowds(mixed, 5, 3).tolist() == spans.tolist()
    times = np.array([t for t, _ in events], dtype=np.int64)
    here = during(spans, times)
    for (at, _), crowded in zip(events, here.tolist(), strict=True):
        windows = [{w for t, w in events if a <= t <= a + 5} for a in range(at - 5, at + 1)]
        assert crowded == any(len(w) >= 3 for w in windows)


@given(st.dictionaries(st.sampled_from("abcdefgh"), st.lists(st.integers(0, 10**6), min_size=1, max_size=6)))
def test_few_programs_are_never_put_back_and_all_at_once_always_are(written):
    by_app = {k: np.array(v, dtype=np.int64) for k, v in written.items()}
    if len(by_app) < 4:
        assert len(put_back(by_app)) == 0
    else:
        together = {k: v % 600 + 5000 for k, v in by_app.items()}
        (span,) = put_back(together).tolist()
        assert span[0] == min(v.min() for v in together.values()) and span[1] == max(
            v.max() for v in together.values()
        )


# -- one program's own company -------------------------------------------------------------------------------


@pytest.mark.parametrize("restored", [False, True])
def test_what_one_program_wrote_alone_is_its_work_however_much_and_a_home_put_back_is_nobodys(
    room, uses, restored
):
    for i in range(150):
        room.home("vera", f".config/{DESKTOP}/pictures/{i:03}.png", "x", ago(9))
    room.home("vera", f".config/{DESKTOP}/options", "x", ago(9) + 3)
    for i in range(60):
        room.home("vera", f"letters/{i:02}.txt", "x", ago(9) + 5 if restored else ago(40 + i))
    use = uses()[DESKTOP]
    if restored:
        assert use.at is None and "most of this home was written then: copied or put back" in why(
            use, "preferences written"
        )
    else:
        assert seconds(use.at) == ago(9) + 3


def test_fonts_and_what_every_program_imports_date_no_use_though_one_package_alone_needs_them(room, uses):
    name = SEVERAL[0]
    files = (
        f"usr/share/fonts/truetype/{name}/a.ttf",
        f"usr/lib/python3/dist-packages/{name}/x.py",
        f"usr/share/{name}/x",
    )
    room.packages(
        {
            name: {
                f"usr/bin/{name}": "#!/bin/sh\n",
                f"usr/share/applications/{name}.desktop": launcher("D", name),
                **dict.fromkeys(files, "x"),
            }
        }
    )
    room.times(f"usr/bin/{name}", ago(3))
    for number, file in enumerate(files):
        room.times(file, ago(3) + number)
    assert [s.source for s in signs(uses()[name], "parts read")] == [f"/usr/share/{name}/x"]
