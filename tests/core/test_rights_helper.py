"""The helper with the administrator's rights believes nothing it is told: orders are borne out by a survey of its own."""

from __future__ import annotations

import contextlib
import dataclasses
import json
import os
import shutil
import signal
import subprocess
import sys
import tempfile
from pathlib import Path

import psutil
import pytest

from helpers import Job, differences, picture
from swept_shelf.core.documents.clearance import REMNANTS
from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.trace import Trace
from swept_shelf.core.documents.wire import read_document, read_order, to_plain
from swept_shelf.core.orders import Choice, Scope, draw_order
from swept_shelf.core.tree.index import Index
from swept_shelf.rights.handing_over import Caller, hand_over
from swept_shelf.rights.helper import Helper
from swept_shelf.rights.mirror import make_mirror, waiting_in
from swept_shelf.rights.requests import read_request

PERSON = Caller(65501, 65501, (65501,))
RUN = "7c9e6679-7425-40de-944b-e07fc1f90ae7"
pytestmark = pytest.mark.skipif(os.geteuid() != 0, reason="the helper works as root")


class Heard:
    def __init__(self):
        self.events = []

    def tell(self, event):
        self.events.append(event)

    @property
    def last(self):
        return self.events[-1]


class Asked:
    """A person who asks the helper, with a folder of that person's own."""

    def __init__(self, job: Job, place: Path):
        self.job, self.place = job, place
        self.folder = Path(tempfile.mkdtemp(prefix="person-"))
        os.chown(self.folder, PERSON.uid, PERSON.gid)

    def ask(self, **request):
        heard = Heard()
        line = json.dumps({"folder": str(self.folder / "given")} | request).encode()
        Helper(PERSON, heard, str(self.job.machine.folder), self.place).answer(read_request(line))
        return heard.last

    def look(self) -> Survey:
        self.result = self.ask(do="survey", folder=str(self.folder / "look"))
        path = self.folder / "look" / "survey.json"
        return read_document(Survey, path.read_bytes(), str(path))

    def order(self, *ids: str):
        survey = self.look()
        scope = Scope(survey, self.result["sha256"], Index(self.folder / "look" / "survey.index"))
        answers = {f"personal:{id}": "they_stay" for id in ids}
        choice = Choice(dict.fromkeys(ids, "remove"), answers=answers)
        return draw_order(scope, choice, "1.1", self.job.shop.machine.now())

    def carry(self, order, run: str = RUN):
        return self.ask(do="carry_out", run=run, order=to_plain(order))


@pytest.fixture
def asked(made_up, tmp_path):
    found = Asked(Job(made_up, survey=False), tmp_path / "place")
    yield found
    shutil.rmtree(found.folder)


def test_a_person_looks_carries_out_proves_and_puts_back_by_the_helper(asked):
    root = asked.job.machine.folder / "root"
    before = picture(root)
    order = asked.order("debian:vellumcote")
    assert asked.carry(order)["left"] == 0
    given = asked.folder / "given"
    done = read_document(RunResult, (given / "result.json").read_bytes(), "")
    assert done.records and not done.unfinished
    assert waiting_in(given) and {p.stat().st_uid for p in given.iterdir()} == {PERSON.uid}
    proved = asked.ask(do="clearance", run=RUN)
    assert proved["findings"] == 0 and (given / "clearance.json").stat().st_uid == PERSON.uid
    assert asked.ask(do="put_back", run=RUN, lines=[])["left"] == 0
    assert waiting_in(given) == [] and differences(before, picture(root)) == []


def test_a_person_asks_the_helper_whether_anything_of_a_name_is_left(asked):
    given, entry = asked.folder / "given", "debian:vellumcote"
    survey = asked.look()
    known = next(a for a in survey.applications if a.id == entry)
    since = survey.surveyed_at.isoformat()
    for more in ({"id": entry, "names": known.pointed_at, "since": since}, {}):
        said = asked.ask(do="trace", name="vellumcote", **more)
        trace = read_document(Trace, (given / "trace.json").read_bytes(), "")
        assert said["findings"] == trace.findings > 0 and (given / "trace.json").stat().st_uid == PERSON.uid
        shutil.rmtree(given)
    assert not [p for p in (asked.place / "looks").iterdir() if p.name.startswith(".")]
    table = asked.job.machine.folder / "root/etc/cron.d/gonefern"
    table.write_text("5 5 * * * root /opt/gonefern/bin/gonefern\n")
    kept = set((asked.place / "looks").iterdir())
    assert asked.ask(do="trace", name="gonefern")["findings"] > 0 and (given / REMNANTS).is_dir()
    assert set((asked.place / "looks").iterdir()) == kept  # nothing that an order could be drawn from
    for wrong in ({"names": {"programs": [7]}}, {"root": "/"}, {"id": ["x"]}):
        with pytest.raises(Refused, match="no request"):
            asked.ask(do="trace", name="vellumcote", **wrong)


