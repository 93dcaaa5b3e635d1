"""Pictures of programs, and those that a theme draws of the same programs (Icon Theme Specification, "Directory Layout")."""

from __future__ import annotations

import re

from swept_shelf.core.tree.walk import Tree

_THEME = re.compile(r"(/.+?/icons/(?!(?:hicolor|locolor)/)[^/]+)/.+")  # programs put their own into these two


def is_a_themes(tree: Tree, path: str) -> bool:
    """Whether a picture belongs to a theme that describes itself: it is no program's, however it is called."""
    found = _THEME.fullmatch(path)
    return found is not None and f"{found[1]}/index.theme" in tree
