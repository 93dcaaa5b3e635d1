"""systems: which systems stand on mounted disks, each a --root."""

from __future__ import annotations

import json
from dataclasses import asdict

import click

from swept_shelf.cli.common import format_option, out_json, table
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.machine.systems import mounted_systems


@click.command()
@format_option
def systems(form: str) -> None:
    """Systems on disks that are mounted here: each can be looked at with --root."""
    found = mounted_systems()
    if form == "json":
        # Escaped: a mount point may be called by bytes that are no text.
        out_json(json.dumps([asdict(s) for s in found], indent=1).encode() + b"\n")
    else:
        table(
            ("root", "system", "name"),
            ([printable(s.root), printable(s.os), printable(s.name)] for s in found),
        )
