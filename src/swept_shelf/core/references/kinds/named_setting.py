"""Settings that name it in files whose own grammar nobody here knows: a line, a member or a call that holds a path of its, or
that says a command. What stays unsure is a mention; what is found here is asked about before it goes."""

from __future__ import annotations

import ast
import re
import tomllib
from collections.abc import Callable, Iterable, Iterator
from functools import partial

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.json_members import Member, nested, why_no_json
from swept_shelf.core.grammars.lines import Line, lines_of
from swept_shelf.core.references.building import json_entries, line_entries, listed_entries
from swept_shelf.core.references.choices import chosen, ruled
from swept_shelf.core.references.kind import NAMING, By, Entry, Kind, Place, Target
from swept_shelf.core.references.scripts import SOMEBODYS, script_entries
from swept_shelf.core.references.targets import COMMAND_KEY, of_setting, of_shell, of_words, one

_DETAIL = "another program’s settings name it"
_LONGEST = 2000  # characters of a line that somebody wrote
_SHELLS = ("sh", "bash", "zsh", "fish", "ksh", "csh")
_RUN_BY = re.compile(r"#!\s*/\S*?(?:/env\s+(?:-\S+\s+)*)?(?:\S*/)?([\w.-]+)")  # what a script is read by
_JSON = ("{", "[", "/")  # how it begins, or a comment before it
_CODE = ("lua", "py", "rb", "pl", "js", "jl", "gradle", "groovy", "elv", "nu", "xonshrc")
_BRACKETED = ("hs", "el", "ron", "yuck", "scm", "lisp")  # where a single quote opens nothing
_CODE_NAMES = re.compile(r"(?:Rprofile(?:\.site)?|octaverc|octave\.conf|xonshrc)$")
_COMMENT = ("#", ";", "//", "--[", "-- ", "/*", "*", "%", "!", '"""')
_SETTER = r"(?:(?:set|setlocal|let|export|local|var|const|option|setenv|setopt|c)[ \t]+)?"
_KEY = r"(?P<key>-{0,2}[\w$@&][\w.$@:/\\\[\]()+-]*|\"[^\"]+\"|'[^']+')"
_SET = re.compile(
    rf"^[ \t]*(?:-[ \t]+)?{_SETTER}{_KEY}[ \t]*(?:=>|:=|\+=|\?=|=|:(?!//))[ \t]*(?P<value>\S.*?)[ \t]*[;,]?[ \t]*$"
)
_SAID = re.compile(
    r"^[ \t]*(?P<key>(?:-{0,2}[\w$@.][\w.:$@-]*[ \t]+){1,3}?)(?P<value>(?:[\"'(]*(?:[!^=]?~?/|file:/)|[\"']).*?)[ \t]*;?[ \t]*$"
)
_RUN = re.compile(
    r"^[ \t]*-{0,2}(?P<key>exec\w*|spawn\w*|run|launch|[Uu]ser|[Gg]roup)[ \t]+(?P<value>\S.*?)[ \t]*$"
)
_ITEM = re.compile(r"^[ \t]*-[ \t]+(?P<key>)\[?[ \t]*(?P<value>[\"']?~?/.*?)[ \t]*\]?[ \t]*$")
_BARE = re.compile(r"^[ \t]*(?P<key>)(?:[!^=+-][ \t]?)?(?P<value>~?/[^\s:,;=]+)(?:[ \t].*)?$")
_CHOSEN = re.compile(
    r"^[ \t]*:?(?:set(?:local)?[ \t]+)?(?P<key>[\w.-]+)[ \t]+(?P<value>[\w.+-]+)[ \t]*;?[ \t]*$"
)
_LEFT_OUT = re.compile(r"[!^=]~?/")  # what is not meant, or an expression that begins with a path
_RECIPES = re.compile(r"(?:^(?:GNU)?[Mm]akefile|^\.?[Jj]ustfile|\.mk|\.just)$")
_VERB = re.compile(r"^(?:command|cmd|shell|exec|execute|run|spawn|launch):\s*(?:(?:run|exec|spawn)\s+)?")
_ORDERED = re.compile(
    r"^:?(?:spawn|exec|run|launch)\s+(?:-\S+\s+)*"
)  # before a command, where one is told to run it
_INNER = re.compile(r"([\w.-]*)[\"']?\s*(?:=>?|:)\s*(?:\"([^\"]*)\"|'([^']*)'|(/[^\s\"',;]+))")
_QUOTED = re.compile(r"\"((?:[^\"\\\n]|\\.)*)\"|'((?:[^'\\\n]|\\.)*)'")
_TWICE_QUOTED = re.compile(r"\"((?:[^\"\\\n]|\\.)*)\"()")
_STARTS = re.compile(
    r"\b(?:\w*spawn\w*|\w*bind\w*|\w*exec\w*|\w*run\w*|system|popen|\w*cmd|\w*command\w*|subprocess|call|prog\w*|term\w*|shell\w*|editor|"
    r"browser|pager|viewer|args|\w*poll|\w*listen|pdfviewer|process|launch\w*|open\w*|alias\w*)\b",
    re.I,
)
_WITHIN = re.compile(  # where a path is said: behind the key, a sign, or what a text begins with
    r"(?:^[ \t]*(?:[\w.+-]+[ \t]+)?|[-+=(\[{<>,:;\"'^!|@])[ \t]*(?:file://)?"
    r"((?:~|\$HOME|\$\{HOME\}|%h|@\{HOME\})?/[\w.+@%,/-]*[\w+/-])"
)
_INDEX = re.compile(r"\[[\"'](\w+)[\"']\]\s*=")
_GOES = re.compile(  # a line that is a call, or that sets a part of something: what is read on does without
    r"^\s*(?:[\w.:]+\s*\(.*\)|\([\w-]+\s.*\)|\$?[\w$]+(?:\.[\w.]+|\[[^\]]+\])\s*\+?=[^=].*)\s*;?\s*$"
)
_LISTS = {"format": "swept-shelf/", "bomFormat": "CycloneDX", "spdxVersion": "SPDX-"}
_PATH = re.compile(r"(?:file://)?~?/[^\s\"'<>]+$")
_FIRST_OF_SEVERAL = re.compile(r"\[\s*[\"']([^\"',]+)[\"']\s*,")  # a command, word by word
_BANG = re.compile(
    r"(?i)(?:<cmd>|:)?!(?!=)\s*([^\s!].*?)(?:<cr>)?$"
)  # a command for the shell, as editors write it
_ID = re.compile(r"[A-Za-z][\w-]*(?:\.[\w-]+)+$")
_WHO = re.compile(r"(?:^|[-_.])(?:user(?:name)?|group|owner|run_?as)$", re.I)
_ATTRIBUTE = re.compile(r"([\w:-]+)\s*=\s*(?:\"([^\"<>]*)\"|'([^'<>]*)')|<([\w:-]+)(?:\s[^<>]*)?>([^<>]+)<")


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    ending = name.lstrip(".").rpartition(".")[2].lower()
    if ending in _SHELLS or text.startswith("#!"):
        yield from _of_script(text, ending)
        return
    if _RECIPES.search(name):
        yield from _of_recipes(text)
        return
    try:
        found = list(nested(text)) if text.lstrip().startswith(_JSON) else []
    except ValueError:
        found = []
    if any(_is_a_list(m) for _, together in found[:1] for m in together):
        return
    if found:
        for _, together in found:
            yield from json_entries(together, _of_member, _shown, _DETAIL)
    elif text.lstrip().startswith("<") and ending != "conf":
        yield from _of_elements(text)
    elif ending in _CODE or ending in _BRACKETED or _CODE_NAMES.search(name) or _is_bracketed(text):
        yield from _of_code(text, _QUOTED if ending in _CODE or _CODE_NAMES.search(name) else _TWICE_QUOTED)
    else:
        yield from _of_lines(path, text)


