"""Gems with commands: a specification each, its folder, what was built for it, its documents, its package as it was fetched."""

from __future__ import annotations

import re
from collections import defaultdict

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.language.common import written

_SYSTEM = ("/var/lib/gems", "/usr/local/lib/ruby/gems")
_PERSONAL = (".gem/ruby", ".local/share/gem/ruby")
_SPECIFICATION = re.compile(r"(.+)-(\d[^-]*(?:-[a-z0-9]+)*)\.gemspec")
_NEEDS = re.compile(r"\.add_(?:runtime_)?dependency\(?\s*(?:%q<([^>]+)>|[\"']([^\"']+)[\"'])")


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        for place in _PERSONAL:
            for version in reading.tree.children(f"{home}/{place}"):
                _gems(reading, version, person.name)
    for place in _SYSTEM:
        for version in reading.tree.children(place):
            _gems(reading, version, "")


def _gems(reading: Reading, top: str, person: str) -> None:
    specs = [c for c in reading.tree.children(f"{top}/specifications") if c.endswith(".gemspec")]
    said: dict[str, tuple[str, str, str]] = {}  # name, version and text, by specification

    def look(spec: str) -> None:
        match = _SPECIFICATION.fullmatch(base(spec))
        if match is None:
            raise CouldNotRead("has no name and version", spec)
        text = reading.machine.read_text(spec)
        if "Gem::Specification" not in text:
            raise CouldNotRead("is no gem specification", spec)
        said[spec] = match[1], match[2], text

    reading.each(specs, look)
    users: dict[str, set[str]] = defaultdict(set)
    versions: dict[str, int] = defaultdict(int)
    for name, _, text in said.values():
        versions[name] += 1
        for match in _NEEDS.finditer(text):
            users[match[1] or match[2]].add(name)
    shown = {name for name, _, text in said.values() if _commands(text)}
    whose = person or "system"

    def one(spec: str) -> None:
        name, version, text = said[spec]
        if name not in shown:
            return
        full = f"{name}-{version}"
        kept = [f"{top}/gems/{full}", spec, f"{top}/doc/{full}", f"{top}/cache/{full}.gem"]
        kept += [
            f"{abi}/{full}"
            for architecture in reading.tree.children(f"{top}/extensions")
            for abi in reading.tree.children(architecture)
        ]
        commands = [c for n in _commands(text) if (c := f"{top}/bin/{n}") in reading.tree and "/" not in n]
        alone = versions[name] == 1  # a command starts the newest version that is there
        summary = re.search(r"\.summary\s*=\s*[\"'](.*?)[\"']\.freeze", text)
        others = sorted(users[name] - shown - {name}) if alone else []
        reading.found.append(
            Registered(
                id=f"gem:{whose}/{name}" if alone else f"gem:{whose}/{full}",
                name=name,
                version=version,
                registry="gem",
                source="gem",
                tops=tuple(t for t in (*kept, *(commands if alone else ())) if t in reading.tree),
                receipt=spec,
                summary=summary[1] if summary else "",
                person=person,
                executables=tuple(commands),
                packages=(name,),
                own_packages=(name,),
                needed_by=tuple(f"gem:{whose}/{u}" for u in sorted(users[name] & shown - {name}))
                if alone
                else (),
                protected=f"{', '.join(others)} beside it would not work without it" if others else None,
                **written(reading, spec),
            )
        )

    reading.each([s for s in specs if s in said], one)


def _commands(text: str) -> list[str]:
    bins = re.search(r"\.executables\s*=\s*\[([^\]]*)\]", text)
    return re.findall(r"[\"']([^\"']+)[\"']", bins[1]) if bins else []
