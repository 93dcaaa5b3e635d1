"""Actions and keys that are elements of an XML file: file managers' own actions, window managers' keys and menus."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import Element, document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec, one
from swept_shelf.core.references.well_formed import why_not_well_formed

_HOLDERS = frozenset({"action", "keybind", "mousebind", "item", "application", "custom-action"})
_COMMANDS = frozenset({"command", "execute", "exec", "prompt-command"})
_OF_JWM = frozenset(
    {"Program", "StartupCommand", "RestartCommand", "ShutdownCommand", "Key", "Mouse", "TrayButton"}
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield from _inside(path, text, document(text), [])


def _inside(path: str, text: str, element: Element, above: list[Element]) -> Iterator[Entry]:
    if element.name in _COMMANDS and element.own.strip():
        holder = next(
            (e for e in reversed(above) if e.name in _HOLDERS and not _is_one_of_several(e)), element
        )
        # The outermost key or item that holds nothing else.
        for outer in reversed(above):
            if outer.name in ("keybind", "mousebind", "item") and _commands(outer) == 1:
                holder = outer
                break
        yield element_entry(
            text,
            holder,
            element.own.strip(),
            of_exec(element.own.strip()),
            "a key, menu or action starts it",
            element.line,
        )
    elif element.name == "application" and "class" in element.attributes:
        name = element.attributes.get("class") or element.attributes.get("name", "")
        yield element_entry(
            text,
            element,
            name,
            (*one(By.COMMAND, name.lower()), *one(By.LAUNCHER, f"{name}.desktop")),
            "a rule for its windows",
        )
    elif element.name == "delegate" and (command := element.attributes.get("command", "")):
        detail = "files are turned into others by it"
        yield element_entry(text, element, command[:200], of_exec(command), detail)
    elif element.name == "option" and element.attributes.get("name") == "COMMAND":
        tool = next((e for e in reversed(above) if e.name == "tool"), element)
        command = element.attributes.get("value", "")
        yield element_entry(text, tool, command, of_exec(command), "a tool of an editor")
    elif element.name in _OF_JWM and "jwm" in path and element.own.strip():
        command = element.own.strip()
        yield element_entry(
            text, element, command, of_exec(command.removeprefix("exec:")), "a key, menu or action starts it"
        )
    for inner in element.inner:
        yield from _inside(path, text, inner, [*above, element])


def _commands(element: Element) -> int:
    return sum(e.name in _COMMANDS for e in element.walk())


def _is_one_of_several(element: Element) -> bool:
    return _commands(element) > 1


KIND = Kind(
    "action or key",
    "other_programs",
    ("action or key", "actions or keys"),
    (
        Place("~config/Thunar/uca.xml"),
        Place("/etc/xdg/Thunar/uca.xml"),
        Place("~config/openbox/*.xml"),
        Place("~/.jwmrc"),
        Place("~config/*/*/tools/*.xml"),
        Place("/etc/ImageMagick-*/delegates.xml"),
        Place("~config/ImageMagick/delegates.xml"),
        Place("~config/jwm/*"),
        Place("/etc/jwm/*"),
        Place("~config/labwc/*.xml"),
        Place("/etc/xdg/openbox/*.xml"),
    ),
    _parse,
    why_broken=why_not_well_formed,
    strict=True,
)