def _of_script(text: str, ending: str) -> Iterator[Entry]:
    """A script that stands among settings, as what reads it would."""
    reader = _RUN_BY.match(text)
    if ending in _SHELLS or (reader and reader[1] in (*_SHELLS, "dash", "ash")):
        yield from script_entries(text, SOMEBODYS)
    else:
        yield from _of_code(text, _QUOTED)


def _of_recipes(text: str) -> Iterator[Entry]:
    """What is done for a target (make(1)): lines that are set in; a rule may not lose one of several that go together."""

    def started(line: Line) -> tuple[Target, ...]:
        return of_shell(line.text.strip().lstrip("@-+")) if line.text[:1] in "\t " else ()

    yield from map(_shown_only, line_entries(lines_of(text), started, SOMEBODYS))


def _said(line: str) -> tuple[Target, ...]:
    """Paths in a line that are no part of what it says in words."""
    return tuple(dict.fromkeys(Target(By.PATH, m[1]) for m in _WITHIN.finditer(line)))


def _is_a_list(member: Member) -> bool:
    """Whether a document says that it only lists what is or was installed: one of ours, a bill of materials (CycloneDX, SPDX)."""
    return (member.key in _LISTS) and str(member.value).startswith(_LISTS[member.key])


def _of_member(member: Member) -> tuple[Target, ...]:
    return _of_value(member.key, member.value) if isinstance(member.value, str) else ()


