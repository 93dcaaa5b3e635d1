"""Spoiled texts: a parser says that it is none, or reads what there is; never anything else. Longer by `make fuzz`."""

from __future__ import annotations

import contextlib

import pytest
from hypothesis import HealthCheck, given, settings
from parsers import PARSERS, spoiled

MARKS = [b"\\\n", b"\r\n", *(bytes([c]) for c in b"\n #\"'=:[]{}()<>|;,/%$*!@-\t\0")]
SHAPES = [
    mark * many + end for mark in MARKS for many in (1, 2) for end in (b"", b"\n", b"\\\n")
]  # nothing but marks, and lines that go on in no other


@pytest.mark.parametrize("name", PARSERS)
def test_a_spoiled_text_is_read_or_said_to_be_none(name):
    parser = PARSERS[name]
    for sample in parser.samples:
        parser.act(sample)
    for shape in SHAPES:
        with contextlib.suppress(parser.may_raise):
            parser.act(shape)

    @settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck), database=None)
    @given(spoiled(parser.samples))
    def law(data: bytes) -> None:
        with contextlib.suppress(parser.may_raise):
            parser.act(data)

    law()
