"""A kill at any instant leaves each thing where it was or on the shelf; resume finishes, or puts back.

Here a sample of the points; `make test-kill` goes through all of them."""

from __future__ import annotations

import pytest

from helpers import Job, built
from killing import Bench, Tried
from kills import POINTS, sampled
from swept_shelf.core.registries.debian import change

# What the sweep of every point once found: dpkg's notes over a list that was put right, our own new list left beside the old one.
FOUND = [("put_back", "unlink", 6), ("put_back", "renameat2", 22)]
# Our moves, what is taken away, what is made lasting; the sweep has every call.
SAMPLED = ("renameat2", "unlinkat", "fsync")


@pytest.fixture(scope="module")
def bench(tmp_path_factory):
    return Bench(tmp_path_factory.mktemp("kills"))


@pytest.mark.parametrize("kind", POINTS)
def test_killed_at_sampled_points(bench, kind):
    """One point of each call that moves or makes something lasting, another place for each."""
    tried = Tried()
    samples = [call for call in POINTS[kind] if call in SAMPLED]
    for place, call in enumerate(samples):
        nth = 1 + int(POINTS[kind][call] * (place * 0.618 % 1))
        cut, wrong = getattr(bench, kind)(call, nth, finish=place % 2 == 0)
        tried.kills += cut
        tried.wrong += [f"{kind} cut at {call} {nth}: {w}" for w in wrong]
    assert tried.wrong == []
    assert tried.kills >= len(samples) - 2, f"only {tried.kills} of {len(samples)} samples hit"
    print(f"\n{kind}: killed {tried.kills} times, recovered every time")


@pytest.mark.parametrize(("kind", "call", "nth"), FOUND)
def test_killed_where_it_once_left_something_nothing_is_left(bench, kind, call, nth):
    """The carrier, or dpkg at its work."""
    _, wrong = getattr(bench, kind)(call, nth, finish=True)
    assert wrong == []


@pytest.mark.parametrize(
    ("kind", "call", "nth"),
    sampled([("put_back", "unlinkat", 92), ("put_back", "unlinkat", 1), ("carry_out", "write", 31)], 2),
)
def test_an_error_of_the_disk_leaves_no_trace_after_the_next_try(bench, kind, call, nth):
    """Felt by whatever process makes that call, dpkg's own among them."""
    _, wrong = getattr(bench, kind)(call, nth, True, "error=EIO")
    assert wrong == []


@pytest.mark.parametrize(
    ("kind", "call", "nth"),
    sampled([("carry_out", "symlink", 2), ("carry_out", "unlink", 2), ("put_back", "symlink", 1)], 2),
)
def test_killed_inside_the_tool_of_a_table_nothing_half_made_is_left(bench, kind, call, nth):
    """update-alternatives makes a link beside the one it replaces."""
    cut, wrong = getattr(bench, kind)(call, nth, finish=False)
    assert cut and wrong == []


def test_what_the_registry_had_no_time_to_write_into_its_list_is_written_before_the_run_ends(tmp_path):
    """As dpkg leaves it that was ended, or felt an error, behind its last step: others would refuse to work."""
    job = Job(built(1).copy(tmp_path / "machine"))
    run = job.prepare(job.order(job.machine.id("map", "7")))
    status = job.machine.root / "var/lib/dpkg/status"
    updates = status.parent / "updates"
    waiting = next(s for s in status.read_text().split("\n\n") if "Status: install ok installed" in s)

    def leave_one_waiting() -> None:
        (updates / "0000").write_text(waiting + "\n")

    leave_one_waiting()
    change.write_up(job.shop.machine)
    assert list(updates.iterdir()) == []
    job.carry(run)
    leave_one_waiting()
    journal = run.journal_path.read_text().splitlines(True)
    run.journal_path.write_text("".join(journal[:-1]))  # cut off before its end
    job.carry(run)
    assert list(updates.iterdir()) == []
    assert job.put_back()["why"] == []
