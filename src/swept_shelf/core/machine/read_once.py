"""A machine's files for whoever asks for the same few again and again."""

from __future__ import annotations

from functools import cache, lru_cache

from swept_shelf.core.machine.machine import Machine

_TEXTS, _FOLDERS = 4, 8  # held at most: nobody knows how large they are


class ReadOnce:
    """The last few texts and listings are as they were when they were first asked for. What cannot be read is tried anew, and bytes,
    which may be many, are never held."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.text = lru_cache(_TEXTS)(machine.text)
        self.names = lru_cache(_FOLDERS)(machine.names)
        self.exists = cache(machine.exists)
        self.read_bytes = machine.read_bytes
