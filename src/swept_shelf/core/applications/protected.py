"""What must not go by accident: by its package's own marks, by what it does for this computer, by the owner's word."""

from __future__ import annotations

import fnmatch
import tomllib
from collections.abc import Iterable
from functools import cache
from importlib import resources

from swept_shelf.core.applications import kernels
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import DebianRegistry, Package

OWN_FILE = "/etc/swept-shelf/protected.toml"
SYSTEM_PRIORITIES = ("required", "important")
_SESSIONS = ("/usr/share/xsessions/", "/usr/share/wayland-sessions/")


class Protection:
    """Reasons by package, and by application id where the owner says so. `old_kernels`: packages of those that nothing needs, and their release."""

    def __init__(self, machine: Machine, registry: DebianRegistry | None) -> None:
        self.problems: list[tuple[str, str]] = []
        self._by_id = self._owners_word(machine)
        self._by_name: dict[str, str] = {}
        self.old_kernels: dict[str, str] = {}
        self._softly: set[str] = set()
        self._pulled_in = registry.automatic if registry else frozenset[str]()
        if registry is not None:
            installed = [p for p in registry.packages.values() if p.installed]
            for package in installed:
                if reason := marked(package) or self._by_id.get(package.plain_name):
                    self._by_name[package.name] = reason
                    if not (package.essential or package.protected or package.plain_name in self._by_id):
                        self._softly.add(package.name)
            kept = kernels.needed(machine, installed)
            self.old_kernels = kernels.older(installed, kept)
            starts = [
                (p, kept[n]) for n, names in kernels.images(installed).items() if n in kept for p in names
            ]
            for name, reason in (*starts, *_sessions(machine, installed)):
                self._by_name.setdefault(name, reason)
            for package in installed:
                if package.name not in self._by_name and (reason := _ruled(package.plain_name)):
                    self._by_name[package.name] = reason
                    self._softly.add(package.name)

    def package(self, name: str) -> str | None:
        return self._by_name.get(name)

    def application(self, id: str) -> str | None:
        return self._by_id.get(id)

    def taking(self, packages: Iterable[str]) -> str | None:
        """The reason when a removal would take along what is protected. What was only pulled in, and that nothing else needs,
        is no loss when it is protected for its name or its priority alone."""
        for name in packages:
            if reason := self.hindering(name):
                return f"its removal would take {name} along: {reason}"
        return None

    def hindering(self, name: str) -> str:
        """Why a package may not go along with others; "" where it may."""
        if name in self._softly and name in self._pulled_in:
            return ""
        return self._by_name.get(name, "")

    def _owners_word(self, machine: Machine) -> dict[str, str]:
        """`packages` and `applications` of the machine's own file, each a list of names or ids."""
        try:
            said = tomllib.loads(machine.read_text(OWN_FILE, default=""))
        except (ValueError, RecursionError, CouldNotRead) as error:
            self.problems.append((OWN_FILE, f"is not TOML: {str(error)[:120]}"))
            return {}
        reason = str(said.get("reason", "the owner of this computer wants to keep it"))
        names: list[str] = []
        for key in ("packages", "applications"):
            listed = said.get(key, [])
            if not isinstance(listed, list) or not all(isinstance(n, str) for n in listed):
                self.problems.append((OWN_FILE, f"{key} is not a list of names"))
                continue
            names += listed
        return dict.fromkeys(names, reason)


def marked(package: Package) -> str | None:
    """The reason by the package's own marks."""
    if package.essential:
        return "the system cannot run without it: its package is essential"
    if package.protected:
        return "its package is marked as protected: the computer may not start without it"
    if package.priority in SYSTEM_PRIORITIES:
        return f"its package is part of the base system (priority {package.priority})"
    return None


@cache
def _rules() -> list[tuple[str, str]]:
    table = tomllib.loads(resources.files(__package__).joinpath("protected.toml").read_text("utf-8"))
    return [(pattern, rule["reason"]) for rule in table["rule"] for pattern in rule["packages"]]


def _ruled(name: str) -> str | None:
    return next((reason for pattern, reason in _rules() if fnmatch.fnmatchcase(name, pattern)), None)


def _sessions(machine: Machine, installed: list[Package]) -> list[tuple[str, str]]:
    """The desktop sessions, and the login manager that the system starts."""
    found = [
        (p.name, "people's desktop session is started by it")
        for p in installed
        if any([f.endswith(".desktop") for f in p.files if f.startswith(_SESSIONS)])
    ]
    manager = machine.text("/etc/X11/default-display-manager").strip()
    unit = base("/" + (machine.readlink("/etc/systemd/system/display-manager.service") or ""))
    for package in installed:
        if (manager and manager in package.files) or (
            unit != "" and any(base(f) == unit for f in package.files if "/systemd/" in f)
        ):
            found.append((package.name, "people log in with it"))
    return found
