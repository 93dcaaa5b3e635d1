"""Which programs a line of shell starts: words in command position, comments left out (POSIX 2.3)."""

from __future__ import annotations

import re
import shlex

from swept_shelf.core.grammars.commands import ARGUMENTS, THROUGH, WITH_VALUE, WRAPPERS

_KEYWORDS = WRAPPERS | {
    "if", "then", "else", "elif", "fi", "do", "done", "while", "until", "for", "case", "esac", "{", "}", "!", "command", "builtin",
    "eval",
}  # fmt: skip
_PLAIN = re.compile(r"[\w./=+:,@%~^ \t-]*")  # nothing that a shell would read otherwise than word by word
LONGEST = 64 << 10  # characters of one line
_SEPARATORS = frozenset({";", "&&", "||", "|", "&", "(", ")", ";;"})


def words_of(line: str) -> list[str]:
    """Tokens of a line, operators apart; [] when its quoting does not close on this line. Raises ValueError for a line that is
    longer than any that people write: what it starts is not known."""
    if len(line) > LONGEST:
        raise ValueError(f"a line of more than {LONGEST >> 10} KiB was not taken apart")
    if _PLAIN.fullmatch(line):
        return line.split()
    lexer = shlex.shlex(line, posix=True, punctuation_chars=";&|()")
    lexer.whitespace_split = True
    lexer.commenters = ""
    try:
        words = list(lexer)
    except ValueError:
        return []
    for i, word in enumerate(words):
        if word.startswith("#"):
            return words[:i]
    return words


def programs_of(line: str) -> list[str]:
    """Words in command position of every simple command in the line."""
    found: list[str] = []
    expect, wrapper, skip = True, "", 0
    for word in words_of(line):
        if word in _SEPARATORS:
            expect, wrapper, skip = True, "", 0
        elif not expect:
            continue
        elif skip:
            skip -= 1
        elif word in _KEYWORDS:
            wrapper, skip = word, ARGUMENTS.get(word, 0)
        elif wrapper and word in WITH_VALUE:
            skip = 1
        elif not re.fullmatch(r"[A-Za-z_]\w*=.*|-\S+", word):
            found.append(word)
            expect = word.rpartition("/")[2] in THROUGH
            wrapper = word if expect else wrapper
    return found
