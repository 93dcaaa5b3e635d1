"""The helper's place and its polkit action file (polkit(8), policy DTD 1.0)."""

from __future__ import annotations

import sys
from pathlib import Path
from xml.sax.saxutils import escape

import swept_shelf
from swept_shelf.core.machine.own_folders import changeable_by_others

ACTIONS = Path("/usr/share/polkit-1/actions")
FILE = "org.sweptshelf.policy"
LOOK, CARRY = "look", "carry"
_MESSAGES = {
    LOOK: "Look at all homes and at what only the administrator may read",
    CARRY: "Carry out an order: remove applications of this computer, or put them back",
}
_KEPT = {LOOK: "auth_admin_keep", CARRY: "auth_admin"}


def helper() -> Path:
    """The program that is started with the administrator's rights."""
    return Path(sys.executable).parent / "swept-shelf-helper"


def why_not_trusted() -> str:
    """Why the helper must not be started with more rights: somebody else could put another in its place; "" where nobody can."""
    program = helper()
    if not program.exists():
        return f"{program} is not there: Swept Shelf is not wholly installed"
    for place in (program, Path(sys.executable), Path(swept_shelf.__file__).parent):
        if changed := changeable_by_others(place):
            return (
                f"{changed} can be changed by others than the administrator, and would work with all rights: "
                "install Swept Shelf for everyone, in a folder of root’s"
            )
    return ""


def in_place() -> bool:
    """Whether the action file of this very helper stands where polkit looks."""
    try:
        return (ACTIONS / FILE).read_text() == action_file()
    except (OSError, ValueError):
        return False


def action_file() -> str:
    """The action file for the helper as it is installed here."""
    parts = [
        f"""  <action id="org.sweptshelf.{name}">
    <description>{escape(message)}</description>
    <message>{escape(message)}</message>
    <defaults>
      <allow_any>auth_admin</allow_any>
      <allow_inactive>auth_admin</allow_inactive>
      <allow_active>{_KEPT[name]}</allow_active>
    </defaults>
    <annotate key="org.freedesktop.policykit.exec.path">{escape(str(helper()))}</annotate>
    <annotate key="org.freedesktop.policykit.exec.argv1">{name}</annotate>
  </action>
"""
        for name, message in _MESSAGES.items()
    ]
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n'
        '<!DOCTYPE policyconfig PUBLIC "-//freedesktop//DTD PolicyKit Policy Configuration 1.0//EN"\n'
        '  "http://www.freedesktop.org/standards/PolicyKit/1/policyconfig.dtd">\n'
        "<policyconfig>\n  <vendor>Swept Shelf</vendor>\n" + "".join(parts) + "</policyconfig>\n"
    )


def how_to_place() -> str:
    """The exact command that puts the action file in place."""
    return f"{Path(sys.executable).parent / 'swept-shelf'} rights --action-file | sudo tee {ACTIONS / FILE} >/dev/null"
