"""What looks like use and is none: backups, upgrades, what starts by itself, copied homes, our own earlier work."""

from __future__ import annotations

import os
from datetime import datetime

import pytest

from evidence import DESKTOP, NOW, SERVICE, TERMINAL, VERA_UID, ago, seconds, signs
from registries import launcher, write
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine import open_machine


def test_what_was_read_while_nobody_was_logged_in_is_set_aside(room, uses):
    room.logins(("vera", ago(30), ago(30) + 3600), ("otto", ago(5), ago(5) + 3600))
    room.times(f"usr/bin/{TERMINAL}", ago(30) + 60)
    room.times(f"usr/bin/{DESKTOP}", ago(12))
    found = uses()
    assert seconds(found[TERMINAL].at) == ago(30) + 60 and found[TERMINAL].certainty == "barely"
    assert (
        found[DESKTOP].at is None
        and signs(found[DESKTOP], "program read")[0].set_aside == "nobody was logged in then"
    )


def test_a_cut_off_login_record_is_left_out_and_a_crashed_session_ends_at_the_next_boot(room, tmp_path):
    from swept_shelf.core.use.logins import read_logins

    room.logins(("vera", ago(9), ago(8)), name="var/log/wtmp.1")
    room.logins(("otto", ago(7), ago(6)))
    path = room.root / "var/log/wtmp"
    path.write_bytes(path.read_bytes()[:500])
    logins, problems = read_logins(open_machine(room.root), NOW)
    assert (
        problems == []
        and [(s.person, s.begin) for s in logins.sessions] == [("vera", ago(9)), ("otto", ago(7))]
        and logins.sessions[1].end == NOW
    )
    assert logins.nobody(ago(8) + 2 * 3600) and not logins.nobody(ago(8.5)) and not logins.nobody(ago(20))


def test_a_backup_that_reads_everything_is_no_use_and_what_was_read_later_is(room, uses):
    room.packages(
        {
            f"plain{i:02}": {
                f"usr/bin/plain{i:02}": "#!/bin/sh\n",
                f"usr/share/doc/plain{i:02}/copyright": "x\n",
            }
            for i in range(30)
        }
    )
    for i, path in enumerate(sorted((room.root / "usr").rglob("*"))):
        if path.is_file():
            room.times(str(path.relative_to(room.root)), ago(6) + i * 5)
    room.times(f"usr/bin/{TERMINAL}", ago(3))
    found = uses()
    assert seconds(found[TERMINAL].at) == ago(3) and found[DESKTOP].at is None
    assert {s.set_aside for s in signs(found[DESKTOP], "program read")} == {
        "many files were read then: a backup or an indexer"
    }
    assert (
        found[DESKTOP].because.startswith("no sign of use (looked at: ")
        and "set aside" in found[DESKTOP].because
    )


def test_an_upgrade_an_installation_and_noatime_are_no_signs_of_use(room, uses):
    room.times(f"usr/bin/{TERMINAL}", ago(400) + 900)
    with open(room.root / "var/log/dpkg.log", "a") as log:
        log.write(f"{datetime.fromtimestamp(ago(40)):%Y-%m-%d %H:%M:%S} upgrade {DESKTOP}:all 0.9 1.0\n")
    room.times(f"usr/bin/{DESKTOP}", ago(40) + 300)
    found = uses()
    for name in (TERMINAL, DESKTOP):
        assert (
            found[name].at is None
            and signs(found[name], "program read")[0].set_aside == "read as it was installed or upgraded"
        )
    assert signs(found[DESKTOP], "upgrade")[0].set_aside.endswith("no use")
    room.times(f"usr/bin/{TERMINAL}", ago(9))
    assert seconds(uses()[TERMINAL].at) == ago(9)
    write(room.root, "etc/fstab", "UUID=1 / ext4 defaults,noatime 0 1\n")
    assert uses()[TERMINAL].at is None and "program read" not in uses()[TERMINAL].looked_at