def _shown(member: Member) -> str:
    return f"{member.key}: {member.value}"[:200] if member.key else str(member.value)[:200]


def _of_value(key: str, value: str) -> tuple[Target, ...]:
    """A value that is a path; one that begins with a path, or whose key says that it is a command, is one."""
    bare = value.strip().strip("\"'").strip()
    if match := _BANG.match(bare):
        return of_shell(match[1])
    if _PATH.match(bare):
        return (*of_words(bare.removeprefix("file://")), *one(By.COMMAND, bare))
    if bare.endswith(".desktop") and "/" not in bare:
        return one(By.LAUNCHER, bare)
    if _WHO.search(key):
        return one(By.ACCOUNT, bare)
    name = re.sub(r"\[[^\]]*\]$", "", key.strip("\"' \t"))  # of one of several: program[x]
    if COMMAND_KEY.search(name) or bare.startswith(("/", "~/")):
        return of_setting(_ORDERED.sub("", bare.lstrip("!|@ ")))
    if verb := _VERB.match(bare):
        return of_setting(bare[verb.end() :])
    if targets := chosen(name, bare):
        return targets
    if ids := [part for part in re.split("[,;]", bare) if _ID.match(part)]:
        return tuple(Target(By.BUS, id) for id in ids)
    if _LEFT_OUT.match(bare) or any(part.startswith("/") for part in bare.split(":")[1:]):
        return of_words(bare.replace(":", " "))
    return of_words(bare) if bare.startswith("-") else ()


# -- lines ----------------------------------------------------------------------------------------------------------------


def _of_lines(path: str, text: str) -> Iterator[Entry]:
    loose = not re.search(r"/etc/|/\.", path)  # where people keep notes, only what is set counts
    joined = False  # whether the line before goes on in this one
    for line in lines_of(text):
        begun, joined = joined, line.text.endswith("\\")
        bare = line.text.strip()
        if not bare or (bare.startswith(_COMMENT) and not _LEFT_OUT.match(bare)) or len(line.text) > _LONGEST:
            continue
        forms = (_SET,) if loose else (_SET, _RUN, _SAID, _ITEM, _BARE, _CHOSEN)
        alone = not begun and not joined and _is_balanced(line.text)
        for form in forms:
            if (match := form.match(line.text)) and (found := list(_of_value_in(line, match))):
                break
        else:
            targets = _all(_of_value(m[1], m[2] or m[3] or m[4] or "") for m in _INNER.finditer(line.text))
            targets = _all([targets, () if loose else _said(line.text), ruled(line.text)])
            found = [_whole_line(line, targets)] if targets else []
        yield from found if alone else map(_shown_only, found)


def _of_value_in(line: Line, match: re.Match[str]) -> Iterator[Entry]:
    value, at = match["value"], line.start + match.start("value")
    inner = value.strip("\"'()[]{} \t")
    if mark := _mark(inner):
        begin = at + value.find(inner)
        yield from listed_entries(line, begin, inner, mark, partial(_of_value, ""), _DETAIL)
    elif (words := _FIRST_OF_SEVERAL.match(value.strip())) and COMMAND_KEY.search(match["key"] or ""):
        yield _whole_line(line, of_shell(words[1]))
    elif targets := _of_value(match["key"].split()[-1] if match["key"] else "", inner):
        yield _whole_line(line, targets)


