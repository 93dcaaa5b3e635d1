"""How the texts of commands and of lists point."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.commands import THROUGH, behind, command_words, program_of
from swept_shelf.core.grammars.shell_words import programs_of, words_of
from swept_shelf.core.references.kind import By, Target

_PATH = re.compile(r"(?:~|\$HOME|\$\{HOME\}|%h|@\{HOME\})?/[\w.+@%:,/-]*[\w+/-]")
COMMAND_KEY = re.compile(  # keys of settings whose value is a command
    r"(?:^|[-_./\\:])(?:exe|exec\w*|command|cmd|command_?line|prog|notifier|run|editor|browser|terminal|lessopen|invoke|hook|script|executable\w*|windowmanager|window_manager|on[-_][\w-]+|pager|shell|tool|player|viewer|handler|program|path|launch\w*|\w*application|opener|helper|runner|\w*wrapper|linker|runtime|interpreter|ssh|cmd\.[\w-]+|(?:double-)?click-\w+|scroll-\w+|(?:pre|post)?-?(?:up|down)|term|askpass|commandurl|credential_process|sshcommand|external\w*|web[-_ ]?browser|terminal[-_ ]?emulator|file[-_ ]?manager|mail[-_ ]?reader|\w+command|\w+cmd|\w+viewer|\w+player|\w+pager|\w+editor|\w+browser|\w+program|\w+prg|\w+terminal|\w+hook|\w+_cm)\d*$|\bcommands\\",
    re.I,
)
_INSIDE = re.compile(r"\$\(([^()`]*)\)|`([^`]*)`|<\(([^()`]*)\)")
_SHELLS = frozenset(
    {"sh", "bash", "dash", "zsh", "ksh", "fish", "su", "runuser"}
)  # and what starts one, with its -c
_WATCHERS = frozenset({"swayidle", "xidlehook", "xautolock", "hypridle"})
_TERMINALS = re.compile(r"(?:.*term(?:inal)?(?:-emulator)?|konsole|kitty|foot|st|tilix|terminator|sakura)")
_RUN_IN_IT = frozenset({"-e", "-x", "--", "--command", "--execute"})
_EXECUTE = frozenset({"-exec", "-execdir", "-ok", "-okdir"})
_STARTERS = frozenset(
    {"gtk-launch", "dex", "kioclient", "kioclient5", "exo-open", "gio", "kstart", "kstart5"}
)
_UNITS = frozenset({"systemctl", "service", "invoke-rc.d", "update-rc.d"})


def one(by: By, value: str) -> tuple[Target, ...]:
    return (Target(by, value),) if value else ()


def of_exec(value: str) -> tuple[Target, ...]:
    """The command line of a desktop entry or a unit (its prefixes left out)."""
    words = command_words(value.lstrip("-@:+!| "))
    program = program_of(words)
    found = dict.fromkeys(_of_words(words, program))
    if base("/" + program) in THROUGH and program in words:
        rest = behind(program, words[words.index(program) + 1 :])
        found |= dict.fromkeys(_of_words(rest, program_of(rest)))
    return tuple(found | dict.fromkeys(_handed_on(words)))


def of_shell(line: str) -> tuple[Target, ...]:
    """What a line of shell starts, also inside of other words: $(...), `...`, <(...)."""
    words = words_of(line)
    found: dict[Target, None] = {}
    for program in programs_of(line):
        for target in _of_words(words, program):
            found.setdefault(target)
    for target in _handed_on(words):
        found.setdefault(target)
    for inner in _INSIDE.finditer(line):
        for target in of_shell(next(g for g in inner.groups("") if g) if any(inner.groups()) else ""):
            found.setdefault(target)
    return tuple(found)


def _handed_on(words: list[str]) -> Iterator[Target]:
    """What a shell, find(1), a terminal or a watcher of the screen is given to start."""
    names = [base("/" + w) for w in words]
    for i, name in enumerate(names):
        if name in _SHELLS:
            lines = [
                w for o, w in zip(words[i + 1 :], words[i + 2 :], strict=False) if re.fullmatch(r"-\w*c", o)
            ]
        elif name in _WATCHERS:
            lines = [w for w in words[i + 1 :] if " " in w]
        elif _TERMINALS.fullmatch(name):
            begins = (n for n, w in enumerate(words[i + 1 :], i + 2) if w in _RUN_IN_IT)
            lines = [" ".join(words[n:]) for n in begins if n < len(words)][:1]
        elif name == "find":
            lines = [w for o, w in zip(words[i + 1 :], words[i + 2 :], strict=False) if o in _EXECUTE]
        else:
            continue
        for line in lines[:8]:
            yield from of_shell(line)


def of_setting(value: str) -> tuple[Target, ...]:
    """What a setting that holds a command may start, however its program reads it, and every path that stands in it."""
    return tuple(dict.fromkeys((*of_exec(value), *of_shell(value), *of_words(value))))


def of_words(line: str) -> tuple[Target, ...]:
    """Every path that stands in a line."""
    return tuple(dict.fromkeys(Target(By.PATH, m[0].rstrip(":,")) for m in _PATH.finditer(line)))


def _of_words(words: list[str], program: str) -> Iterator[Target]:
    if not program:
        return
    yield Target(By.COMMAND, program)
    name = base("/" + program)
    rest = words[words.index(program) + 1 :] if program in words else []
    given = [w for w in rest if not w.startswith("-")]
    if name in _STARTERS:
        for word in given:
            launcher = base("/" + word)
            yield Target(By.LAUNCHER, launcher if launcher.endswith(".desktop") else f"{launcher}.desktop")
    elif name in _UNITS:
        for word in given:
            yield Target(By.UNIT, word if "." in word else f"{word}.service")
    elif name == "flatpak" and given[:1] == ["run"]:
        for word in given[1:2]:
            yield Target(By.LAUNCHER, f"{word.split('/')[0]}.desktop")
    elif name == "snap" and given[:1] == ["run"]:
        yield from (Target(By.COMMAND, f"/snap/bin/{w}") for w in given[1:2])
    elif name in ("source", "."):
        yield from (Target(By.PATH, w) for w in given[:1])
