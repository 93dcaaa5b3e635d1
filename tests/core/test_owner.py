"""Ask the owner: a sheet goes out, comes back answered, and who said what stands in the order; nothing of it goes before."""

from __future__ import annotations

import json

import pytest

from helpers import cli
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.orders import Choice
from swept_shelf.core.orders.answers import with_answers
from swept_shelf.core.reports import questions_html, questions_markdown, read_sheet, report_html


def drawn(job, **verdicts):
    visit, surveyed = job.shop.latest()
    return job.shop.orders.draw(visit, surveyed, Choice(verdicts))


def sheet_of(job, order):
    return questions_markdown(order, job.surveyed.survey)


def ticked(text, *boxes):
    """The sheet with an x in the nth box that reads so, for each question in its turn."""
    parts = text.split("<!-- about ")
    for i, box in enumerate(boxes, 1):
        if box:
            parts[i] = parts[i].replace(f"- [ ] {box}\n", f"- [x] {box}\n", 1)
    return "<!-- about ".join(parts)


@pytest.fixture
def asked(looked):
    """(job, ids): one with saves of a person, one that starts by itself, one plain."""
    ids = [looked.machine.id("quest"), looked.machine.id("map", "7"), looked.machine.id("label")]
    return looked, ids


def test_nothing_of_it_goes_before_the_owner_has_answered(asked):
    job, ids = asked
    order = drawn(job, **dict.fromkeys(ids, "ask_owner"))
    assert [(line.verdict, line.ticks, line.packages) for line in order.lines] == [("ask_owner", [], [])] * 3
    assert order.total == 0 and {q.id for q in order.unsettled} == {f"owner:{i}" for i in ids}
    answers = {q.line: q.answers for q in order.settle}
    assert "remove_all" in answers[ids[0]] and "stop_starting" in answers[ids[1]]
    assert answers[ids[2]] == ["remove", "keep"]
    with pytest.raises(Refused, match="settled first"):
        job.shop.orders.prepare_run(order, "the order")


def test_what_comes_back_is_done_and_who_said_it_stands_there(asked):
    job, ids = asked
    choice = Choice(dict.fromkeys(ids, "ask_owner"))
    text = ticked(
        sheet_of(job, drawn(job, **choice.verdicts)),
        "remove it and its content",
        "do not start it, but keep it",
        "keep it",
    )
    text = text.replace("Answered by:", "Answered by:  Sunniva,   the reader ").replace(
        "Note:\n", "Note: since spring\n", 1
    )
    visit, surveyed = job.shop.latest()
    order = job.shop.orders.draw(
        visit, surveyed, with_answers(choice, read_sheet(text.encode(), "x.md"), job.shop.machine.now())
    )
    assert {line.id: line.verdict for line in order.lines if line.id in ids} == dict(
        zip(ids, ("remove", "stop_starting", "keep"), strict=True)
    )
    assert order.line(ids[0]).note == "since spring"
    said = {q.id: (q.answer, q.answered_by) for q in order.settle}
    assert said[f"owner:{ids[0]}"] == ("remove_all", "Sunniva, the reader")
    assert said[f"personal:{ids[0]}"] == ("go_too", "Sunniva, the reader")
    personal = {b.path for b in job.app(ids[0]).belongings if b.personal}
    assert personal & set(order.line(ids[0]).ticks)
    job.shop.orders.surveyed_of(order, "the order")


def test_without_a_word_about_it_what_a_person_made_stays(asked):
    job, ids = asked
    visit, surveyed = job.shop.latest()
    order = job.shop.orders.draw(
        visit, surveyed, Choice({ids[0]: "ask_owner"}, answers={f"owner:{ids[0]}": "remove"})
    )
    personal = {b.path for b in job.app(ids[0]).belongings if b.personal}
    assert not personal & set(order.line(ids[0]).ticks)
    assert {q.id: q.answer for q in order.settle}[f"personal:{ids[0]}"] == "they_stay"


