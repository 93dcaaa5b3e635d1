"""A real screen for tests: an X server, a window manager, a session bus and the bus of assistive programs, all of their own.

The program is found and read as assistive programs do it (AT-SPI 2 over D-Bus), and driven by the pointer and the keyboard alone."""

from __future__ import annotations

import contextlib
import os
import subprocess
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jeepney import DBusAddress, MessageType, Properties, new_method_call
from jeepney.io.blocking import DBusConnection, open_dbus_connection

from swept_shelf.own_python import own_python

_ACCESSIBLE, _COMPONENT = "org.a11y.atspi.Accessible", "org.a11y.atspi.Component"
_ACTION = "org.a11y.atspi.Action"
_ROOT = "/org/a11y/atspi/accessible/root"
_FOCUSED, _SHOWING, _ENABLED = 12, 25, 8  # AtspiStateType
_DEEP = 40


@dataclass(frozen=True)
class Thing:
    """One accessible object: where it is on the bus, and what it says of itself."""

    owner: str
    path: str
    name: str
    role: str


class Gone(Exception):
    """What was there a moment ago."""


class Screen:
    def __init__(self, folder: Path) -> None:
        self._folder = folder
        self._begun: list[subprocess.Popen[bytes]] = []
        runtime = folder / "runtime"
        runtime.mkdir(mode=0o700)
        self._env = os.environ | {
            "XDG_RUNTIME_DIR": str(runtime),
            "HOME": str(folder),
            "QT_QPA_PLATFORM": "xcb",
            "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1",
            "QT_FONT_DPI": "96",
            "LANG": "C.UTF-8",
        }
        self._env.pop("WAYLAND_DISPLAY", None)
        self._bus: DBusConnection | None = None

    def __enter__(self) -> Screen:
        self._open()
        address = self._line_of(["dbus-daemon", "--session", "--nofork", "--print-address=1"])
        self._env["DBUS_SESSION_BUS_ADDRESS"] = address
        self._manage()
        with contextlib.closing(open_dbus_connection(address)) as session:
            launcher = DBusAddress("/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus")
            where = session.send_and_get_reply(new_method_call(launcher, "GetAddress"), timeout=20).body[0]
        self._bus = open_dbus_connection(where)
        return self

    def _open(self) -> None:
        """What the windows are shown on."""
        for _ in range(5):  # two that start at once may take the same number, and one of them ends
            said = self._line_of(
                ["Xvfb", "-noreset", "-displayfd", "1", "-ac", "-screen", "0", "1400x900x24"]
            )
            self._env["DISPLAY"] = f":{said}"
            asked = subprocess.run(["xdotool", "getdisplaygeometry"], env=self._env, capture_output=True)
            if asked.returncode == 0:
                break

    def _manage(self) -> None:
        self._start(["openbox"])

    def __exit__(self, *_: object) -> None:
        if self._bus is not None:
            self._bus.close()
        for process in reversed(self._begun):
            process.terminate()
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(10)
            process.kill()
            process.wait()

    def _start(self, words: list[str], **more: Any) -> subprocess.Popen[bytes]:
        process = subprocess.Popen(words, env=self._env, stderr=subprocess.DEVNULL, **more)
        self._begun.append(process)
        return process

    def _line_of(self, words: list[str]) -> str:
        process = self._start(words, stdout=subprocess.PIPE)
        assert process.stdout is not None
        return process.stdout.readline().decode().strip()

    def start(self, root: Path, *arguments: str) -> subprocess.Popen[bytes]:
        """The program itself, as a person starts it."""
        return self._start(own_python("swept_shelf", "--root", str(root), *arguments))

    # -- what assistive programs see ------------------------------------------------------------------------

    def _ask(self, owner: str, path: str, interface: str, method: str, *given: Any) -> Any:
        assert self._bus is not None
        signature, body = (given[0], given[1:]) if given else (None, ())
        call = new_method_call(DBusAddress(path, owner, interface), method, signature, body)
        reply = self._bus.send_and_get_reply(call, timeout=20)
        if reply.header.message_type is MessageType.error:
            raise Gone(str(reply.body))
        return reply.body

    def _name(self, owner: str, path: str) -> str:
        assert self._bus is not None
        address = DBusAddress(path, owner, _ACCESSIBLE)
        body = self._bus.send_and_get_reply(Properties(address).get("Name"), timeout=20).body
        return str(body[0][1]) if body and isinstance(body[0], tuple) else ""

    def _states(self, thing: Thing) -> int:
        low, high = self._ask(thing.owner, thing.path, _ACCESSIBLE, "GetState")[0]
        return int(low) | int(high) << 32

    def is_(self, thing: Thing, state: int) -> bool:
        return bool(self._states(thing) >> state & 1)

    def things(self, tables: bool = True) -> Iterator[Thing]:
        """All that shows, outermost first; `tables`: their cells too."""
        try:
            tops = self._ask("org.a11y.atspi.Registry", _ROOT, _ACCESSIBLE, "GetChildren")[0]
        except Gone:  # it is started anew by the next question
            return
        for owner, path in tops:
            yield from self._below(owner, path, 0, tables)

    def _below(self, owner: str, path: str, deep: int, tables: bool) -> Iterator[Thing]:
        if deep > _DEEP or path.endswith("/null"):
            return
        try:
            role = self._ask(owner, path, _ACCESSIBLE, "GetRoleName")[0]
            thing = Thing(owner, path, self._name(owner, path), str(role))
            if deep > 1 and not self.is_(thing, _SHOWING):
                return
            inside = self._ask(owner, path, _ACCESSIBLE, "GetChildren")[0]
        except Gone:
            return
        yield thing
        if thing.role == "table" and not tables:
            return
        for child_owner, child in inside:
            yield from self._below(child_owner, child, deep + 1, tables)

    def find(self, name: str, role: str = "", seconds: float = 60, begins: bool = False) -> Thing:
        """What is called so, once it shows and can be used; `role` as its name ends."""

        def look() -> Thing | None:
            for thing in self.things(tables=role in ("", "cell", "row", "item")):
                called = thing.name.startswith(name) if begins else thing.name == name
                with contextlib.suppress(Gone):
                    if called and role in thing.role and self.is_(thing, _ENABLED):
                        return thing
            return None

        return self.until(look, f"{role} {name!r}", seconds)

    def until(self, look: Callable[[], Any], what: str, seconds: float = 60) -> Any:
        """What `look` finds at last. Whoever is asked has as much time for its own work as it needs to answer."""
        end = time.monotonic() + seconds
        while True:
            asked = time.monotonic()
            if found := look():
                return found
            now = time.monotonic()
            assert now < end, f"{what} did not come; there were {self.names() if self._bus else 'no bus'}"
            time.sleep(max(0.1, 2 * (now - asked)))

    def names(self) -> list[str]:
        return [f"{t.role}: {t.name}" for t in self.things(tables=False) if t.name][:120]

    def focused(self) -> Thing | None:
        with contextlib.suppress(Gone):
            # The cell in hand says that it is focused wherever the keyboard is.
            return next((t for t in self.things(tables=False) if self.is_(t, _FOCUSED)), None)
        return None

    def all_focused(self) -> list[Thing]:
        """The widget that has the keyboard, and what of it is in hand."""
        return [t for t in self.things(tables=False) if self.is_(t, _FOCUSED)]

    # -- hands ----------------------------------------------------------------------------------------------

    def key(self, *keys: str) -> None:
        subprocess.run(["xdotool", "key", "--clearmodifiers", *keys], env=self._env, check=True)

    def write(self, text: str) -> None:
        subprocess.run(["xdotool", "type", text], env=self._env, check=True)

    def _middle(self, thing: Thing) -> tuple[int, int]:
        x, y, wide, high = self._ask(thing.owner, thing.path, _COMPONENT, "GetExtents", "u", 0)[0]
        return x + min(wide // 2, 200), y + high // 2

    def _hand(self, *words: object) -> None:
        subprocess.run(["xdotool", *map(str, words)], env=self._env, check=True)

    def click(self, thing: Thing) -> None:
        self._hand("mousemove", *self._middle(thing), "click", 1)

    def press(self, thing: Thing) -> None:
        """As an assistive program does it, without a pointer."""
        self._ask(thing.owner, thing.path, _ACTION, "DoAction", "i", 0)

    def drag(self, thing: Thing, onto: Thing) -> None:
        (x, y), (to_x, to_y) = self._middle(thing), self._middle(onto)
        self._hand("mousemove", x, y, "mousedown", 1)
        for step in range(1, 11):
            self._hand("mousemove", x + (to_x - x) * step // 10, y + (to_y - y) * step // 10)
            time.sleep(0.05)
        self._hand("mouseup", 1)

    def tab_to(self, name: str, role: str = "button", begins: bool = False, steps: int = 60) -> None:
        """The keyboard goes from one control to the next until it is there."""
        way = []
        for _ in range(steps):
            here = self.focused()
            called = here is not None and (here.name.startswith(name) if begins else here.name == name)
            if here is not None and called and role in here.role:
                return
            way.append(f"{here.role} {here.name}" if here is not None else "nothing")
            self.key("Tab")
            time.sleep(0.05)
        raise AssertionError(f"no way by Tab to {name!r}, but to {way}")


class WaylandScreen(Screen):
    """A compositor without a monitor and without an X server: nothing but Wayland is spoken on it."""

    def _open(self) -> None:
        self._env |= {"QT_QPA_PLATFORM": "wayland", "WAYLAND_DISPLAY": "shelf"}
        self._env.pop("DISPLAY", None)
        server = ["weston", "--backend=headless-backend.so", "--width=1400", "--height=900", "--idle-time=0"]
        self._start([*server, "--socket=shelf"], stdout=subprocess.DEVNULL)
        place = Path(self._env["XDG_RUNTIME_DIR"]) / "shelf"
        self.until(place.exists, "the compositor", 20)

    def _manage(self) -> None:
        """The compositor does it."""
