"""What the desk remembers between two sittings: columns, grouping, kept filters. An INI file in the person's own settings."""

from __future__ import annotations

from PySide6.QtCore import QSettings

from swept_shelf.core.machine.own_folders import own_folder


class Settings:
    def __init__(self) -> None:
        path = own_folder("config") / "desk.ini"
        self._file = QSettings(str(path), QSettings.Format.IniFormat)

    def texts(self, name: str, default: list[str]) -> list[str]:
        kept = self._file.value(name)
        if kept is None:
            return default
        return [str(x) for x in kept] if isinstance(kept, list) else [str(kept)] if kept != "" else []

    def keep(self, name: str, values: list[str]) -> None:
        self._file.setValue(name, values if values else "")
        self._file.sync()
