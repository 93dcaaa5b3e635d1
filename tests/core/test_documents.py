"""Documents: nothing is lost on the way out and in; orders are read strictly; schemas are current."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from swept_shelf.core.documents import wire
from swept_shelf.core.documents.errors import Refused, printable
from swept_shelf.core.documents.paths import (
    is_clean,
    join,
    outermost,
    parent,
    path_from_wire,
    path_to_wire,
    within,
)
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Survey

DOCS = Path(__file__).parents[2] / "docs" / "schemas"
any_bytes = st.binary(min_size=1, max_size=40).filter(lambda b: b"\0" not in b)


@given(any_bytes)
def test_no_byte_of_a_path_is_lost_in_a_document(raw):
    path = raw.decode("utf-8", "surrogateescape")
    assert path_from_wire(json.loads(json.dumps(path_to_wire(path)))) == path


@given(any_bytes)
def test_names_are_printed_on_one_line_without_control_characters(raw):
    shown = printable(raw.decode("utf-8", "surrogateescape"))
    assert "\n" not in shown and "\x1b" not in shown
    shown.encode("utf-8")


@given(st.lists(st.lists(st.sampled_from("ab"), min_size=1, max_size=4), max_size=8))
def test_outermost_paths_cover_all_and_contain_no_other(parts):
    paths = ["/" + "/".join(p) for p in parts]
    kept = outermost(paths)
    assert all(any(within(p, k) for k in kept) for p in paths)
    assert not any(a != b and within(a, b) for a in kept for b in kept)


def test_paths_are_clean_or_not():
    assert is_clean("/") and is_clean("/etc/x")
    assert not any(is_clean(p) for p in ("", "etc", "/etc/", "/etc//x", "/etc/../x", "/./x"))
    assert parent("/etc") == "/" and join("/", "etc") == "/etc"


@pytest.mark.parametrize(
    ("count", "words"),
    [
        (0, "0 bytes"),
        (999, "999 bytes"),
        (12_300, "12 kB"),
        (1_300_000, "1.3 MB"),
        (212_000_000, "212 MB"),
        (1_900_000_000, "1.9 GB"),
        (999_600, "1.0 MB"),
        (-49_000, "−49 kB"),
    ],
)
def test_sizes_read_as_people_write_them(count, words):
    assert human_bytes(count) == words


def test_schemas_in_docs_are_current():
    for name, schema in wire.schemas().items():
        assert json.loads((DOCS / f"{name}.json").read_text()) == schema, (
            f"run `make schemas`: {name}.json is old"
        )


def test_a_survey_and_an_order_survive_the_way_out_and_in(looked):
    survey = looked.surveyed.survey
    assert wire.read_document(Survey, wire.to_json(survey), "x") == survey
    order = looked.order(looked.machine.id("map", "7"))
    assert wire.read_order(wire.to_json(order), "x") == order
    plain = wire.to_plain(survey)
    assert (
        "from" in plain["applications"][0]["last_use"]
        and "except" in plain["applications"][0]["belongings"][0]
    )


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda o: o | {"version": 7}, "version 7"),
        (lambda o: o | {"surprise": 1}, "surprise"),
        (lambda o: o | {"format": "other"}, "not an order"),
        (lambda o: o | {"lines": [o["lines"][0] | {"verdict": "burn"}]}, "verdict"),
        (lambda o: o | {"lines": [o["lines"][0] | {"more": 1}]}, "more"),
        (lambda o: {k: v for k, v in o.items() if k != "machine"}, "machine"),
    ],
)
def test_an_order_with_anything_unknown_is_refused(looked, change, words):
    plain = wire.to_plain(looked.order(looked.machine.id("map", "7")))
    with pytest.raises(Refused, match=words):
        wire.read_order(json.dumps(change(plain)).encode(), "order.json")


def test_surveys_accept_unknown_members(looked):
    plain = wire.to_plain(looked.surveyed.survey) | {"later": {"more": 1}}
    assert wire.from_plain(Survey, plain) == looked.surveyed.survey


def test_text_that_is_no_json_is_refused_with_the_place():
    with pytest.raises(Refused, match=r"order\.json.*line 1"):
        wire.read_order(b"{", "order.json")
