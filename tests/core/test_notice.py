"""A round of upkeep tells the person's desktop, by the protocol that desktops show notices with."""

from __future__ import annotations

import os
import shutil
import subprocess
import threading

import pytest
from jeepney import HeaderFields, new_error, new_method_return
from jeepney.bus_messages import message_bus
from jeepney.io.blocking import open_dbus_connection

from swept_shelf.upkeep.notice import notify

pytestmark = pytest.mark.skipif(not shutil.which("dbus-daemon"), reason="needs dbus-daemon")


@pytest.fixture
def bus(monkeypatch):
    daemon = subprocess.Popen(
        ["dbus-daemon", "--session", "--nofork", "--print-address=1"], stdout=subprocess.PIPE, text=True
    )
    address = daemon.stdout.readline().strip()
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", address)
    yield address
    daemon.terminate()
    daemon.wait(10)
    daemon.stdout.close()


class Desktop(threading.Thread):
    """What shows notices: answers one call."""

    def __init__(self, address, refuses=False):
        super().__init__(daemon=True)
        self.refuses, self.shown = refuses, []
        self.bus = open_dbus_connection(address)
        self.bus.send_and_get_reply(message_bus.RequestName("org.freedesktop.Notifications"), timeout=10)
        self.start()

    def run(self):
        while True:
            call = self.bus.receive(timeout=20)
            if call.header.fields.get(HeaderFields.member) == "Notify":
                break
        self.shown.append(call.body)
        refused = new_error(call, "org.freedesktop.DBus.Error.Failed", "s", ("no",))
        self.bus.send(refused if self.refuses else new_method_return(call, "u", (7,)))
        self.bus.close()


def test_what_was_found_is_shown_as_it_stands_and_no_markup(bus):
    desktop = Desktop(bus)
    assert notify("Upkeep of reading-room", ["<b>Plates</b> & more grew by 2 GB\x1b[0m", "b", "c", "d", "e"])
    desktop.join(10)
    name, replaces, icon, head, body, actions, hints, expires = desktop.shown[0]
    assert (name, replaces, icon, head, actions, expires) == (
        "Swept Shelf",
        0,
        "swept-shelf",
        "Upkeep of reading-room",
        [],
        -1,
    )
    lines = body.split("\n")
    assert lines[0].startswith("&lt;b&gt;Plates&lt;/b&gt; &amp; more grew by 2 GB") and "\x1b" not in body
    assert lines[1:] == ["b", "c", "and 2 more: swept-shelf upkeep says all"]
    assert hints["desktop-entry"] == ("s", "swept-shelf")


def test_where_nobody_listens_or_the_desktop_refuses_nothing_is_told_and_nothing_fails(bus, monkeypatch):
    assert not notify("x", ["a"])
    desktop = Desktop(bus, refuses=True)
    assert not notify("x", ["a"])
    desktop.join(10)
    assert desktop.shown
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", "unix:path=/nowhere/at/all")
    assert not notify("x", ["a"])
    monkeypatch.setenv("DBUS_SESSION_BUS_ADDRESS", "no address")
    assert not notify("x", ["a"])
    monkeypatch.delenv("DBUS_SESSION_BUS_ADDRESS")
    monkeypatch.setattr(os, "getuid", lambda: 4_000_000)
    assert not notify("x", ["a"])
