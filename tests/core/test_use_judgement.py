"""Laws of the judgement over signs of use, and of passes over times."""

from __future__ import annotations

from datetime import timedelta

from hypothesis import given
from hypothesis import strategies as st

from evidence import NOW, ago
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.use.judgement import MONTHS, judge
from swept_shelf.core.use.passes import inside, passes
from swept_shelf.core.use.trace import FAIR, GOOD, WEAK, Trace

KINDS = (
    "program read",
    "parts read",
    "preferences written",
    "cache written",
    "shell history",
    "journal",
    "recent documents",
)
traces = st.builds(
    Trace,
    st.sampled_from(("a", "b")),
    st.sampled_from(KINDS),
    st.one_of(st.integers(ago(800), NOW), st.integers(-(2**62), 2**62)),
    st.sampled_from(("", "vera", "otto")),
    st.sampled_from(("/x", "/y")),
    st.sampled_from((GOOD, FAIR, WEAK)),
    st.one_of(st.none(), st.integers(ago(400), NOW)),
    st.integers(0, 3),
    st.just(""),
    st.sampled_from(("", "", "is zero")),
)
RANK = ("", "barely", "fairly", "sure")
MOMENT = from_ns(NOW * 10**9)


def judged(found: list[Trace]):
    return judge(["a", "b", "none"], found, list(KINDS), set(), MOMENT)


@given(st.lists(traces, max_size=9), st.randoms())
def test_the_order_of_signs_does_not_matter_and_all_times_are_utc(found, chance):
    mixed = list(found)
    chance.shuffle(mixed)
    first = judged(found)
    assert first == judged(mixed)
    assert first["none"].at is None and first["none"].because.startswith("no sign of use (looked at: ")
    for use in first.values():
        assert all(
            m.utcoffset() == timedelta(0)
            for m in (use.at, use.from_, use.to, *(s.at for s in use.signs))
            if m is not None
        )
        assert len(use.months) == MONTHS and all(0 <= n <= 31 for n in use.months)
        assert use.at is None or use.from_ <= use.at <= use.to


@given(st.lists(traces, max_size=7), traces)
def test_one_more_sign_never_makes_the_answer_less_certain_without_saying_why(found, more):
    before, after = judged(found)[more.app], judged([*found, more])[more.app]
    if RANK.index(after.certainty) < RANK.index(before.certainty):
        assert more.kind in after.because and after.at > before.at
    if more.aside:
        assert (after.at, after.certainty, after.person, after.months) == (
            before.at,
            before.certainty,
            before.person,
            before.months,
        )


@given(st.lists(st.integers(1, 10**9), max_size=60), st.randoms())
def test_passes_do_not_depend_on_the_order_and_few_files_never_make_one(times, chance):
    mixed = list(times)
    chance.shuffle(mixed)
    found = passes(times, {600: 0.3})
    assert (found == passes(mixed, {600: 0.3})).all()
    assert len(times) >= 12 or not len(found)
    assert all(inside(found, int(a)) and inside(found, int(b)) for a, b in found)


def test_a_later_weak_sign_is_kept_and_what_the_stronger_ones_say_is_said():
    strong = [
        Trace("a", "shell history", ago(90), "vera", "/x", GOOD),
        Trace("a", "preferences written", ago(91), "vera", "/y", GOOD),
    ]
    assert judged(strong)["a"].certainty == "sure"
    use = judged([*strong, Trace("a", "program read", ago(3), "", "/z", WEAK)])["a"]
    assert use.certainty == "barely" and use.because.startswith(
        "only program read says so; shell history says"
    )
