"""When it was last used: every kind of sign from real files, noise that must not count, and the judgement's laws."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from datetime import UTC, datetime
from pathlib import Path

import psutil
import pytest

from evidence import DAY, DESKTOP, NOW, OTTO_UID, SERVICE, TERMINAL, VERA_UID, ago, seconds, signs
from helpers import cli, run_forked
from registries import write
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.processes import Process, read_processes
from swept_shelf.core.use import journal
from swept_shelf.core.use.judgement import MONTHS
from swept_shelf.workshop import Workshop

# -- shells -------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("name", "text"),
    [
        (".bash_history", f"ls\n#{ago(9)}\n{TERMINAL} -v\n#{ago(3)}\nls\n"),
        (".zsh_history", f": {ago(9)}:0;{TERMINAL} -v\n: {ago(3)}:0;ls\n"),
        (
            ".local/share/fish/fish_history",
            f"- cmd: {TERMINAL} -v\n  when: {ago(9)}\n- cmd: ls\n  when: {ago(3)}\n",
        ),
    ],
    ids=("bash", "zsh", "fish"),
)
def test_each_shells_history_says_when_a_command_was_typed_and_by_whom(room, uses, name, text):
    room.home("vera", name, text, ago(3))
    use = uses()[TERMINAL]
    assert seconds(use.at) == ago(9) and use.person == "vera" and use.certainty == "fairly"
    assert (
        use.signs[0].source == f"/home/vera/{name}"
        and f"{TERMINAL} -v" in use.signs[0].note
        and use.signs[0].line
    )


def test_a_history_without_times_gives_a_span_and_never_a_day(room, uses):
    room.home("vera", ".bash_history", f"ls\n{TERMINAL}\nls\n", ago(3))
    use = uses()[TERMINAL]
    assert (seconds(use.from_), seconds(use.to), use.certainty) == (ago(400), ago(3), "barely")
    assert "between two days" in use.because


def test_times_that_begin_later_in_a_history_bound_what_stands_before_them(room, uses):
    room.home("vera", ".bash_history", f"{TERMINAL}\n#{ago(200)}\nls\n#{ago(3)}\nls\n", ago(3))
    use = uses()[TERMINAL]
    assert (seconds(use.from_), seconds(use.to)) == (ago(400), ago(200))


@pytest.mark.parametrize(
    ("line", "counts"),
    [
        (f"sudo -u otto {TERMINAL}", True),
        (f"cd /tmp && {TERMINAL} | less", True),
        (f"/usr/bin/{TERMINAL} x", True),
        ("bl x", True),
        (f"man {TERMINAL}", False),
        (f"apt install {TERMINAL}", False),
        (f"vim {TERMINAL}.conf", False),
        (f"echo '{TERMINAL}'", False),
        (f"# {TERMINAL}", False),
        (f"grep {TERMINAL} list; which {TERMINAL}", False),
        (f"{TERMINAL}er", False),
        ("bot", True),
    ],
)
def test_only_a_command_is_use_and_not_its_being_named(room, uses, line, counts):
    room.home("vera", ".bashrc", f"alias bl='{TERMINAL} --short'\n", ago(300))
    os.symlink("/etc/alternatives/bot", room.root / "usr/bin/bot")
    write(room.root, "etc/alternatives/x", "")
    os.symlink(f"/usr/bin/{TERMINAL}", room.root / "etc/alternatives/bot")
    room.home("vera", ".bash_history", f"#{ago(9)}\n{line}\n", ago(9))
    assert (uses()[TERMINAL].at is not None) == counts


def test_fifty_megabytes_of_history_with_broken_lines_are_read_and_the_rest_counts(room, uses):
    lines = b"".join(
        b"#%d\n%s --page %d\n" % (ago(300) + i, b"less" if i % 5000 else TERMINAL.encode(), i)
        for i in range(60_000)
    )
    room.home(
        "vera",
        ".bash_history",
        b"\xff\xfe\0\n#99999999999999\n"
        + lines * 30
        + b"#0\nblotterline\n#%d\nblotterline\n" % (NOW + 90 * DAY),
        ago(3),
    )
    use = uses()[TERMINAL]
    assert seconds(use.at) == ago(300) + 55_000
    assert {s.set_aside for s in use.signs if s.set_aside and s.kind == "shell history"} == {
        "is zero",
        "lies in the future",
    }


# -- lists, records, databases ------------------------------------------------------------------------------


def xbel(command: str, when: int) -> str:
    return (
        '<?xml version="1.0"?><xbel version="1.0" xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks">\n'
        '<bookmark href="file:///home/vera/ä.txt" '
        'added="2020-01-01T00:00:00Z" modified="2020-01-01T00:00:00Z" visited="2020-01-01T00:00:00Z"><info><metadata '
        'owner="http://freedesktop.org"><bookmark:applications>\n'
        f'<bookmark:application name="Quillstand" exec="&apos;{command} %u&apos;" '
        f'modified="{datetime.fromtimestamp(when, UTC):%Y-%m-%dT%H:%M:%SZ}" count="2"/>\n'
        "</bookmark:applications></metadata></info></bookmark></xbel>\n"
    )


def test_lists_of_documents_and_the_desktops_records_say_who_used_it_when(room, uses):
    room.home("vera", ".local/share/recently-used.xbel", xbel(DESKTOP, ago(20)), ago(1))
    room.home(
        "otto",
        ".local/share/gnome-shell/application_state",
        f'<application-state><context id=""><application id="{DESKTOP}.desktop" score="3" '
        f'last-seen="{ago(19)}"/></context></application-state>',
        ago(1),
    )
    room.home(
        "vera",
        ".local/share/RecentDocuments/letter.desktop",
        f"[Desktop Entry]\nType=Link\nURL[$e]=file:///x\nX-KDE-LastOpenedWith={DESKTOP}\n",
        ago(25),
    )
    use = uses()[DESKTOP]
    assert {(p.person, seconds(p.at)) for p in use.people} == {("vera", ago(20)), ("otto", ago(19))}
    assert use.certainty == "sure" and seconds(use.at) == ago(19) and use.person == "otto"
    assert signs(use, "recent documents")[0].line == 3 and sum(signs(use, "recent documents")[0].months) == 2


def test_activity_databases_are_read_with_what_their_log_still_holds(room, uses):
    room.database(
        "vera",
        ".local/share/kactivitymanagerd/resources/database",
        'CREATE TABLE ResourceEvent (usedActivity, initiatingAgent, targettedResource, start INTEGER, "end" INTEGER);'
        "CREATE TABLE ResourceScoreCache (usedActivity, initiatingAgent, targettedResource, cachedScore, firstUpdate, lastUpdate);"
        f"INSERT INTO ResourceEvent VALUES ('', 'desktop', 'applications:{DESKTOP}.desktop', {ago(30)}, {ago(30)});"
        f"INSERT INTO ResourceScoreCache VALUES ('', 'desktop', 'applications:{DESKTOP}.desktop', 1, {ago(40)}, {ago(28)});",
        ago(1),
    )
    room.database(
        "otto",
        ".local/share/zeitgeist/activity.sqlite",
        "CREATE TABLE event (id, timestamp, actor); CREATE TABLE actor (id, value);"
        f"INSERT INTO actor VALUES (7, 'application://{DESKTOP}.desktop'); INSERT INTO event VALUES (1, {ago(60) * 1000}, 7);",
        ago(1),
    )
    use = uses()[DESKTOP]
    assert {(p.person, seconds(p.at)) for p in use.people} == {("vera", ago(28)), ("otto", ago(60))}


def test_thumbnails_crashes_accounting_and_audit_name_their_program(room, uses):
    png = (
        b"\x89PNG\r\n\x1a\n"
        + b"\0\0\0\rIHDR"
        + b"\0" * 13
        + b"crc4"
        + b"\0\0\0\x13tEXtSoftware\0"
        + DESKTOP.encode()
        + b"crc4"
    )
    room.home("vera", ".cache/thumbnails/large/1.png", png, ago(50))
    room.home("vera", f".cache/thumbnails/fail/{DESKTOP}-1.0/2.png", b"", ago(52))
    write(
        room.root,
        f"var/crash/_usr_bin_{DESKTOP}.{OTTO_UID}.crash",
        f"ProblemType: Crash\nExecutablePath: /usr/bin/{DESKTOP}\n",
    )
    room.times(f"var/crash/_usr_bin_{DESKTOP}.{OTTO_UID}.crash", ago(70), ago(70))
    write(
        room.root,
        f"var/lib/systemd/coredump/core.{TERMINAL}.{VERA_UID}.{'a' * 32}.77.{ago(80)}000000.zst",
        "core",
    )
    room.accounted(
        (TERMINAL, VERA_UID, ago(60), 34816, 5, 4),
        (TERMINAL, VERA_UID, ago(33), 0, 7, 6),
        ("sh", VERA_UID, ago(33), 0, 6, 3),
        ("cron", 0, ago(33), 0, 3, 1),
    )
    write(
        room.root,
        "var/log/audit/audit.log",
        f"type=SYSCALL msg=audit({ago(40)}.5:1): arch=c000003e syscall=59 success=yes "
        f"exit=0 ppid=1 pid=2 auid={OTTO_UID} uid={OTTO_UID} gid=1 tty=pts0 ses=1 "
        f'comm="x" exe="/usr/bin/{TERMINAL}" key=(null)\n'
        f"type=SYSCALL msg=audit({ago(2)}.5:2): arch=c000003e syscall=59 success=yes "
        'exit=0 ppid=1 pid=2 auid=4294967295 uid=0 gid=1 tty=(none) ses=1 comm="x" '
        f'exe="/usr/bin/{TERMINAL}" key=(null)\nrubbish\n',
    )
    found = uses()
    assert {(s.kind, seconds(s.at), s.person) for s in found[DESKTOP].signs if not s.set_aside} == {
        ("thumbnails", ago(50), "vera"),
        ("crash record", ago(70), "otto"),
    }
    counted = {(s.kind, seconds(s.at), s.person) for s in found[TERMINAL].signs if not s.set_aside}
    assert counted == {
        ("process accounting", ago(60), "vera"),
        ("audit log", ago(40), "otto"),
        ("crash record", ago(80), "vera"),
    }
    aside = {s.kind: s.set_aside for s in found[TERMINAL].signs if s.set_aside}
    assert "schedule" in aside["process accounting"] and "without anybody" in aside["audit log"]


def test_what_is_broken_is_named_and_the_rest_counts(room, tmp_path):
    room.home("vera", ".local/share/recently-used.xbel", "<xbel><bookmark", ago(1))
    room.home(
        "vera",
        ".local/share/gnome-shell/application_state",
        "<!DOCTYPE x [<!ENTITY a 'b'>]><x>&a;</x>",
        ago(1),
    )
    room.home(
        "vera",
        ".local/share/zeitgeist/activity.sqlite",
        "no database at all, only text that is long enough",
        ago(1),
    )
    write(room.root, "var/log/account/pacct", b"\x02" * 128)
    write(room.root, "var/log/wtmp.1.gz", b"not packed")
    write(room.root, f"var/log/journal/{'1' * 32}/system.journal", b"LPKSHHRH" + b"\0" * 300)
    room.home("otto", ".bash_history", f"#{ago(9)}\n{TERMINAL}\n", ago(9))
    survey = room.survey(tmp_path / "out")
    named = {n.path for n in survey.not_read}
    for path in (
        "/home/vera/.local/share/recently-used.xbel",
        "/home/vera/.local/share/gnome-shell/application_state",
        "/home/vera/.local/share/zeitgeist/activity.sqlite",
        "/var/log/account/pacct",
        "/var/log/wtmp.1.gz",
        f"/var/log/journal/{'1' * 32}/system.journal",
    ):
        assert path in named, (path, named)
    assert seconds(survey.find(f"debian:{TERMINAL}").last_use.at) == ago(9)


# -- the journal --------------------------------------------------------------------------------------------


def test_the_journal_says_who_started_it_and_what_was_no_person(room, tmp_path):
    scope = f"app-room-{DESKTOP}-4711.scope"
    room.journal(
        [
            {
                "at": ago(15),
                "_UID": VERA_UID,
                "_COMM": "systemd",
                "_EXE": "/usr/lib/systemd/systemd",
                "USER_UNIT": scope,
            },
            {
                "at": ago(2),
                "_UID": VERA_UID,
                "_COMM": DESKTOP,
                "_EXE": "/usr/bin/python3",
                "_SYSTEMD_USER_UNIT": f"app-{DESKTOP}@autostart.service",
            },
            {
                "at": ago(1),
                "_UID": 0,
                "_COMM": TERMINAL,
                "_EXE": f"/usr/bin/{TERMINAL}",
                "_SYSTEMD_UNIT": "cron.service",
            },
            {
                "at": ago(1),
                "_UID": 0,
                "_COMM": SERVICE,
                "_EXE": f"/usr/sbin/{SERVICE}",
                "_SYSTEMD_UNIT": f"{SERVICE}.service",
            },
        ]
    )
    room.journal(
        [
            {
                "at": ago(11),
                "_UID": OTTO_UID,
                "_COMM": TERMINAL,
                "_EXE": f"/usr/bin/{TERMINAL}",
                "_SYSTEMD_USER_UNIT": "app-terminal-77.scope",
            },
            {
                "at": ago(16),
                "_UID": OTTO_UID,
                "USER_UNIT": "app-room-quillstand\\x2dold-4712.scope",
                "_COMM": "systemd",
            },
        ],
        f"user-{OTTO_UID}.journal",
    )
    survey = room.survey(tmp_path / "out")
    found = {a.id.split(":")[1]: a.last_use for a in survey.applications}
    assert seconds(found[TERMINAL].at) == ago(11) and found[TERMINAL].person == "otto"
    assert [s.set_aside for s in signs(found[TERMINAL], "journal") if s.set_aside] == [
        "started by a schedule"
    ]
    assert found[SERVICE].at is None and found[SERVICE].background
    assert seconds(survey.evidence.journal_since) == ago(16)
    # Its newest entry is no person's; the older start by a person is not hidden by it.
    assert seconds(found[DESKTOP].at) == ago(15) and found[DESKTOP].person == "vera"
    assert [s.set_aside for s in signs(found[DESKTOP], "journal") if s.set_aside] == [
        "started at login, not by a person"
    ]


def test_a_journal_that_would_take_too_long_is_said(room, tmp_path, monkeypatch):
    room.journal([{"at": ago(3), "_UID": VERA_UID, "_COMM": TERMINAL, "_EXE": f"/usr/bin/{TERMINAL}"}])
    monkeypatch.setattr(journal, "TIME_BOUND", 0.0)
    survey = room.survey(tmp_path / "out")
    assert any("1 of 1 files" in t.reason and "too long" in t.reason for t in survey.not_read)


# -- running ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("how", "used"),
    [("terminal", True), ("launched", True), ("login", False), ("schedule", False), ("service", False)],
)
def test_running_is_use_when_a_person_started_it(room, uses, how, used):
    process = Process(77, DESKTOP, "vera", from_ns(ago(5) * 10**9), (f"/usr/bin/{DESKTOP}",), True, how)
    use = uses(processes=[process])[DESKTOP]
    assert (use.at is not None) == used
    if used:
        assert seconds(use.from_) == ago(5) and abs(seconds(use.to) - NOW) < 3600 and use.person == "vera"


def test_a_real_process_tells_how_it_was_started(tmp_path):
    program = tmp_path / "root/usr/bin/sleeper"
    program.parent.mkdir(parents=True)
    program.write_bytes(Path("/bin/sleep").read_bytes())
    program.chmod(0o755)
    typed = subprocess.Popen(
        ["script", "-qec", f"{program} 60", "/dev/null"], stdin=subprocess.PIPE, stdout=subprocess.DEVNULL
    )
    began = subprocess.Popen(
        [sys.executable, "-c", f"import os, subprocess; os.setsid(); subprocess.run(['{program}', '61'])"]
    )
    try:
        machine = open_machine(tmp_path / "root")
        for _ in range(1000):
            found = sorted(p.how for p in read_processes(machine))
            if len(found) == 2:
                break
            subprocess.run(["sleep", "0.05"])
        assert found == ["login", "terminal"]
    finally:
        for process in psutil.process_iter(["cmdline"]):
            if str(program) in (process.info["cmdline"] or []):
                process.kill()
        for process in (typed, began):
            process.kill()
            process.wait()


def test_a_process_that_starts_another_program_is_that_programs_from_then_on(tmp_path):
    (program := tmp_path / "root/usr/bin/sleeper").parent.mkdir(parents=True)
    program.write_bytes(Path("/bin/sleep").read_bytes())
    program.chmod(0o755)
    machine = open_machine(tmp_path / "root")
    process = subprocess.Popen(["sh", "-c", f"read line; exec {program} 60"], stdin=subprocess.PIPE)
    try:
        assert not read_processes(machine)
        process.communicate(b"go\n", timeout=0.01)
    except subprocess.TimeoutExpired:
        for _ in range(200):
            if found := read_processes(machine):
                break
            subprocess.run(["sleep", "0.05"])
        assert [p.programs for p in found] == [("/usr/bin/sleeper",)]
    finally:
        process.kill()
        process.wait()


# -- how a technician sees it -------------------------------------------------------------------------------


def test_what_this_computer_keeps_too_little_of_is_said(room, tmp_path):
    survey = room.survey(tmp_path / "a")
    assert survey.evidence.little == ["no journal is kept"] and survey.evidence.access_times == "relatime"
    write(room.root, "etc/fstab", "UUID=1 / ext4 noatime 0 1\n")
    room.journal([{"at": ago(3), "_UID": 0, "_COMM": "x"}])
    room.logins(("vera", ago(30), ago(29)))
    found = room.survey(tmp_path / "b").evidence
    assert (
        found.access_times == "noatime"
        and seconds(found.journal_since) == ago(3)
        and seconds(found.logins_since) == ago(30)
    )
    assert [w.split(" (")[0].split(" to ")[0] for w in found.little] == [
        "access times are not kept",
        "the journal goes back",
    ]


def test_the_command_line_prints_the_evidence_and_what_was_set_aside(room, tmp_path):
    room.home("vera", ".bash_history", f"#{ago(9)}\n{TERMINAL} --all\n", ago(9))
    room.times(f"usr/bin/{TERMINAL}", ago(400) + 60)
    at = ("--root", str(room.root), "--ledger", str(tmp_path / "ledger.sqlite"))
    surveyed = cli("survey", *at)
    assert "little evidence of use: no journal is kept" in surveyed.stderr and surveyed.returncode == 0
    said = cli("use", *at, TERMINAL)
    assert (
        said.returncode == 0
        and "by vera (fairly)" in said.stdout
        and "/home/vera/.bash_history, line 2" in said.stdout
    )
    assert (
        "read as it was installed or upgraded" in said.stdout and "nothing of it in: running" in said.stdout
    )
    plain = json.loads(cli("use", *at, TERMINAL, "--format", "json").stdout)
    assert (
        plain["last_use"]["person"] == "vera"
        and len(plain["last_use"]["months"]) == MONTHS
        and plain["evidence"]["little"]
    )
    assert "no sign of use (looked at: " in cli("use", *at, DESKTOP).stdout
    assert cli("use", *at, "nothinglikeit").returncode == 2


def test_the_ledger_knows_when_this_program_worked_and_a_look_at_that_time_is_no_use(room, tmp_path):
    shop = Workshop(str(room.root), str(tmp_path / "ledger.sqlite"))
    request = shop.survey_request()
    assert request["ours"] == []
    surveyed = shop.keep_survey(request, run_forked(request)).survey
    ((begin, end),) = shop.survey_request()["ours"]
    assert datetime.fromisoformat(begin) <= surveyed.surveyed_at and datetime.fromisoformat(
        end
    ) >= surveyed.finished_at.replace(microsecond=0)
    room.times(f"usr/bin/{TERMINAL}", int(datetime.fromisoformat(begin).timestamp()))
    request = shop.survey_request(whole=True)
    again = shop.keep_survey(request, run_forked(request)).survey.find(f"debian:{TERMINAL}").last_use
    assert again.at is None and any("this program" in s.set_aside for s in again.signs)


def test_a_second_survey_moves_no_access_time_and_judges_as_the_first(room, tmp_path):
    room.journal(
        [
            {
                "at": ago(3),
                "_UID": VERA_UID,
                "_COMM": TERMINAL,
                "_EXE": f"/usr/bin/{TERMINAL}",
                "_SYSTEMD_UNIT": "session-1.scope",
            }
        ]
    )
    room.home("vera", ".bash_history", f"#{ago(9)}\n{TERMINAL}\n", ago(9))
    room.logins(("vera", ago(30), ago(1)))
    room.database(
        "vera",
        ".local/share/zeitgeist/activity.sqlite",
        "CREATE TABLE event (id, timestamp, actor); CREATE TABLE actor (id, value);",
        ago(9),
    )
    files = [p for p in room.root.rglob("*") if p.is_file()]
    for path in files:
        os.utime(path, (ago(50), path.stat().st_mtime))
    shop = Workshop(str(room.root), str(tmp_path / "ledger.sqlite"))
    judged = []
    for _ in range(2):
        request = shop.survey_request()
        judged.append(
            [a.last_use for a in shop.keep_survey(request, run_forked(request)).survey.applications]
        )
    assert judged[0] == judged[1]
    assert {int(p.lstat().st_atime) for p in files} == {ago(50)}
