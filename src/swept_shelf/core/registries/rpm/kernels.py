"""Linux kernels among RPM packages: several packages of one version, of which several versions stand beside each other.

Where a kernel lies, and what is made for it when it is installed: kernel-install(8), dracut(8), the Boot Loader Specification."""

from __future__ import annotations

import os
import re
import stat
from collections.abc import Collection, Iterator, Mapping
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.rpm.package import Package

_IMAGE = re.compile(r"/(?:usr/)?lib/modules/([^/]+)/vmlinu[xz](?:\.\w+)?|/boot/(?:vmlinuz|Image)-([^/]+)")
_MADE = ("initramfs-{}.img", "initramfs-{}kdump.img", "initrd-{}", "initrd-{}-kdump", ".vmlinuz-{}.hmac", "symvers-{}.gz",
    "symvers-{}.xz", "symvers-{}.zst")  # fmt: skip
_BOOT = ("/boot", "/boot/efi", "/efi")
_CHOSEN = (
    "/boot/grub2/grubenv",
    "/boot/loader/loader.conf",
    "/boot/efi/loader/loader.conf",
    "/efi/loader/loader.conf",
)
_KEPT = 2  # one to start with, one to go back to


@dataclass(frozen=True, slots=True)
class Kernel:
    """`release` as uname(1) says it; `packages`: ids, the image's first; `kept`: why it stays, "" for one that may go."""

    release: str
    packages: tuple[str, ...]
    kept: str


def kernels_of(machine: Machine, packages: Mapping[str, Package]) -> list[Kernel]:
    """Every kernel that can be started, in the order of their numbers."""
    images = {release: p for p in packages.values() if (release := release_of(p.files))}
    ordered = sorted(images, key=_in_order)
    kept = _needed(machine, ordered)
    return [Kernel(r, _parts(r, images, packages), kept.get(r, "")) for r in ordered]


def release_of(files: Collection[str]) -> str:
    """Of the kernel among these files; "" for none."""
    return next((m[1] or m[2] for f in files if (m := _IMAGE.fullmatch(f))), "")


def runs_now(machine: Machine, package: Package) -> bool:
    return machine.live and release_of(package.files) == os.uname().release


def made_for(machine: Machine, release: str) -> Iterator[str]:
    """What its scripts have made, and take away with it: in no list, or listed without being brought."""
    if modules := machine.resolve(f"/lib/modules/{release}"):
        yield modules
    for boot in _BOOT:
        for name in machine.names(boot):
            path = f"{boot}/{name}"
            if name in {m.format(release) for m in _MADE}:
                yield path
            elif re.fullmatch("[0-9a-f]{32}", name) and machine.lstat(f"{path}/{release}") is not None:
                yield f"{path}/{release}"
        for name in machine.names(f"{boot}/loader/entries"):
            if name.endswith(f"-{release}.conf"):
                yield f"{boot}/loader/entries/{name}"


def made_below(machine: Machine, package: Package) -> list[str]:
    """The same and all below it, for a package that is a kernel; each folder before what is in it."""
    release = release_of(package.files)
    waiting, found = list(made_for(machine, release)) if release else [], []
    while waiting:
        path = waiting.pop()
        found.append(path)
        status = machine.lstat(path)
        if status is not None and stat.S_ISDIR(status.st_mode):
            waiting += [f"{path}/{n}" for n in machine.names(path)]
    return found


def _parts(release: str, images: Mapping[str, Package], packages: Mapping[str, Package]) -> tuple[str, ...]:
    """The image, and all of its version that have files of that release, or are called like the beginning of it and have none."""
    image = images[release]
    family = image.name.split("-")[0]
    own = [image.id]
    for p in packages.values():
        if p.id == image.id or p.version != image.version or p.name.split("-")[0] != family:
            continue
        inside = any(f"/{release}/" in f for f in p.files)
        nearest = min(
            (i.name for i in images.values() if i.version == p.version and i.name.startswith(p.name + "-")),
            key=len,
            default="",
        )
        if inside or (not p.files and nearest == image.name):
            own.append(p.id)
    return tuple(own)


def _needed(machine: Machine, ordered: list[str]) -> dict[str, str]:
    """Releases that stay, and why: what runs, what the boot loader starts, and the two newest."""
    found = {}
    if machine.live and os.uname().release in ordered:
        found[os.uname().release] = "it is the kernel that runs now"
    for path in _CHOSEN:
        try:
            said = re.findall(r"^(?:saved_entry|default)[= \t]+(\S+)", machine.text(path), re.M)
        except CouldNotRead:
            continue
        for release in ordered:
            if any(s.removesuffix(".conf").endswith(release) for s in said):
                found.setdefault(release, "it is the kernel the computer starts with")
    for release in ordered[-_KEPT:]:
        found.setdefault(
            release,
            "it is the only kernel of this computer"
            if len(ordered) == 1
            else "it is one of the two newest kernels: one to start with, one to go back to",
        )
    return found


def _in_order(release: str) -> list[int]:
    return [int(n) for n in re.findall(r"\d+", release)]
