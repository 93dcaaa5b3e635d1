"""Files that are known to name nobody before they are read: never one that a reader would have found to name somebody."""

from __future__ import annotations

from hypothesis import example, given, settings
from hypothesis import strategies as st

from swept_shelf.core.machine.commands import Ran
from swept_shelf.core.references import sieve
from swept_shelf.core.references.pointees import words_in
from swept_shelf.core.references.sieve import WRITTEN_OTHERWISE, naming_nobody

WORDS = {"plot7", "ash", "a", "7"}
_text = st.text(st.sampled_from("plot7ash_-./ \n\tPLÄß%\\&#\0;="), max_size=40).map(str.encode)
_files = st.dictionaries(st.text(st.sampled_from("/plot7ash_.x"), max_size=12), _text, max_size=6)


@settings(max_examples=80, deadline=None)
@given(_files)
@example({"/etc/x": b"PLOT7\n", "/etc/y": b"my_plot7_x", "/plot7/z": b"", "/etc/w": b"plot77 splash"})
def test_what_is_held_back_has_none_of_the_words_nor_any_that_may_stand_for_one(files):
    for path in naming_nobody(files, WORDS):
        text = files[path].decode("utf-8", "surrogateescape")
        assert WORDS.isdisjoint(words_in(text) | words_in(path))
        assert not any(sign in text for sign in WRITTEN_OTHERWISE)


def test_what_is_no_word_of_anybody_is_held_back_and_a_part_of_a_word_is_none():
    files = {"/etc/one": b"colour = 3\n", "/etc/two": b"plot77 = dash\n", "/etc/three": b"run = plot7\n"}
    assert naming_nobody(files, WORDS) == {"/etc/one", "/etc/two"}
    assert naming_nobody(files, {"colour"}) == {"/etc/two", "/etc/three"}


def test_where_the_search_itself_fails_nothing_is_held_back(monkeypatch):
    monkeypatch.setattr(sieve, "run", lambda *_, **__: Ran(2, b"", "grep: no memory"))
    assert naming_nobody({"/etc/one": b"colour = 3\n"}, WORDS) == set()
    assert naming_nobody({}, WORDS) == naming_nobody({"/etc/one": b"x"}, set()) == set()
