"""Other systems that lie unpacked in this one: roots of containers, chroots, images. What leads somewhere in there is theirs."""

from __future__ import annotations

import re

from swept_shelf.core.machine.machine import Machine

_TOP = re.compile(
    r"/(?:usr|etc|var|bin|sbin|lib(?:32|64|x32)?|opt|run|srv|home|root|boot|dev|proc|sys|tmp)(?=/|$)"
)
_SIGNS = ("etc/os-release", "usr/lib/os-release")
_FOLDERS = ("usr", "etc", "var")
_LAYERS = re.compile(
    r"/(?:docker/(?:overlay2|aufs|btrfs|vfs)|containers/storage/(?:overlay|vfs|btrfs)|containerd/\S*?snapshots|buildkit)/"
    r"|/(?:lxc|lxd|incus)/\S*?/rootfs/|/machines/[^/]+/"
)


class OtherRoots:
    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self._known: dict[str, bool] = {}

    def hold(self, path: str) -> bool:
        """Whether a path lies in another system's root, or in a layer of one."""
        return _LAYERS.search(path) is not None or any(
            self._is_root(path[: match.start()]) for match in _TOP.finditer(path) if match.start()
        )

    def _is_root(self, folder: str) -> bool:
        if folder not in self._known:
            exists = self._machine.exists
            self._known[folder] = exists(f"{folder}/usr") and (
                any(exists(f"{folder}/{sign}") for sign in _SIGNS)
                or all(exists(f"{folder}/{x}") for x in _FOLDERS)
            )
        return self._known[folder]
