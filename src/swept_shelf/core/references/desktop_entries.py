"""Files that are desktop entries, or read like them: which application one starts."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.commands import command_words, parse_entry, program_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry
from swept_shelf.core.references.targets import of_exec, one


def starts_another(keys: Mapping[str, tuple[int, str]]) -> bool:
    """Whether what must be there is not what is started: somebody's own launcher, of a program that needs it."""
    programs = [program_of(command_words(keys.get(k, (0, ""))[1])) for k in ("Exec", "TryExec")]
    return bool(programs[0]) and base("/" + programs[0]) != base("/" + programs[1])


def entry_that_starts(path: str, text: str, detail: str) -> Iterator[Entry]:
    """At most one: by the command, else by what must be there for it, else by the name of the file where it has neither."""
    keys = parse_entry(text)
    enabled = not any(
        keys.get(k, (0, ""))[1].lower() == v
        for k, v in (("Hidden", "true"), ("X-GNOME-Autostart-enabled", "false"))
    )
    for key in ("Exec", "TryExec"):
        if key in keys:
            number, value = keys[key]
            if targets := of_exec(value):
                entry = whole_file(number, key, f"{key}={value}", targets, detail, enabled)
                yield replace(entry, ask=key == "TryExec" and starts_another(keys))
    if "URL" in keys and keys.get("Type", (0, ""))[1] == "Link":
        number, value = keys["URL"]
        yield whole_file(number, "URL", f"URL={value}", one(By.ADDRESS, value), detail, enabled)
    if "Exec" not in keys and "URL" not in keys:
        yield whole_file(1, "Exec", text.split("\n", 1)[0], one(By.LAUNCHER, base(path)), detail, enabled)
    if keys.get("DBusActivatable", (0, ""))[1] == "true":
        name = base(path).removesuffix(".desktop")
        number = keys["DBusActivatable"][0]
        yield whole_file(
            number, "DBusActivatable", f"DBusActivatable=true ({name})", one(By.BUS, name), detail, enabled
        )