def _whole_line(line: Line, targets: tuple[Target, ...]) -> Entry:
    return Entry(line.number, line.text, line.text, targets, _DETAIL, line.start, line.end)


def _all(found: Iterable[tuple[Target, ...]]) -> tuple[Target, ...]:
    return tuple(dict.fromkeys(target for targets in found for target in targets))


def _mark(value: str) -> str:
    """What stands between paths that are a list; "" for a single one, or a command with what it is told."""
    for mark in (":", ",", " "):
        parts = [p.strip().strip("\"'") for p in value.split(mark)]
        if len(parts) > 1 and all(p == "" or p.startswith(("/", "~", "$")) for p in parts):
            return mark
    return ""


def _shown_only(entry: Entry) -> Entry:
    return Entry(entry.line, entry.key, entry.text, entry.targets, entry.detail)


def _is_bracketed(text: str) -> bool:
    """Whether all that it says stands in round brackets, one call or setting behind the other."""
    said = [t for line in lines_of(text) if (t := line.text.strip()) and not t.startswith(_COMMENT)]
    return bool(said) and sum(t.startswith("(") for t in said) * 2 > len(said)


def _is_balanced(line: str) -> bool:
    """Whether it opens as much as it closes, so that nothing is left open without it."""
    bare = _QUOTED.sub("", line)
    return not re.search(r"[\"']", bare) and all(
        bare.count(a) == bare.count(b) for a, b in ("()", "[]", "{}", "<>")
    )


# -- programs' own words --------------------------------------------------------------------------------------------------


def _of_code(text: str, quotes: re.Pattern[str]) -> Iterator[Entry]:
    """Texts in quotes that are a path, or that are given to what starts something; a call that is a line goes with it."""
    depth, starts = 0, False  # brackets of a call that goes on, which starts something
    for line in lines_of(text):
        bare = line.text.strip()
        if not bare or bare.startswith(_COMMENT) or len(line.text) > _LONGEST:
            continue
        said = quotes.sub(" ", line.text)
        index = _INDEX.search(line.text)
        starts = (starts and depth > 0) or _STARTS.search(said) is not None
        key = "command" if starts else index[1] if index else ""
        depth = max(0, depth + sum(map(said.count, "([{")) - sum(map(said.count, ")]}")))
        targets = _all(_of_value(key, m[1] or m[2] or "") for m in quotes.finditer(line.text))
        targets = (*targets, *ruled(line.text))
        end = line.end if _GOES.match(line.text) and _is_balanced(line.text) else line.start
        if targets:
            yield Entry(line.number, line.text, line.text, targets, _DETAIL, line.start, end)


def _of_elements(text: str) -> Iterator[Entry]:
    """XML: found and shown; what an element is for, only its own program knows."""
    for line in lines_of(text):
        if len(line.text) > _LONGEST:
            continue
        said = ((m[1] or m[4], m[2] or m[3] or m[5] or "") for m in _ATTRIBUTE.finditer(line.text))
        if targets := _all(_of_value(key, value) for key, value in said):
            yield Entry(line.number, line.text, line.text, targets, _DETAIL)


# -- whole afterwards -----------------------------------------------------------------------------------------------------


def _why_broken(path: str, before: str, after: str) -> str:
    ending = base(path).rpartition(".")[2].lower()
    if before.lstrip().startswith(_JSON):
        return why_no_json(path, before, after) if not why_no_json(path, before, before) else ""
    readers: dict[str, Callable[[str], object]] = {"py": ast.parse, "toml": tomllib.loads}
    reads = readers.get(ending)
    if reads is None:
        return ""
    try:
        reads(after)
    except (ValueError, SyntaxError, RecursionError) as error:
        return f"would not be read any more: {str(error)[:80]}"
    return ""


KIND = Kind(
    "setting that names it",
    "other_programs",
    ("setting that names it", "settings that name it"),
    (Place(NAMING), Place(f"~{NAMING}")),
    _parse,
    action="ask",
    why_broken=_why_broken,
    most=256 << 10,
)
