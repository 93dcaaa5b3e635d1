"""Units of systemd's own that this program writes: how a command stands in one, and how systemctl is asked."""

from __future__ import annotations

import subprocess


def quoted(word: str) -> str:
    """As systemd.service(5) reads a word."""
    escaped = word.replace("\\", "\\\\").replace('"', '\\"').replace("%", "%%").replace("$", "$$")
    return f'"{escaped}"' if escaped != word or " " in word else word


def ran(*words: str) -> str:
    """Returns "" or why a command failed."""
    try:
        done = _done(words)
    except (OSError, subprocess.TimeoutExpired) as error:
        return str(error)
    return "" if done.returncode == 0 else " ".join(done.stderr.split()) or f"status {done.returncode}"


def said(*words: str) -> list[str]:
    """The words that a command printed; none where it failed."""
    try:
        return _done(words).stdout.split()
    except (OSError, subprocess.TimeoutExpired):
        return []


def _done(words: tuple[str, ...]) -> subprocess.CompletedProcess[str]:
    return subprocess.run(words, capture_output=True, text=True, stdin=subprocess.DEVNULL, timeout=60)
