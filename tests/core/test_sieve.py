"""Files that are known to name nobody before they are read: never one that a reader would have found to name somebody."""

from __future__ import annotations

import os

from hypothesis import example, given, settings
from hypothesis import strategies as st

from swept_shelf.core.machine.commands import Ran
from swept_shelf.core.references import sieve
from swept_shelf.core.references.pointees import words_in
from swept_shelf.core.references.sieve import WRITTEN_OTHERWISE, Sieve

WORDS = {"plot7", "ash", "a", "7"}
_text = st.text(st.sampled_from("plot7ash_-./ \n\tPLÄß%\\&#\0;="), max_size=40).map(str.encode)
_files = st.dictionaries(st.text(st.sampled_from("/plot7ash_.x"), max_size=12), _text, max_size=6)


@settings(max_examples=80, deadline=None)
@given(_files)
@example({"/etc/x": b"PLOT7\n", "/etc/y": b"my_plot7_x", "/plot7/z": b"", "/etc/w": b"plot77 splash"})
def test_what_is_held_back_has_none_of_the_words_nor_any_that_may_stand_for_one(files):
    for path in Sieve(files).naming_nobody(WORDS):
        text = files[path].decode("utf-8", "surrogateescape")
        assert WORDS.isdisjoint(words_in(text) | words_in(path))
        assert not any(sign in text for sign in WRITTEN_OTHERWISE)


def test_what_is_no_word_of_anybody_is_held_back_and_a_part_of_a_word_is_none():
    files = {"/etc/one": b"colour = 3\n", "/etc/two": b"plot77 = dash\n", "/etc/three": b"run = plot7\n"}
    assert Sieve(files).naming_nobody(WORDS) == {"/etc/one", "/etc/two"}
    assert Sieve(files).naming_nobody({"colour"}) == {"/etc/two", "/etc/three"}


def test_where_the_search_itself_fails_nothing_is_held_back(monkeypatch):
    monkeypatch.setattr(sieve, "run", lambda *_, **__: Ran(2, b"", "grep: no memory"))
    assert Sieve({"/etc/one": b"colour = 3\n"}).naming_nobody(WORDS) == set()
    assert Sieve({}).naming_nobody(WORDS) == Sieve({"/etc/one": b"x"}).naming_nobody(set()) == set()


def test_what_was_written_down_is_searched_again_for_other_words_and_with_what_came_since():
    files = {"/etc/one": b"colour = 3\n", "/etc/two": b"plot77 = dash\n"}
    one = Sieve(files)
    assert one.naming_nobody(WORDS) == {"/etc/one", "/etc/two"}
    files["/etc/three"] = b"run = plot7\n"
    assert one.naming_nobody({"colour"}) == {"/etc/two", "/etc/three"}
    assert one.naming_nobody(WORDS) == {"/etc/one", "/etc/two"}


def test_what_another_process_writes_down_changes_nothing_here():
    files = {"/etc/one": b"colour = 3\n", "/etc/two": b"run = plot7\n"}
    one = Sieve(files)
    one.naming_nobody(WORDS)
    if not (child := os.fork()):
        files.update({"/etc/four": b"x\n", "/etc/five": b"plot7\n"})
        as_it_should = one.naming_nobody(WORDS) == {"/etc/one", "/etc/four"}
        os._exit(0 if as_it_should else 1)
    assert os.waitpid(child, 0)[1] == 0
    files["/etc/three"] = b"ash\n"
    assert one.naming_nobody(WORDS) == {"/etc/one"}