def test_an_order_of_a_survey_that_the_helper_did_not_take_is_refused(asked):
    asked.job.survey()
    order = asked.job.order("debian:vellumcote")
    with pytest.raises(Refused, match="not taken with these rights"):
        asked.carry(order)


@pytest.mark.parametrize(
    "spoil",
    [
        lambda order: dataclasses.replace(order.lines[0], ticks=[*order.lines[0].ticks, "/etc/passwd"]),
        lambda order: dataclasses.replace(order.lines[0], ticks=[*order.lines[0].ticks, "/../outside"]),
        lambda order: dataclasses.replace(order.lines[0], packages=[*order.lines[0].packages, "dpkg"]),
        lambda order: dataclasses.replace(order.lines[0], name="Something else"),
        lambda order: dataclasses.replace(order.lines[0], references=["0" * 12]),
    ],
)
def test_an_order_that_takes_more_than_the_helpers_survey_bears_out_changes_nothing(asked, spoil):
    root = asked.job.machine.folder / "root"
    before = picture(root)
    order = asked.order("debian:vellumcote")
    with pytest.raises(Refused):
        asked.carry(dataclasses.replace(order, lines=[spoil(order)]))
    assert differences(before, picture(root)) == [] and not list((asked.place / "runs").iterdir())


def test_a_run_takes_no_other_order_and_goes_on_with_none_when_it_was_put_back(asked):
    order = asked.order("debian:vellumcote")
    asked.carry(order)
    other = dataclasses.replace(order, id="1.2")
    with pytest.raises(Refused, match="not the order of this run"):
        asked.carry(other)
    asked.ask(do="put_back", run=RUN, lines=[])
    with pytest.raises(Refused, match="put back or emptied"):
        asked.carry(order)


@pytest.mark.parametrize(
    "line",
    [
        b"",
        b"{}",
        b"[1]",
        b"[" * 100_000,
        b'{"do": "run", "command": ["id"]}',
        b'{"do": "carry_out", "run": "../../x", "folder": "/x", "order": {}}',
        b'{"do": "put_back", "run": "%s", "folder": "/x", "lines": "all"}' % RUN.encode(),
        b'{"do": "survey", "folder": "/x", "root": "/home/keeper/made"}',
        b'{"do": "carry_out", "run": "%s", "folder": "/x", "order": {}, "originals": "/x"}' % RUN.encode(),
        b'{"do": "survey", "folder": "/x", "before": "/home/keeper/made"}',
    ],
)
def test_what_is_no_request_is_refused_in_a_sentence(line):
    with pytest.raises(Refused, match="no request that is answered") as refused:
        read_request(line)
    assert len(str(refused.value)) < 400


def test_nothing_is_handed_over_where_the_person_could_not_write(asked, tmp_path):
    closed = Path(tempfile.mkdtemp(prefix="closed-"))
    target = closed / "target"
    target.write_text("the administrator’s")
    link = asked.folder / "link"
    link.symlink_to(closed)
    (asked.folder / "in").mkdir()
    os.chown(asked.folder / "in", PERSON.uid, PERSON.gid)
    (asked.folder / "in" / "target").symlink_to(target)
    (asked.folder / "in" / ".target.part").symlink_to(target)
    for folder in (closed, closed / "new", link, link / "new"):
        with pytest.raises(Refused, match="could not be written as the person"):
            hand_over(PERSON, str(folder), {"target": b"mine now"})
    hand_over(PERSON, str(asked.folder / "in"), {"target": b"mine now"})
    assert target.read_text() == "the administrator’s" and os.listdir(closed) == ["target"]
    assert (asked.folder / "in" / "target").read_bytes() == b"mine now"
    shutil.rmtree(closed)


def test_a_person_whose_folder_is_gone_has_an_order_carried_out_all_the_same(asked):
    order = asked.order("debian:vellumcote")
    assert asked.ask(do="carry_out", run=RUN, order=to_plain(order), folder="/nowhere/at/all")["left"] == 0


_ANSWER = """
import sys
from pathlib import Path
from swept_shelf.rights.handing_over import Caller
from swept_shelf.rights.helper import Helper
from swept_shelf.rights.requests import read_request
from swept_shelf.worker.channel import Channel
Helper(Caller(65501, 65501, (65501,)), Channel(), sys.argv[1], Path(sys.argv[2])).answer(read_request(sys.stdin.buffer.readline()))
"""


