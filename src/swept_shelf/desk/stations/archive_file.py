"""Asks for the file that an archive is written into."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from swept_shelf.desk.language import spoken

ARCHIVE = ".tar.zst"


def ask_archive(parent: QWidget, title: str, visit: int) -> str:
    """ "" where nobody wants one."""
    start = str(Path.home() / f"shelf-{visit}{ARCHIVE}")
    path, _ = QFileDialog.getSaveFileName(parent, spoken(title), start, f"Archive (*{ARCHIVE})")
    return path if not path or path.endswith(ARCHIVE) else path + ARCHIVE
