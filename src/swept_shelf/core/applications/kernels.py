"""Linux kernels among the packages: which of them this computer needs, and which are older ones that may go.

A kernel is several packages of one number: its image, its modules, what is needed to build modules for it."""

from __future__ import annotations

import os
import re
from collections.abc import Iterable, Mapping

from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import Package

_PACKAGE = re.compile(
    r"linux-(image|headers|modules|modules-extra|tools|cloud-tools|buildinfo)-(?:unsigned-)?(\d[\w.+~-]*?)(?:-unsigned)?"
)
_FLAVOUR = re.compile(r"(?:-(?:686|\dkc|[a-z]\w*))+$")
_IMAGE = "/boot/vmlinuz-"
_KEPT = 2  # one to start with, one to go back to


def release_of(package: str) -> str:
    """The kernel's release (uname(1)) by the name of a package of it; "" where it is none."""
    match = _PACKAGE.fullmatch(package.partition(":")[0])
    return match[2] if match else ""


def is_image(package: str) -> bool:
    """Whether it holds a kernel to start, and nothing but that, by its name."""
    match = _PACKAGE.fullmatch(package.partition(":")[0])
    return match is not None and match[1] == "image"


def made_for(release: str) -> str:
    """What scripts of its image's package have made at its installation, and take away with it (initramfs-tools, dracut)."""
    return f"/boot/initrd.img-{release}"


def number_of(release: str) -> str:
    """What all packages of one kernel have in common, whatever its flavour."""
    return _FLAVOUR.sub("", release)


def images(packages: Iterable[Package]) -> dict[str, list[str]]:
    """Packages of each number that hold a kernel to start."""
    found: dict[str, list[str]] = {}
    for p in packages:
        if (release := release_of(p.plain_name)) and any(f.startswith(_IMAGE) for f in p.files):
            found.setdefault(number_of(release), []).append(p.name)
    return found


def needed(machine: Machine, packages: Iterable[Package]) -> dict[str, str]:
    """Numbers of kernels that stay, and why: what runs (on this computer's own root), what the boot links lead to, and the two newest."""
    numbers = images(packages)
    found = {}
    if machine.live and (running := number_of(os.uname().release)) in numbers:
        found[running] = "it is the kernel that runs now"
    for link in ("/vmlinuz", "/boot/vmlinuz"):
        target = number_of(base("/" + (machine.readlink(link) or "")).removeprefix("vmlinuz-"))
        if target in numbers:
            found.setdefault(target, "it is the kernel the computer starts with")
    for number in sorted(numbers, key=_in_order)[-_KEPT:]:
        found.setdefault(
            number,
            "it is the only kernel of this computer"
            if len(numbers) == 1
            else "it is one of the two newest kernels: one to start with, one to go back to",
        )
    return found


def older(packages: Iterable[Package], kept: Mapping[str, str]) -> dict[str, str]:
    """Packages of kernels that nothing needs, each with its release; none where no image tells which are kept."""
    return {
        p.name: release
        for p in packages
        if kept and (release := release_of(p.plain_name)) and number_of(release) not in kept
    }


def _in_order(number: str) -> list[int]:
    return [int(n) for n in re.findall(r"\d+", number)]
