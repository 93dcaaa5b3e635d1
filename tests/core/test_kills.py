"""A kill at any instant leaves each thing where it was or on the shelf; resume finishes, or puts back.

Here a sample of the points; `make test-kill` goes through all of them."""

from __future__ import annotations

import pytest

from killing import Bench, points

SAMPLE = 61


@pytest.fixture(scope="module")
def bench(tmp_path_factory):
    return Bench(tmp_path_factory.mktemp("kills"))


@pytest.mark.parametrize("kind", ["carry_out", "put_back", "empty"])
def test_killed_at_sampled_points(bench, kind):
    tried = points(bench, kind, every=SAMPLE)
    assert tried.wrong == []
    assert tried.kills >= 5, f"only {tried.kills} kills"
    print(f"\n{kind}: killed {tried.kills} times at every {SAMPLE}th point, recovered every time")
