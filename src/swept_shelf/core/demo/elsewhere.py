"""Applications of the made-up machine that are in no Debian package: Flatpak, Snap, AppImage, pipx."""

from __future__ import annotations

import json
import struct
from datetime import timedelta
from importlib.resources import files
from typing import Any

from swept_shelf.core.demo.homes import MB, Yard
from swept_shelf.core.demo.names import Names

_FIELDS = {"NAME": b"@NAME.................@", "BASE": b"@BASE.................@", "TYPE": b"@TYPE@"}
_IMAGE_AT = 4096


def furnish_elsewhere(yard: Yard, n: Names) -> list[dict[str, Any]]:
    """Plant them, with their people's data; returns what the snap service says."""
    _flatpak(yard, n)
    _appimage(yard, n)
    _pipx(yard, n)
    return _snap(yard, n)


def _entry(name: str, comment: str, command: str) -> str:
    return (
        f"[Desktop Entry]\nType=Application\nName={name}\nComment={comment}\nExec={command}\nIcon=picture\n"
    )


def _flatpak(y: Yard, n: Names) -> None:
    """One application, the runtime that keeps it going, and an older runtime that nothing uses any more."""
    anna, _, cora = n.people
    top, name = "/var/lib/flatpak", n.app["boxed"]
    id, base = f"{n.domain}.{name}", f"{n.domain}.{n.app['boxed_base']}"
    active = f"{top}/app/{id}/x86_64/stable/3f19c0a2"
    y.text(
        f"{active}/metadata",
        f"[Application]\nname={id}\nruntime={base}/x86_64/3\ncommand={name.lower()}\n",
        320,
    )
    y.text(f"{active}/deploy", "reading\0", 320)
    y.text(f"{active}/files/bin/{name.lower()}", "#!/bin/sh\nexit 0\n", 33, 0o755)
    y.size(f"{active}/files/lib/plates.so", 17 * MB, 320)
    y.text(
        f"{active}/files/share/metainfo/{id}.metainfo.xml",
        f'<component><id>{id}</id><developer_name>{n.vendor}</developer_name><releases><release version="2.1"/></releases></component>\n',
        320,
    )
    y.text(
        f"{active}/export/share/applications/{id}.desktop",
        _entry(name, "Compares two plates side by side", f"flatpak run {id}"),
        320,
    )
    y.link(f"{top}/app/{id}/current", "x86_64/stable")
    y.link(f"{top}/app/{id}/x86_64/stable/active", "3f19c0a2")
    y.link(
        f"{top}/exports/share/applications/{id}.desktop",
        f"../../../app/{id}/current/active/export/share/applications/{id}.desktop",
    )
    for branch, days in (("3", 320), ("2", 610)):
        y.text(
            f"{top}/runtime/{base}/x86_64/{branch}/88ab0{branch}/metadata", f"[Runtime]\nname={base}\n", days
        )
        y.size(f"{top}/runtime/{base}/x86_64/{branch}/88ab0{branch}/files/lib/libbase.so", 11 * MB, days)
        y.link(f"{top}/runtime/{base}/x86_64/{branch}/active", f"88ab0{branch}")
    y.text(
        f"{top}/repo/config",
        '[core]\nrepo_version=1\n[remote "reading"]\nurl=https://reading.example/repo\n',
        700,
    )
    for person, days in ((anna, 33), (cora, 71)):
        y.text(f"/home/{person}/.var/app/{id}/config/plates.ini", "side=left\n", days)
        y.size(f"/home/{person}/.var/app/{id}/cache/pairs.bin", 6 * MB, days)
        y.size(f"/home/{person}/.var/app/{id}/data/catalogue.idx", 2 * MB, days)


def _appimage(y: Yard, n: Names) -> None:
    """An ELF head with the mark of type 2, and behind it an image with the launcher."""
    name, person = n.app["carried"], n.people[1]
    head = bytearray(_IMAGE_AT)
    head[:7] = b"\x7fELF\x02\x01\x01"
    head[8:11] = b"AI\x02"
    struct.pack_into("<Q", head, 40, _IMAGE_AT)
    path = f"/home/{person}/Applications/{name}-2.4.AppImage"
    y.size(path, 14 * MB, 260)
    with open(y.root / path[1:], "r+b") as out:
        out.write(bytes(head) + _image(NAME=name))
    (y.root / path[1:]).chmod(0o755)


def _image(**fields: str) -> bytes:
    """A small image that holds a launcher and a description, with these words in them."""
    image = files("swept_shelf.core.demo").joinpath("box.squashfs").read_bytes()
    for field, text in fields.items():
        image = image.replace(_FIELDS[field], text.encode().ljust(len(_FIELDS[field])))
    return image


def _pipx(y: Yard, n: Names) -> None:
    name, person = n.package("isolated"), n.people[0]
    top = f"/home/{person}/.local/share/pipx/venvs/{name}"
    receipt = {
        "main_package": {"package": name, "package_version": "0.9.2", "apps": [name], "include_apps": True},
        "python_version": "Python 3.11.2",
    }
    y.text(f"{top}/pipx_metadata.json", json.dumps(receipt, indent=1) + "\n", 150)
    y.text(f"{top}/bin/{name}", "#!/usr/bin/python3\n", 96, 0o755)
    y.size(f"{top}/lib/python3.11/site-packages/{name}/tables.bin", 5 * MB, 150)
    y.link(f"/home/{person}/.local/bin/{name}", f"/home/{person}/.local/share/pipx/venvs/{name}/bin/{name}")


def _snap(y: Yard, n: Names) -> list[dict[str, Any]]:
    """One snap with an old revision kept, and the base it runs on."""
    name, person, base = n.package("told"), n.people[2], "groundwork"
    for snap, revision, kind, size, days in (
        (name, 31, "app", 16, 190),
        (name, 29, "app", 15, 280),
        (base, 7, "base", 9, 500),
    ):
        path = f"/var/lib/snapd/snaps/{snap}_{revision}.snap"
        y.size(path, size * MB, days)
        with open(y.root / path[1:], "r+b") as out:
            out.write(_image(NAME=snap, BASE=base, TYPE=kind))
    launcher = f"/var/lib/snapd/desktop/applications/{name}_{name}.desktop"
    y.text(launcher, _entry(n.app["told"], "Reads labels aloud", f"env SNAP=1 /snap/bin/{name} %F"), 190)
    y.text(f"/home/{person}/snap/{name}/31/.config/voice.ini", "pace=slow\n", 52)
    y.size(f"/home/{person}/snap/{name}/common/voices.bin", 4 * MB, 52)

    def row(name: str, revision: str, days: int, status: str, **more: Any) -> dict[str, Any]:
        at = (y.now - timedelta(days=days)).isoformat()
        return {
            "id": f"{name}-id",
            "name": name,
            "revision": revision,
            "status": status,
            "install-date": at,
            "channel": "stable",
            "publisher": {"display-name": n.vendor},
            "installed-size": 16 * MB,
            **more,
        }

    said = {
        "version": "4.0",
        "title": n.app["told"],
        "summary": "Reads labels aloud",
        "type": "app",
        "base": base,
    }
    apps = [{"snap": name, "name": name, "desktop-file": launcher}]
    return [
        row(name, "31", 190, "active", apps=apps, **said),
        row(name, "29", 280, "installed", apps=apps, **said),
        row(base, "7", 500, "active", version="7", summary="What snaps here run on", type="base"),
    ]
