"""The machine being serviced: root folder, volumes, people, processes, clock, commands.

The only way to touch a path: everything else in core goes through `Machine`."""

from swept_shelf.core.machine.machine import Machine, open_machine

__all__ = ["Machine", "open_machine"]
