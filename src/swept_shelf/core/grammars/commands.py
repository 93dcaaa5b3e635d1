"""Desktop entries and their command lines (freedesktop.org Desktop Entry Specification 1.5)."""

from __future__ import annotations

import re
import shlex

from swept_shelf.core.documents.paths import base

# Programs that start another one, and are not what is meant; words that some take before it, and options with a value.
WRAPPERS = frozenset(
    {
        "env", "exec", "nohup", "nice", "ionice", "setsid", "timeout", "chrt", "taskset", "stdbuf", "time", "sudo", "doas", "pkexec",
        "dbus-launch", "dbus-run-session", "systemd-run", "systemd-inhibit", "systemd-cat", "flock", "setarch", "unbuffer",
    }
)  # fmt: skip
ARGUMENTS = {"timeout": 1, "chrt": 1, "flock": 1, "taskset": 1, "setarch": 1}
WITH_VALUE = frozenset({"-n", "-c", "-u", "-g", "-p", "-k", "-s"})
# Programs that somebody chose to start it through: both are meant.
THROUGH = frozenset(
    {
        "firejail", "gamemoderun", "mangohud", "prime-run", "optirun", "primusrun", "torsocks", "proxychains", "proxychains4",
        "xvfb-run", "gksu", "gksudo", "kdesu", "watch", "xargs", "strace", "gdb", "valgrind", "catchsegv", "tsocks", "wine",
    }
)  # fmt: skip
_LONGEST = 16 << 10  # characters of a command line
_PLAIN = re.compile(r"[\t !#-&(-\[\]-~]*")  # nothing that quotes


def parse_entry(text: str) -> dict[str, tuple[int, str]]:
    """Keys of [Desktop Entry] with their line numbers from 1; the first of a key counts."""
    group = ""
    found: dict[str, tuple[int, str]] = {}
    for number, line in enumerate(text.split("\n"), 1):
        stripped = line.strip()
        if stripped.startswith("[") and stripped.endswith("]"):
            group = stripped[1:-1]
        elif group == "Desktop Entry" and "=" in stripped and not stripped.startswith("#"):
            key, _, value = stripped.partition("=")
            found.setdefault(key.strip(), (number, value.strip()))
    return found


def command_words(text: str) -> list[str]:
    """The words of an Exec key, field codes left out; [] where the quoting is broken or it is longer than any command."""
    if len(text) > _LONGEST:
        return []
    if _PLAIN.fullmatch(text):
        return [w for w in text.split() if not re.fullmatch(r"%[a-zA-Z]", w)]
    try:
        return [w for w in shlex.split(text) if not re.fullmatch(r"%[a-zA-Z]", w)]
    except ValueError:
        return []


def program_of(words: list[str]) -> str:
    """The program a command line starts, past `env`, settings and wrappers that are not the program."""
    rest = list(words)
    while rest:
        word = rest.pop(0)
        if re.fullmatch(r"[A-Za-z_]\w*=.*", word):
            continue
        if base("/" + word) in WRAPPERS:
            rest = behind(word, rest)
            continue
        if base("/" + word) in ("sh", "bash", "dash") and rest:
            if rest[0] == "-c":
                return program_of(command_words(rest[1])) if len(rest) > 1 else ""
            return rest[0]
        return word
    return ""


def behind(wrapper: str, words: list[str]) -> list[str]:
    """What stands behind a wrapper, its options and its own words."""
    rest, own = list(words), ARGUMENTS.get(base("/" + wrapper), 0)
    while rest and (rest[0].startswith("-") or own):
        word = rest.pop(0)
        if not word.startswith("-"):
            own -= 1
        elif word == "--":
            break
        elif word in WITH_VALUE and rest:
            rest.pop(0)
    return rest
