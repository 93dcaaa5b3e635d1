"""Lines of other programs' settings that start commands: keys of window managers, openers, editors, mail programs."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, continued_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_STARTS = re.compile(
    r"^\s*(?:bindsym|bindcode|bind(?:[a-z]*)?|exec(?:_always|-once)?|spawn|key|super\S*|map|set|macro|source|include|startup|execonce|Exec)\b"
)
_BEHIND = (
    re.compile(
        r"\b(?:exec(?:_always|-once)?|spawn)\s*[,=(\s]\s*(?:--no-startup-id\s+)?[\"']?(.+?)[\"')]*\s*$"
    ),
    re.compile(r"^\s*set\s+(?:\$?\w+)\s*=?\s*[\"']?(.+?)[\"']?\s*$"),
    re.compile(r"^\s*(?:map|macro)\b.*?(?:!|shell\s+-\w+\s+|&?\$|\|)\s*(.+?)(?:<enter>)?[\"']?\s*$"),
    re.compile(r"^\s*(?:ext|mime|name|has|else|file|directory|label|path)\b[^=]*?=\s*(.+)$"),
)
_WINDOW = re.compile(r"(?:class|app_id|instance|window_role)\s*=\s*[\"']\^?\(?([\w.+-]+)\)?\$?[\"']")


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        found: list[Target] = []
        for pattern in _BEHIND:
            if match := pattern.search(line.text):
                found += of_shell(match[1])
                break
        if not found and _STARTS.match(line.text):
            found += of_words(line.text)
        for match in _WINDOW.finditer(line.text):
            found += one(By.COMMAND, match[1].lower())
        if base(path).endswith("terminals.list"):
            found += one(By.LAUNCHER, line.text.strip().split(":")[0])
        return tuple(dict.fromkeys(found))

    yield from line_entries(continued_lines(text, '#"!'), targets, "another program's settings start it")


KIND = Kind(
    "line in settings",
    "other_programs",
    ("line in settings", "lines in settings"),
    (
        Place("~config/i3/config"),
        Place("~/.i3/config"),
        Place("~config/sway/config"),
        Place("~config/sway/config.d/*"),
        Place("/etc/i3/config"),
        Place("/etc/sway/config"),
        Place("/etc/sway/config.d/*"),
        Place("~config/hypr/*.conf"),
        Place("~config/*/rifle.conf"),
        Place("~config/*/rc.conf"),
        Place("~config/lf/lfrc"),
        Place("~/.muttrc"),
        Place("~config/mutt/muttrc"),
        Place("~config/neomutt/neomuttrc"),
        Place("~config/*xdg-terminals.list"),
        Place("/etc/xdg/*xdg-terminals.list"),
        Place("~/.vimrc"),
        Place("~config/nvim/init.vim"),
        Place("~/.tmux.conf"),
        Place("~config/tmux/tmux.conf"),
        Place("~/.screenrc"),
        Place("~/.fluxbox/keys"),
        Place("~/.fluxbox/startup"),
        Place("~/.fluxbox/menu"),
        Place("~/.fluxbox/apps"),
        Place("~/.xbindkeysrc"),
        Place("~/.fehbg"),
        Place("~/.inputrc"),
        Place("~/.nanorc"),
        Place("~/.lessfilter"),
    ),
    _parse,
)
