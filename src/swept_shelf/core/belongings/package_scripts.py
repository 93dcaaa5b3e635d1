"""The texts of packages' scripts, read and never run: lines put together where they go on, plain variables filled in."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping

_LONGEST, _LONGEST_VALUE = 2048, 256  # characters of one line, and of a variable, that are looked at
_VARIABLE = re.compile(
    r"^[ \t]*(?:export[ \t]+|local[ \t]+|readonly[ \t]+)?([A-Za-z_]\w*)=([\"']?)([^\"'\s`;]*)\2[ \t]*;?[ \t]*$",
    re.M,
)
_USED = re.compile(r"\$(?:\{([A-Za-z_]\w*)(?::?-([^{}]*))?\}|([A-Za-z_]\w*))")


def variables(text: str, package: str) -> dict[str, str]:
    """What a script sets to one word, the last of them; the first where a later one only names itself."""
    found = {"DPKG_MAINTSCRIPT_PACKAGE": package.split(":")[0]}
    for m in _VARIABLE.finditer(text):
        if m[3] not in (f"${m[1]}", f"${{{m[1]}}}"):
            found[m[1]] = m[3][:_LONGEST_VALUE]
    return found


def lines_filled(text: str, values: Mapping[str, str]) -> Iterator[tuple[int, str, str]]:
    """(number, what stands there, the same with plain variables filled in) of each line that is no comment."""
    number, waiting = 0, ""
    for at, line in enumerate(text.split("\n"), 1):
        if not waiting:
            number = at
        waiting += line
        if waiting.endswith("\\") and len(waiting) < _LONGEST:
            waiting = waiting[:-1] + " "
            continue
        said, waiting = waiting[:_LONGEST], ""
        if not said.lstrip().startswith("#"):
            yield number, said, _filled(said, values)


def _filled(line: str, values: Mapping[str, str]) -> str:
    for _ in range(3):  # a value may name another
        if "$" not in line:
            break
        line = _USED.sub(lambda m: values.get(m[1] or m[3], m[0] if m[2] is None else m[2]), line)[:_LONGEST]
    return line