def test_killed_in_the_middle_the_person_sees_it_and_the_same_request_finishes_it(asked):
    order = asked.order("debian:vellumcote", "debian:willowvane")
    request = {"do": "carry_out", "run": RUN, "order": to_plain(order), "folder": str(asked.folder / "given")}
    process = subprocess.Popen(
        [sys.executable, "-I", "-c", _ANSWER, str(asked.job.machine.folder), str(asked.place)],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
    )
    process.stdin.write(json.dumps(request).encode() + b"\n")
    process.stdin.close()
    for line in process.stdout:
        if json.loads(line)["event"] == "done":
            break
    workers = psutil.Process(process.pid).children(recursive=True)
    process.kill()
    for worker in workers:
        with contextlib.suppress(psutil.NoSuchProcess):
            worker.send_signal(signal.SIGKILL)
    process.wait()
    psutil.wait_procs(workers, timeout=30)
    journal = [json.loads(x) for x in (asked.folder / "given" / "journal.jsonl").read_text().splitlines()]
    assert journal and journal[-1]["event"] != "end" and not (asked.folder / "given" / "result.json").exists()
    assert asked.carry(order)["left"] == 0
    result = read_document(RunResult, (asked.folder / "given" / "result.json").read_bytes(), "")
    assert not result.unfinished and {r.line for r in result.records} == {line.id for line in order.lines}


def test_what_waits_goes_into_the_persons_archive_and_comes_back_from_it(asked):
    root = asked.job.machine.folder / "root"
    before = picture(root)
    asked.carry(asked.order("debian:vellumcote"))
    assert asked.ask(do="archive", run=RUN, folder=str(asked.folder / "packed"))["things"]
    file = asked.folder / "packed" / "archive.tar.zst"
    assert file.stat().st_uid == PERSON.uid
    asked.ask(do="empty", run=RUN, lines=[])
    closed = asked.place / "closed"
    closed.write_text("root’s")
    closed.chmod(0o600)

    def restore(place):
        heard = Heard()
        request = {"do": "restore", "run": RUN, "lines": [], "elsewhere": False, "file": str(place)}
        helper = Helper(PERSON, heard, str(asked.job.machine.folder), asked.place)
        helper.answer(read_request(json.dumps(request).encode()))
        return heard.last

    with pytest.raises(Refused, match="could not be read as the person"):
        restore(closed)
    assert restore(file)["left"] == 0 and differences(before, picture(root)) == []
    assert sorted(p.name for p in asked.place.iterdir()) == ["closed", "looks", "runs"]


def test_the_person_may_ask_to_stop_and_the_rest_is_done_when_it_is_asked_for_again(asked):
    order = asked.order("debian:vellumcote", "debian:willowvane")
    given = asked.folder / "given"
    given.mkdir()
    os.chown(given, PERSON.uid, PERSON.gid)
    (given / "stop").touch()
    asked.carry(order)
    result = read_document(RunResult, (given / "result.json").read_bytes(), "")
    assert result.unfinished or result.state == "stopped"
    (given / "stop").unlink()
    assert asked.carry(order)["left"] == 0
    assert not read_document(RunResult, (given / "result.json").read_bytes(), "").unfinished


@pytest.mark.parametrize(
    ("mode", "env", "why"),
    [
        ("carry", {}, "started by pkexec, sudo or su alone"),
        ("carry", {"PKEXEC_UID": "0; id"}, "started by pkexec, sudo or su alone"),
        ("carry", {"SUDO_UID": "4294967294"}, "nobody here has the number"),
        ("look", {"PKEXEC_UID": "0"}, "not what the rights were asked for"),
        ("", {"PKEXEC_UID": "0"}, "not what the rights were asked for"),
    ],
)
def test_the_helper_answers_for_whom_it_was_started_and_for_what(mode, env, why):
    request = json.dumps({"do": "put_back", "run": RUN, "folder": "/nowhere", "lines": []}).encode() + b"\n"
    done = subprocess.run(
        [sys.executable, "-I", "-m", "swept_shelf.rights", *([mode] if mode else [])],
        input=request,
        capture_output=True,
        env={"PATH": os.environ["PATH"]} | env,
    )
    said = json.loads(done.stdout.splitlines()[-1])
    assert done.returncode == 2 and said["event"] == "failed" and why in said["reason"], said


def test_an_order_is_read_as_strictly_as_from_a_file(asked):
    order = to_plain(asked.order("debian:vellumcote")) | {"run_also": "/bin/sh"}
    with pytest.raises(Refused, match="run_also"):
        asked.ask(do="carry_out", run=RUN, order=order)
    with pytest.raises(Refused):
        read_order(json.dumps(order).encode(), "")


def test_a_damaged_list_of_what_waits_is_named_and_stops_nobody(job):
    run = job.carry(job.prepare(job.order("debian:vellumcote")))
    before = job.shop.shelves.waiting()
    make_mirror(run.folder)
    (run.folder / "waiting.json").write_text('[{"shelf": 1}]')
    assert job.shop.shelves.waiting() == before
    assert [(path, "no list of what waits" in why) for path, why in job.shop.orders.damaged_runs()] == [
        (run.folder, True)
    ]
