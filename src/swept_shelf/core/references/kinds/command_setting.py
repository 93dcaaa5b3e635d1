"""Settings of other programs in key files whose value is a command or a launcher: helpers, shortcuts, editors, merge tools."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.key_file import Group, groups_of
from swept_shelf.core.references.building import group_entry, item_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import COMMAND_KEY, of_exec, of_shell, of_words, one

_TOOL = re.compile(r'^(?:difftool|mergetool|browser|man|guitool|credential|filter|diff|merge)\s+"([^"]+)"$')
_TOOLS = (
    "tool",
    "guitool",
    "browser",
    "viewer",
    "helper",
    "external",
    "textconv",
    "process",
    "clean",
    "smudge",
    "driver",
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    git = base(path) in (".gitconfig", "config", "gitconfig") and ("git" in path)
    for group in groups_of(text, comments="#;"):
        launcher = re.sub(r"^services\]\[|\]\[.*$", "", group.name)
        if launcher.endswith(".desktop"):
            yield group_entry(group, one(By.LAUNCHER, launcher), "keys for its launcher")
            continue
        if path.endswith("/globalkeyshortcuts.conf"):  # keys without what they start are none
            if targets := _command(group.get("Exec").replace(", ", " ")):
                yield group_entry(group, targets, "keys start it")
            continue
        if path.endswith("/kwinrulesrc"):  # a rule without its window would hold for all
            if name := group.get("wmclass"):
                yield group_entry(group, one(By.COMMAND, name.split()[-1].lower()), "a rule for its windows")
            continue
        if path.endswith("/wayfire.ini") and group.name in ("autostart", "command"):
            for item in group.items:
                yield item_entry(group, item, _command(item.value), "starts with the session, or at a key")
            continue
        if path.endswith("/plasmanotifyrc") and group.name.startswith("Applications]["):
            name = group.name.rpartition("[")[2]
            yield group_entry(
                group, (*one(By.LAUNCHER, f"{name}.desktop"), *one(By.NAME, name)), "what it may say"
            )
            continue
        tool = _TOOL.match(group.name)
        for item in group.items:
            targets = _of_item(path, group, item.key, item.value, git)
            if git and tool and not targets and item.key in ("path", "cmd", "prompt", "trustExitCode"):
                targets = _command(tool[1])
            if targets:
                yield item_entry(
                    group,
                    item,
                    targets,
                    "another program's settings start it",
                    f"{group.name}/{item.key}".lower() if git else "",
                )


def _of_item(path: str, group: Group, key: str, value: str, git: bool) -> tuple[Target, ...]:
    bare = value.strip("\"'")
    if bare.endswith(".desktop"):
        return one(By.LAUNCHER, base("/" + bare))
    if path.endswith("hgrc") and group.name == "hooks":
        return _command(bare)
    if git and group.name == "alias":
        return of_shell(bare.removeprefix("!")) if bare.startswith("!") else ()
    if git and key in _TOOLS:
        return (*_command(bare.removeprefix("!").strip()), *of_words(bare))
    if git and key in ("path", "excludesfile", "attributesfile", "template", "hooksPath", "include"):
        return of_words(bare)
    if COMMAND_KEY.search(re.sub(r"\[\$\w+\]$", "", key)):  # [$e], [$i]: how KDE's programs read the value
        words = bare.replace(",", " ") if "," in bare and " " not in bare else bare  # a list of KDE's
        return (*_command(words), *of_words(bare))
    return ()


def _command(text: str) -> tuple[Target, ...]:
    return tuple(dict.fromkeys((*of_exec(text), *of_shell(text))))


KIND = Kind(
    "command in settings",
    "other_programs",
    ("command in settings", "commands in settings"),
    (
        Place("~/.gitconfig"),
        Place("/etc/gitconfig"),
        Place("/etc/xdg/*/helpers.rc"),
        Place("/etc/xdg/kdeglobals"),
        Place("~config/kdeglobals"),
        Place("~config/*/config"),
        Place("~config/xfce4/terminal/terminalrc"),
        Place("~data/konsole/*.profile"),
        Place("~config/konsole/*.profile"),
        Place("~config/wayfire.ini"),
        Place("~/.hgrc"),
        Place("~config/hg/hgrc"),
        Place("~/.subversion/config"),
        Place("~config/geany/filedefs/filetypes.*"),
        Place("~cache/sessions/xfce4-session-*"),
        Place("~config/*.toml"),
        Place("~config/*/*.toml"),
        *(Place(f"~config/{depth}*{ending}") for depth in ("", "*/") for ending in (".conf", ".ini", "rc")),
    ),
    _parse,
    wins="last",
)