@pytest.mark.parametrize(
    ("path", "text", "why"),
    [
        (f"etc/xdg/autostart/{DESKTOP}.desktop", launcher("Q", DESKTOP), "started at login"),
        (f"home/vera/.config/autostart/{DESKTOP}.desktop", launcher("Q", DESKTOP), "started at login"),
        ("etc/cron.d/night", f"5 2 * * * root /usr/bin/{DESKTOP} --tidy\n", "started by a schedule"),
        (
            f"usr/share/thumbnailers/{DESKTOP}.thumbnailer",
            f"[Thumbnailer Entry]\nExec={DESKTOP} %i\nMimeType=image/x\n",
            "started for thumbnails",
        ),
    ],
)
def test_what_the_machine_starts_by_itself_is_not_used_for_being_read(room, uses, path, text, why):
    if path.startswith(("usr/", "etc/xdg")):
        listing = room.root / f"var/lib/dpkg/info/{DESKTOP}.list"
        stamp = listing.stat().st_mtime
        listing.write_text(listing.read_text() + f"/{path}\n")
        os.utime(listing, (stamp, stamp))
    write(room.root, path, text)
    room.times(f"usr/bin/{DESKTOP}", ago(2))
    use = uses()[DESKTOP]
    assert use.at is None and signs(use, "program read")[0].set_aside.startswith(why)


def test_what_it_writes_counts_day_by_day_unless_the_home_was_copied_or_it_began_at_login(room, uses):
    for i, days in enumerate((300, 200, 100, 100.001)):
        room.home("vera", f".config/{DESKTOP}/{i}.ini", "x", ago(days))
    for i in range(60):
        room.home("otto", f"Letters/{i}.txt", "x", ago(7) + i)
    room.home("otto", f".config/{DESKTOP}/0.ini", "x", ago(7) + 61)
    use = uses()[DESKTOP]
    assert (
        seconds(use.at) == ago(100)
        and sum(use.months) in (3, 4)
        and use.person == "vera"
        and use.certainty == "fairly"
    )
    assert any("copied" in s.set_aside and s.person == "otto" for s in signs(use, "preferences written"))
    write(room.root, f"home/vera/.config/autostart/{DESKTOP}.desktop", launcher("Q", DESKTOP))
    room.logins(("vera", ago(100) - 100, ago(99)), ("vera", ago(200) - 7200, ago(199)))
    use = uses()[DESKTOP]
    assert seconds(use.at) == ago(200) and use.certainty == "barely"


def test_a_file_of_another_account_in_a_home_is_no_use_by_its_person(room, uses):
    path = room.home("vera", f".config/{DESKTOP}/x.ini", "x", ago(3))
    os.chown(path, 0, 0)
    assert uses()[DESKTOP].at is None


@pytest.mark.parametrize("asker", [True, False])
def test_a_search_of_the_desktop_starts_it_only_where_a_desktop_is_that_searches(room, uses, asker):
    provider = f"usr/share/teasel-shell/search-providers/{DESKTOP}.ini"
    write(room.root, provider, f"[Shell Search Provider]\nDesktopId={DESKTOP}.desktop\nBusName=example.Q\n")
    write(
        room.root,
        "usr/share/dbus-1/services/example.Q.service",
        f"[D-BUS Service]\nName=example.Q\nExec=/usr/bin/{DESKTOP}\n",
    )
    with (room.root / f"var/lib/dpkg/info/{DESKTOP}.list").open("a") as files:
        files.write(f"/{provider}\n/usr/share/dbus-1/services/example.Q.service\n")
    room.times(f"var/lib/dpkg/info/{DESKTOP}.list", ago(400), ago(400))
    if asker:
        write(room.root, "usr/bin/teasel-shell", "#!/bin/sh\n")
    room.times(f"usr/bin/{DESKTOP}", ago(3))
    use = uses()[DESKTOP]
    aside = [s.set_aside for s in use.signs if s.kind == "program read"]
    assert aside == (["started for a search of the desktop"] if asker else [""])


