"""What fits a part of a pattern is what its shell would say, however many folders and names are asked at once."""

from __future__ import annotations

from fnmatch import fnmatchcase

from hypothesis import example, given
from hypothesis import strategies as st

from swept_shelf.core.references.places import _fitting

_NAMES = st.dictionaries(
    st.text("ab.c\n*[", min_size=1, max_size=6), st.sampled_from(("file", "link")), max_size=8
)


@given(st.lists(_NAMES, max_size=3), st.text("ab.c*?", min_size=1, max_size=5))
@example([{".c": "file", "a.c": "file", "b.c": "link", "a.c.c": "file", "a.cb": "file"}], "*.c")
@example([{"ab": "file", "a": "file"}, {"b": "link"}], "*")
def test_names_in_folders_fit_as_a_shell_would_have_them(folders, pattern):
    inside = [(f"/{i}", names, "\0".join(("", *names, ""))) for i, names in enumerate(folders)]
    wanted = {
        (f"/{i}/{name}", type)
        for i, names in enumerate(folders)
        for name, type in names.items()
        if (name == pattern if not set(pattern) & set("*?") else fnmatchcase(name, pattern))
    }
    found = _fitting(inside, pattern)
    assert set(found) == wanted and len(found) == len(wanted)
