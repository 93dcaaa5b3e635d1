"""Why no window can be opened, before Qt would abort for it: a library that is missing, or a display that does not answer."""

from __future__ import annotations

import ctypes
import os
import re
import socket
from importlib.util import find_spec
from pathlib import Path

# Debian's package of each library that Qt's own wheel leaves to the system.
_PACKAGES = {
    "libEGL.so": "libegl1",
    "libGL.so": "libgl1",
    "libxkbcommon.so": "libxkbcommon0",
    "libxkbcommon-x11.so": "libxkbcommon-x11-0",
    "libdbus-1.so": "libdbus-1-3",
    "libfontconfig.so": "libfontconfig1",
    "libfreetype.so": "libfreetype6",
    "libglib-2.0.so": "libglib2.0-0",
    "libxcb-cursor.so": "libxcb-cursor0",
    "libxcb-icccm.so": "libxcb-icccm4",
    "libxcb-keysyms.so": "libxcb-keysyms1",
    "libxcb-image.so": "libxcb-image0",
    "libxcb-render-util.so": "libxcb-render-util0",
    "libxcb-shape.so": "libxcb-shape0",
    "libxcb-randr.so": "libxcb-randr0",
    "libX11-xcb.so": "libx11-xcb1",
    "libX11.so": "libx11-6",
    "libxcb.so": "libxcb1",
}
_LIBRARY = re.compile(r"(lib[\w+.-]*?\.so)[.\d]*")


def why_no_window() -> str:
    """One sentence, or "" where a window can be opened."""
    try:
        from PySide6 import QtWidgets  # noqa: F401
    except ImportError as error:
        return _missing(str(error))
    wanted = os.environ.get("QT_QPA_PLATFORM", "").partition(":")[0].partition(";")[0] or (
        "xcb" if os.environ.get("DISPLAY") else ""
    )
    if wanted != "xcb":
        return ""
    try:
        ctypes.CDLL(str(_plugins() / "platforms" / "libqxcb.so"))
    except OSError as error:
        return _missing(str(error))
    return _why_no_display(os.environ.get("DISPLAY", ""))


def _plugins() -> Path:
    found = find_spec("PySide6")
    assert found is not None and found.origin is not None
    return Path(found.origin).parent / "Qt" / "plugins"


def _missing(text: str) -> str:
    """The sentence for what the loader said."""
    match = _LIBRARY.search(text)
    package = _PACKAGES.get(match[1]) if match else None
    if package is None:
        return f"the desk cannot be opened here: {text}"
    assert match is not None
    return f"the desk needs {match[0]}, which this computer lacks: sudo apt-get install {package}"


def _why_no_display(display: str) -> str:
    """Whether an X server of this computer answers; another computer's is Qt's own business (X(7), DISPLAY NAMES)."""
    match = re.fullmatch(r"(?:unix)?:(\d+)(?:\.\d+)?", display)
    if match is None:
        return "" if display else "no display here: the desk needs one"
    path = f"/tmp/.X11-unix/X{match[1]}"
    for address in (path, "\0" + path):
        with socket.socket(socket.AF_UNIX) as tried:
            try:
                tried.connect(address)
                return ""
            except OSError:
                continue
    return f"no display answers at {display}: the desk needs one"
