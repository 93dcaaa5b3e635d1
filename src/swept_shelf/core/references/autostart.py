"""Programs started at login (freedesktop.org Desktop Application Autostart Specification)."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.registries.launchers import command_words, parse_entry, program_of

FAMILY = "startup"


def places(home: str | None) -> list[str]:
    return [f"{home}/.config/autostart"] if home else ["/etc/xdg/autostart"]


def find(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    """At most one hit: the file's command, else its name, is the application's."""
    for id, number, line in entry_pointer(path, text, to):
        hidden = parse_entry(text).get("Hidden", (0, ""))[1].lower() == "true"
        yield Hit(id, FAMILY, "autostart", path, number, "Exec", line, "starts at login", True, not hidden)


def entry_pointer(path: str, text: str, to: Pointees) -> Iterator[tuple[str, int, str]]:
    """(application, line, text) when a desktop entry starts one of them."""
    keys = parse_entry(text)
    for key in ("Exec", "TryExec"):
        if key in keys:
            number, value = keys[key]
            if id := to.program(program_of(command_words(value))):
                yield id, number, f"{key}={value}"
                return
    if "Exec" not in keys and (id := to.launcher(path.rsplit("/", 1)[1])):
        yield id, 1, text.split("\n", 1)[0]
