"""Starts the desk, or says why it cannot."""

from __future__ import annotations

import os
import sys

import click


def has_display() -> bool:
    return bool(
        os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY") or os.environ.get("QT_QPA_PLATFORM")
    )


def why_not() -> str:
    """Why no window can be opened although a display is named."""
    from swept_shelf.desk.platform import why_no_window

    return why_no_window()


def start(root: str, ledger: str | None, visit: str) -> int:
    if not has_display():
        click.echo(
            "swept-shelf: no display here: the desk needs one. `swept-shelf --help` lists the commands.",
            err=True,
        )
        return 2
    if (why := why_not()) != "":
        click.echo(f"swept-shelf: {why}", err=True)
        return 2
    from swept_shelf.desk.app import run_desk

    return run_desk(root, ledger, sys.argv[:1], visit)
