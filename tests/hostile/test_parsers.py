"""Spoiled texts: a parser says that it is none, or reads what there is; never anything else. Longer by `make fuzz`."""

from __future__ import annotations

import pytest
from hypothesis import HealthCheck, given, settings
from parsers import PARSERS, spoiled


@pytest.mark.parametrize("name", PARSERS)
def test_a_spoiled_text_is_read_or_said_to_be_none(name):
    parser = PARSERS[name]
    for sample in parser.samples:
        parser.act(sample)

    @settings(max_examples=15, deadline=None, suppress_health_check=list(HealthCheck), database=None)
    @given(spoiled(parser.samples))
    def law(data: bytes) -> None:
        try:
            parser.act(data)
        except parser.may_raise:
            pass

    law()
