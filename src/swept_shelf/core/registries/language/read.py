"""Reads the receipts of language package tools. What they installed without a command of its own is a part of others."""

from __future__ import annotations

from swept_shelf.core.registries.entry import Reading
from swept_shelf.core.registries.language import cargo, gem, npm, pip, pipx


def read(reading: Reading) -> None:
    for tool in (pipx, cargo, pip, npm, gem):
        tool.read(reading)
