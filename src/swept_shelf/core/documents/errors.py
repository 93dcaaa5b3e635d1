"""Our own few exceptions. Each says what a person should know: the place, the reason, what was left undone."""

from __future__ import annotations


class SweptShelfError(Exception):
    """Base of all errors that are shown to a technician as they stand."""

    def __init__(self, reason: str, path: str = "") -> None:
        self.reason = shortened(printable(reason))
        self.path = path
        super().__init__(f"{shortened(printable(path), 4096)}: {self.reason}" if path else self.reason)


class CouldNotRead(SweptShelfError):
    """A file, registry or folder could not be read. The rest of the work goes on."""


class Refused(SweptShelfError):
    """Asked for something that is not done; nothing was changed. Exit status 2."""


class Changed(SweptShelfError):
    """A path is no longer what was surveyed; nothing of it was moved."""


class Gone(Changed):
    """What was to be taken is not there any more: nothing is left to do."""


class PersonalChanged(Changed):
    """Something that may be a person's own is new or changed: its line stops."""


class Interrupted(SweptShelfError):
    """A run was cut off and must first be finished or put back."""


def shortened(text: str, most: int = 2000) -> str:
    """No message is longer than a screen, whatever a file holds: the middle goes."""
    return text if len(text) <= most else f"{text[: most - 200]} … {text[-150:]}"


def printable(text: str) -> str:
    """`text` without control characters and undecodable bytes, for people to read."""
    shown = "".join(c if c.isprintable() else repr(c)[1:-1] for c in text)
    return shown.encode("utf-8", "backslashreplace").decode("utf-8")


def printable_lines(text: str) -> str:
    """The same for text of several lines."""
    return "\n".join(printable(line) for line in text.split("\n"))


def one_line(text: str) -> str:
    """The first line of a text that a machine says of itself, at most 200 characters, for people to read."""
    return printable(text.strip().split("\n", 1)[0].strip()[:200])
