"""How settings mean a program by its name alone: one that is chosen for a task, and rules for windows, sounds or messages of it."""

from __future__ import annotations

import re

from swept_shelf.core.references.kind import By, Target

_CHOOSES = re.compile(  # keys of settings whose value is what does the task
    r"(?:^|[-_./\\])(?:driver|plugins?|modules?|backend|engine|provider|agent|daemon|greeter|keyboard|inputmethod|input_method|"
    r"im(?:module|_module)?|dhcp|dns|speller|mailer|compositor|greeter-session|session-wrapper|wm|keyring|synth\w*|player|"
    r"white_?list|black_?list|allow_?list|block_?list|(?:exclude|include|ignore|allow|block|except)\w*|"
    r"\w+(?:driver|backend|engine|provider|daemon))$",
    re.I,
)
_WORD = re.compile(r"[A-Za-z][\w.+-]*$")
_WHAT = (
    r"\b(?:class|class_g|class_i|wm_?class|window_?class|app[-_]?id|app[-_]?name|instance|window_role|desktop[-_]entry|"
    r"application[._](?:name|id|process[._]binary)|process[._]binary)\b"
)
_RULE = re.compile(
    rf"{_WHAT}[\"']?\)?\s*(?:[*%?]?[=:~]{{1,2}}[?*]?|,?\s*[\"']?(?:equals|matches|is)[\"']?,?)?\s*[\"']\^?\(?([\w.+-]+)\)?\$?[\"']"
    rf"|{_WHAT}[=:]~?\^?\(?([\w.+-]+)",
    re.I,
)
_LONGEST = 4096  # characters of a line that somebody wrote


def chosen(key: str, value: str) -> tuple[Target, ...]:
    """What a value chooses that is a name, or a list of names, where the key says that they do something."""
    if not _CHOOSES.search(key):
        return ()
    words = [w.strip("\"'[]() \t") for w in re.split(r"[\s,;]+", value.strip()) if w]
    if not all(_WORD.match(w) for w in words):
        return ()
    return tuple(t for w in words for t in (Target(By.COMMAND, w), Target(By.NAME, w)))


def ruled(line: str) -> tuple[Target, ...]:
    """Whose windows, sounds or messages the rules in a line are for: classes begin with a capital, their programs do not."""
    if len(line) > _LONGEST:
        return ()
    found = (m[1] or m[2] for m in _RULE.finditer(line))
    return tuple(t for name in found for t in (Target(By.COMMAND, name.lower()), Target(By.BUS, name)))
