"""Places of its that a server gives out (exports(5), smb.conf(5), nginx, Apache): asked about, for somebody may be served."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import group_entry, item_entry
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec, of_words

_DETAIL = "a server gives it out"
_DIRECTIVE = re.compile(
    r"^\s*(?:(?:server|location|upstream)\b[^{]*\{\s*)?(?:root|alias|include|access_log|error_log|server|LoadModule\s+\w+|CustomLog|ErrorLog|(?:proxy|fastcgi|uwsgi|scgi)_pass|Alias\w*|ScriptAlias\w*|DocumentRoot|WSGIScriptAlias|Include\w*|"
    r"ProxyPass\w*|ErrorDocument)\s+(.+?);?\s*\}?\s*$"
)


_BLOCK = re.compile(
    r"^[ \t]*<(?P<kind>Directory|DirectoryMatch|Files)[ \t]+(?P<of>[^>\n]+)>[ \t]*\n(?:(?![ \t]*</?(?P=kind)\b)[^\n]*\n)*"
    r"[ \t]*</(?P=kind)>[^\n]*(?:\n|\Z)",
    re.M,
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "samba" in path:
        yield from _shares(text)
        return
    for block in _BLOCK.finditer(text):
        number = text.count("\n", 0, block.start()) + 1
        head = block[0].split("\n", 1)[0]
        yield Entry(number, head, head, of_words(block["of"]), _DETAIL, block.start(), block.end())
    for line in said_lines(text):
        if base(path) == "exports" or "/exports.d/" in path:
            targets = of_words(line.text.split()[0].strip('"'))
        elif match := _DIRECTIVE.match(line.text):
            targets = of_words(match[1])
        else:
            continue
        yield Entry(line.number, line.text, line.text, targets, _DETAIL, line.start, line.end)


def _shares(text: str) -> Iterator[Entry]:
    for group in groups_of(text, comments="#;"):
        for item in group.items:
            key = item.key.lower()
            if key in ("path", "directory"):
                yield group_entry(group, of_words(item.value), _DETAIL)
            elif key.endswith(("exec", "command", "script", "program", "action")):
                yield item_entry(group, item, of_exec(item.value), "a server starts it")


KIND = Kind(
    "served folder",
    "services",
    ("place that is given out", "places that are given out"),
    (
        Place("/etc/exports"),
        Place("/etc/exports.d/*"),
        Place("/etc/samba/*.conf"),
        *(
            Place(f"/etc/nginx/{x}")
            for x in ("nginx.conf", "conf.d/*.conf", "sites-enabled/*", "sites-available/*")
        ),
        *(
            Place(f"/etc/apache2/{x}")
            for x in (
                "apache2.conf",
                "conf-available/*.conf",
                "conf-enabled/*.conf",
                "sites-available/*",
                "sites-enabled/*",
                "mods-available/*",
                "mods-enabled/*",
            )
        ),
        Place("/etc/httpd/conf.d/*.conf"),
    ),
    _parse,
    action="ask",
)