def test_what_is_written_in_a_place_that_a_program_only_names_is_no_use_of_it(room, uses):
    room.home("vera", f".config/{DESKTOP}/own.ini", "x", ago(20))
    with (room.root / f"usr/bin/{DESKTOP}").open("a") as program:
        program.write('echo "$HOME/.moorhen-cards"\n')
    room.times(f"usr/bin/{DESKTOP}", ago(400), ago(400))
    room.home("vera", ".moorhen-cards/deck.ini", "x", ago(2))
    use = uses()[DESKTOP]
    assert seconds(use.at) == ago(20)
    assert all(s.set_aside for s in use.signs if s.source.endswith("deck.ini"))


def test_a_short_name_that_a_program_of_the_system_has_too_is_no_sign_of_use(room, uses):
    for name in ("tallow", "emberly"):
        write(room.root, f"usr/lib/{TERMINAL}/bin/{name}", "#!/bin/sh\n")
        (room.root / f"usr/lib/{TERMINAL}/bin/{name}").chmod(0o755)
        with (room.root / f"var/lib/dpkg/info/{TERMINAL}.list").open("a") as files:
            files.write(f"/usr/lib/{TERMINAL}/bin/{name}\n")
    write(room.root, "usr/bin/tallow", "#!/bin/sh\n")
    room.accounted(("tallow", VERA_UID, ago(2), 34816, 5, 4), ("emberly", VERA_UID, ago(9), 34816, 7, 4))
    use = uses()[TERMINAL]
    assert seconds(use.at) == ago(9) and [s.kind for s in use.signs if not s.set_aside] == [
        "process accounting"
    ]


def test_a_program_that_is_called_by_its_path_alone_is_no_command_of_that_name(room, uses):
    with (room.root / f"var/lib/dpkg/info/{TERMINAL}.list").open("a") as files:
        files.write(f"/usr/lib/{TERMINAL}/bin/tallow\n")
    for path in ("usr/bin/tallow", f"usr/lib/{TERMINAL}/bin/tallow"):
        write(room.root, path, "#!/bin/sh\n")
    room.home("vera", ".bash_history", f"#{ago(3)}\ntallow x\n#{ago(9)}\n{TERMINAL}\n", ago(1))
    room.home("vera", ".bash_aliases", "alias t='tallow -x'\n", ago(90))
    assert seconds(uses()[TERMINAL].at) == ago(9)


def test_times_of_our_own_earlier_work_are_no_evidence(room, uses):
    room.times(f"usr/bin/{TERMINAL}", ago(3))
    ours = [(from_ns((ago(3) - 60) * 10**9), from_ns((ago(3) + 60) * 10**9))]
    use = uses(ours=ours)[TERMINAL]
    assert use.at is None and "this program" in signs(use, "program read")[0].set_aside


def test_a_service_is_judged_by_what_it_served_else_said_to_be_in_the_background(room, uses):
    room.times(f"usr/sbin/{SERVICE}", ago(2))
    write(room.root, f"var/log/{SERVICE}/{SERVICE}.log", "alive\n")
    use = uses()[SERVICE]
    assert use.at is None and use.background and "background" in use.because
    write(room.root, f"var/log/{SERVICE}/access.log", "GET /\n")
    room.times(f"var/log/{SERVICE}/access.log", ago(8), ago(8))
    use = uses()[SERVICE]
    assert (
        seconds(use.at) == ago(8)
        and use.background
        and signs(use, "served")[0].source.endswith("/access.log")
    )


def test_a_timers_stamp_is_shown_and_is_no_use(room, uses):
    write(room.root, f"var/lib/systemd/timers/stamp-{SERVICE}.timer", "")
    room.times(f"var/lib/systemd/timers/stamp-{SERVICE}.timer", ago(1), ago(1))
    use = uses()[SERVICE]
    assert use.at is None and signs(use, "timer")[0].set_aside == "started by a schedule"
