"""A machine's files for whoever asks for the same few again and again: each is read once."""

from __future__ import annotations

from functools import cache

from swept_shelf.core.machine.machine import Machine


class ReadOnce:
    """What it answers is as it was when it was first asked. What cannot be read is tried anew."""

    def __init__(self, machine: Machine) -> None:
        self.machine = machine
        self.text = cache(machine.text)
        self.names = cache(machine.names)
        self.read_bytes = cache(machine.read_bytes)
        self.exists = cache(machine.exists)
