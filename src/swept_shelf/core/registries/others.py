"""All registries beside Debian's, one after the other; what one cannot read is named, the rest goes on."""

from __future__ import annotations

from swept_shelf.core.machine.fences import fence
from swept_shelf.core.registries.appimage import read as appimage
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.flatpak import read as flatpak
from swept_shelf.core.registries.games import read as games
from swept_shelf.core.registries.language import read as language
from swept_shelf.core.registries.rpm import read as rpm
from swept_shelf.core.registries.snap import read as snap

_READERS = (rpm, flatpak, snap, appimage, language, games)


def read_others(reading: Reading) -> list[Registered]:
    """Every application of these registries, each id once; what could not be read is in `reading.not_read`."""
    for reader in _READERS:
        with fence(f"{reader.__name__.split('.')[-2]} applications", reading.trouble):
            reader.read(reading)
    found: dict[str, Registered] = {}
    for entry in reading.found:
        found.setdefault(entry.id, entry)
    return list(found.values())
