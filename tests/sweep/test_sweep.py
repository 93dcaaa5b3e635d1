"""Every kill point: `make test-kill`. For each call that changes anything, N = 1, 2, ... until a run survives."""

from __future__ import annotations

import sys

import pytest

from killing import Bench, errors, points
from kills import CALLS, POINTS

pytestmark = pytest.mark.sweep


@pytest.fixture(scope="module")
def bench(tmp_path_factory):
    return Bench(tmp_path_factory.mktemp("kills"))


@pytest.mark.parametrize("kind", ["carry_out", "put_back", "empty"])
@pytest.mark.parametrize("call", CALLS)
def test_killed_at_every_point(bench, kind, call):
    tried = points(bench, kind, calls=(call,))
    print(f"{kind}, {call}: killed {tried.kills} times, {len(tried.wrong)} wrong", file=sys.stderr)
    assert tried.wrong == []


@pytest.mark.parametrize("code", ["ENOSPC", "EIO"])
@pytest.mark.parametrize(
    ("kind", "call"),
    [
        (k, c)
        for k in POINTS
        for c in POINTS[k]
        if c in ("write", "fsync", "renameat2", "mkdirat", "unlinkat", "link")
    ],
)
def test_an_error_at_every_seventh_point(bench, kind, call, code):
    tried = errors(bench, kind, call, code, every=7)
    print(f"{kind}, {call}: {code} felt {tried.kills} times, {len(tried.wrong)} wrong", file=sys.stderr)
    assert tried.wrong == []
