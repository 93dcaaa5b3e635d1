"""Completions and functions of shells that are a file of its command's name."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one

_COMPLETES = re.compile(r"^\s*(?:complete\s.*?\s|#compdef\s+)([\w.+-]+)\s*$", re.M)


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path).removeprefix("_").removesuffix(".fish").removesuffix(".bash")
    said = _COMPLETES.search(text)
    targets = one(By.COMMAND, name)
    if said:
        targets = (*targets, *one(By.COMMAND, said[1]))
    line = text.count("\n", 0, said.start(1)) + 1 if said else 1
    yield whole_file(
        line, name, said[0].strip() if said else text.split("\n", 1)[0], targets, "completes its command"
    )


KIND = Kind(
    "completion",
    "shell",
    ("completion of its command", "completions of its command"),
    (
        Place("~data/bash-completion/completions/*"),
        Place("~config/fish/completions/*.fish"),
        Place("~config/fish/functions/*.fish"),
        Place("~data/fish/vendor_completions.d/*.fish"),
        Place("~/.bash_completion.d/*"),
        Place("~/.zsh/completions/_*"),
        Place("~/.zfunc/_*"),
        Place("~data/zsh/site-functions/_*"),
        Place("/etc/bash_completion.d/*"),
        Place("/usr/local/share/bash-completion/completions/*"),
        Place("/usr/share/bash-completion/completions/*"),
        Place("/usr/local/share/zsh/site-functions/_*"),
        Place("/usr/local/share/fish/vendor_completions.d/*.fish"),
        Place("/etc/fish/completions/*.fish"),
    ),
    _parse,
    whole=True,
    head=4096,
)
