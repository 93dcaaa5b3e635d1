"""Telling a person's desktop what a round found (Desktop Notifications, org.freedesktop.Notifications), where one listens."""

from __future__ import annotations

import os
from html import escape
from pathlib import Path

from jeepney import DBusAddress, MessageType, new_method_call
from jeepney.io.blocking import open_dbus_connection

from swept_shelf.core.documents.errors import printable

_SECONDS = 5.0
_LONGEST = 400  # characters; what is more stands in the report
_LINES = 3


def notify(head: str, lines: list[str]) -> bool:
    """Whether it was told. Where nobody is logged in, or nothing shows such notices, it was not; that is no failure."""
    address = _bus()
    if not address:
        return False
    shown = [printable(x)[:_LONGEST] for x in lines[:_LINES]]
    if len(lines) > _LINES:
        shown.append(f"and {len(lines) - _LINES} more: swept-shelf upkeep says all")
    desktop = DBusAddress(
        "/org/freedesktop/Notifications", "org.freedesktop.Notifications", "org.freedesktop.Notifications"
    )
    body = "\n".join(escape(x, quote=False) for x in shown)  # names of files are no markup
    hints = {"desktop-entry": ("s", "swept-shelf"), "urgency": ("y", 1)}
    told: tuple[object, ...] = ("Swept Shelf", 0, "swept-shelf", head, body, [], hints, -1)
    try:
        with open_dbus_connection(address) as bus:
            call = new_method_call(desktop, "Notify", "susssasa{sv}i", told)
            reply = bus.send_and_get_reply(call, timeout=_SECONDS)
    except (OSError, ValueError, TimeoutError, EOFError):
        return False
    return bool(reply.header.message_type is MessageType.method_return)


def _bus() -> str:
    """The bus of the person's own session; nobody else's."""
    if said := os.environ.get("DBUS_SESSION_BUS_ADDRESS"):
        return said
    place = Path(f"/run/user/{os.getuid()}/bus")
    try:
        mine = place.is_socket() and place.stat().st_uid == os.getuid()
    except OSError:
        mine = False
    return f"unix:path={place}" if mine else ""
