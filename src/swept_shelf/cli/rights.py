"""rights: what a person may do here, and how the administrator's rights are asked for."""

from __future__ import annotations

import os

import click

from swept_shelf.cli.common import out
from swept_shelf.core.documents.errors import Refused
from swept_shelf.rights.action import action_file, how_to_place, in_place, why_not_trusted
from swept_shelf.rights.asking import way_in_words, why_not_asked


@click.command()
@click.option(
    "--action-file",
    "wanted",
    is_flag=True,
    help="Print the polkit action file for the helper as it is installed.",
)
def rights(wanted: bool) -> None:
    """What may be done here, and how the administrator's rights are asked for."""
    if wanted:
        if why := why_not_trusted():
            raise Refused(f"an action file would make this dangerous: {why}")
        click.echo(action_file(), nl=False)
        return
    if os.geteuid() == 0:
        out("You are the administrator: nothing has to be asked for.")
        return
    out("You look and carry out as a person: what belongs to everyone, and other homes, need more rights.")
    if why := why_not_asked():
        out(f"They cannot be asked for here: {why}.")
        return
    out(
        f"`swept-shelf survey --with-rights` asks for them by {way_in_words()}; orders drawn from it ask once more."
    )
    if way_in_words() == "pkexec" and not in_place():
        out("The question is put in general words. With our own action file it says what for:")
        out(f"  {how_to_place()}")
