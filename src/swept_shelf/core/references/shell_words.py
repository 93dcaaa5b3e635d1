"""Which programs a line of shell starts: words in command position, comments left out (POSIX 2.3)."""

from __future__ import annotations

import re
import shlex

_KEYWORDS = frozenset({"if", "then", "else", "elif", "fi", "do", "done", "while", "until", "for", "case", "esac", "{", "}", "!",
                       "exec", "command", "builtin", "nohup", "time", "sudo", "env", "nice", "ionice", "eval"})  # fmt: skip
_SEPARATORS = frozenset({";", "&&", "||", "|", "&", "(", ")", ";;"})


def words_of(line: str) -> list[str]:
    """Tokens of a line, operators apart; [] when its quoting does not close on this line."""
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
    found, expect = [], True
    for word in words_of(line):
        if word in _SEPARATORS:
            expect = True
        elif expect and (word in _KEYWORDS or re.fullmatch(r"[A-Za-z_]\w*=.*|-\S+", word)):
            continue
        elif expect:
            found.append(word)
            expect = False
    return found
