"""Folders in which version control keeps what it knows of a working copy: they are the copy's, whoever has it."""

from __future__ import annotations

VERSION_CONTROL = frozenset({".git", ".hg", ".svn", ".bzr", ".jj", ".fossil", "_darcs", "CVS", "RCS"})