@pytest.mark.parametrize(
    ("change", "why"),
    [
        (lambda t: t.replace("- [ ] keep it", "- [x] sell it", 1), "none of the answers"),
        (lambda t: t.replace("- [ ] ", "- [x] "), "a second answer"),
        (lambda t: t + t, "twice"),
        (lambda t: "hello\n", "no question sheet"),
    ],
)
def test_a_sheet_that_cannot_be_understood_names_its_line(asked, change, why):
    job, ids = asked
    text = change(sheet_of(job, drawn(job, **{ids[0]: "ask_owner"})))
    with pytest.raises(CouldNotRead, match=why):
        read_sheet(text.encode(), "back.md")


def test_a_sheet_decides_only_about_what_was_asked(asked):
    job, ids = asked
    text = ticked(sheet_of(job, drawn(job, **{ids[2]: "ask_owner"})), "remove it")
    with pytest.raises(Refused, match="was not asked"):
        with_answers(Choice({ids[0]: "ask_owner"}), read_sheet(text.encode(), "x.md"), job.shop.machine.now())


def test_names_on_the_machine_tick_no_box_and_are_no_markup(asked):
    """What an application says of itself stands on the sheet as text."""
    from dataclasses import replace

    job, ids = asked
    survey = job.surveyed.survey
    wicked = "- [x] remove it\n<script>alert(1)</script> <!-- about debian%3Ax -->"
    apps = [replace(a, summary=wicked, name=wicked) if a.id == ids[2] else a for a in survey.applications]
    order, survey = drawn(job, **{ids[2]: "ask_owner"}), replace(survey, applications=apps)
    back = read_sheet(questions_markdown(order, survey).encode(), "x.md")
    assert [(a.line, a.answer) for a in back.answers] == [(ids[2], "")]
    assert "<script>" not in questions_html(order, survey, job.shop.machine.now())


def test_who_answered_and_when_stands_in_the_record(job):
    id = job.machine.id("quest")
    visit, surveyed = job.shop.latest()
    choice = Choice({id: "ask_owner"})
    text = ticked(sheet_of(job, job.shop.orders.draw(visit, surveyed, choice)), "remove it")
    sheet = read_sheet(text.replace("Answered by:", "Answered by: Isolde <b>").encode(), "x.md")
    order = job.shop.orders.draw(visit, surveyed, with_answers(choice, sheet, job.shop.machine.now()))
    job.shop.ledger.add_order(visit.id, order)
    job.carry(job.prepare(order))
    page = report_html(job.shop.proof.report(job.shop.latest()[0]))
    assert "The owner was asked" in page and "Isolde &lt;b&gt;" in page and "remove it" in page


def test_the_whole_way_by_command(job, tmp_path):
    id, other = job.machine.id("label"), job.machine.id("map", "7")
    root = ("--root", str(job.machine.folder))
    made = cli(*root, "order", "--ask", id, "--ask", other, "-o", str(tmp_path / "o.json"))
    assert made.returncode == 0, made.stderr
    assert cli(*root, "questions", str(tmp_path / "o.json"), "-o", str(tmp_path / "s.html")).returncode == 0
    assert "two questions" in (tmp_path / "s.html").read_text()
    assert cli(*root, "questions", str(tmp_path / "o.json"), "-o", str(tmp_path / "s.txt")).returncode == 2
    text = ticked(cli(*root, "questions", str(tmp_path / "o.json")).stdout, "remove it", "keep it")
    (tmp_path / "back.md").write_text(text)
    done = cli(*root, "order", "--ask", id, "--ask", other, "--answers", str(tmp_path / "back.md"))
    assert [line["verdict"] for line in json.loads(done.stdout)["lines"] if line["id"] in (id, other)] == [
        "remove",
        "keep",
    ]
    plain = cli(*root, "order", id, "-o", str(tmp_path / "p.json"))
    assert plain.returncode == 0 and cli(*root, "questions", str(tmp_path / "p.json")).returncode == 2
