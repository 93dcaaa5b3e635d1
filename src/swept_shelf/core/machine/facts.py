"""What a machine says of itself: system, architecture, time zone, boot."""

from __future__ import annotations

import os
import re

from swept_shelf.core.documents.errors import one_line
from swept_shelf.core.documents.survey import MachineFacts
from swept_shelf.core.machine.machine import Machine

_RESTART = "/run/reboot-required"
ADMINISTRATOR, PERSON = "administrator", "person"


def machine_facts(machine: Machine) -> MachineFacts:
    release = machine.text("/etc/os-release")
    name = re.search(r'^PRETTY_NAME="?(.*?)"?$', release, re.M)
    return MachineFacts(
        key=machine.key,
        root=machine.root,
        name=machine.name,
        os=one_line(name[1]) if name else "",
        architecture=os.uname().machine,
        timezone=one_line(machine.text("/etc/timezone")),
        boot_id=_boot_id() if machine.live else "",
        foreign=not machine.live,
    )


def rights() -> str:
    return ADMINISTRATOR if os.geteuid() == 0 else PERSON


def _boot_id() -> str:
    with open("/proc/sys/kernel/random/boot_id") as handle:
        return handle.read().strip()


def restart_needed(machine: Machine) -> str:
    """Whether something that was changed counts from the next start on, and by what, in words; "" where nothing says so.

    Debian's packages note it below /run (update-notifier, /usr/share/unattended-upgrades)."""
    if not machine.exists(_RESTART):
        return ""
    told = sorted({one_line(x) for x in machine.text(f"{_RESTART}.pkgs").splitlines() if x.strip()})
    return "a restart is needed" + (f" ({', '.join(told[:5])})" if told else "")
