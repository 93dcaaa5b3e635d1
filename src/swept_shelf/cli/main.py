"""The commands' names and help; each command's own module is read when it is called."""

from __future__ import annotations

import contextlib
import importlib
import sys
from typing import Any

import click

from swept_shelf import __version__
from swept_shelf.cli.stopping import unbroken

COMMANDS = {
    "demo": ("swept_shelf.cli.demo", "Start on the made-up reading-room computer."),
    "survey": ("swept_shelf.cli.looking", "Look at everything; keep it in the ledger."),
    "show": ("swept_shelf.cli.looking", "One application with all that is known of it."),
    "use": ("swept_shelf.cli.using", "When it was last used, and which signs say so."),
    "its": ("swept_shelf.cli.telling", "Say that a path is an application's."),
    "not-its": ("swept_shelf.cli.telling", "Say that a path is not an application's."),
    "watch": ("swept_shelf.cli.watching", "Watch what an application writes."),
    "places": ("swept_shelf.cli.asking", "Where the bytes are, and whose they are."),
    "why": ("swept_shelf.cli.asking", "Why an application is here, who needs it."),
    "whose": ("swept_shelf.cli.asking", "Whose a path is, and by which proof."),
    "order": ("swept_shelf.cli.ordering", "Draw an order from the latest survey."),
    "questions": (
        "swept_shelf.cli.questions",
        "What the owner has to decide: a sheet to print, or to come back.",
    ),
    "rehearse": ("swept_shelf.cli.ordering", "List every operation of an order, changing nothing."),
    "carry-out": ("swept_shelf.cli.carrying", "Carry an order out."),
    "resume": ("swept_shelf.cli.carrying", "Finish, or put back, what was cut off."),
    "at-start": ("swept_shelf.cli.starting", "Finish at the computer's next start what could not go now."),
    "clearance": ("swept_shelf.cli.proving", "Look again: does anything still point at it?"),
    "systems": ("swept_shelf.cli.systems", "Systems on disks that are mounted here."),
    "trace": ("swept_shelf.cli.tracing", "Is anything of a name left anywhere?"),
    "put-back": ("swept_shelf.cli.carrying", "Put back what waits on the holding shelf."),
    "empty": ("swept_shelf.cli.carrying", "Empty the holding shelf, for good."),
    "archive": ("swept_shelf.cli.archiving", "What waits on the shelf as one file, on another medium."),
    "restore": ("swept_shelf.cli.archiving", "Put back from such a file, here or on another computer."),
    "upkeep": ("swept_shelf.cli.upkeep", "Keep it so: what grew, what nobody uses; a timer, if asked for."),
    "compare": ("swept_shelf.cli.comparing", "What came, went, grew and moved between two visits."),
    "take-over": ("swept_shelf.cli.taking_over", "Put back, or empty, a shelf that no ledger here knows."),
    "report": ("swept_shelf.cli.proving", "Write the report of a visit (HTML or JSON)."),
    "sign-off": ("swept_shelf.cli.proving", "Freeze a clearance, with who answers for it."),
    "technician": ("swept_shelf.cli.proving", "Who works here: what reports say."),
    "rights": ("swept_shelf.cli.rights", "What may be done here, and how more rights are asked for."),
    "visits": ("swept_shelf.cli.proving", "Visits in the ledger."),
}
_GIVEN = "swept_shelf.given"  # the words of the command line
_WITHOUT_A_WORKER = {"--kept", "--with-rights", "--help", "-h"}


class LazyGroup(click.Group):
    """Lists commands without importing them, so that --help is quick."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def parse_args(self, ctx: click.Context, args: list[str]) -> list[str]:
        ctx.meta[_GIVEN] = set(args)
        return super().parse_args(ctx, args)

    def get_command(self, ctx: click.Context, name: str) -> click.Command | None:
        if name not in COMMANDS:
            return None
        with unbroken():
            module = importlib.import_module(COMMANDS[name][0])
        command: click.Command = getattr(module, name.replace("-", "_"))
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        with formatter.section("Commands"):
            formatter.write_dl([(name, help) for name, (_, help) in COMMANDS.items()])

    def invoke(self, ctx: click.Context) -> Any:
        try:
            return self._invoke(ctx)
        except KeyboardInterrupt:  # before anything stood ready that says it
            click.echo("swept-shelf: stopped", err=True)
            sys.exit(130)

    def _invoke(self, ctx: click.Context) -> Any:
        given = ctx.meta[_GIVEN]
        with contextlib.ExitStack() as beside:
            if "survey" in given and _WITHOUT_A_WORKER.isdisjoint(given):
                with unbroken():
                    from swept_shelf.worker.client import ready_worker

                    # It reads its modules while those of the command are read here.
                    beside.enter_context(ready_worker())
            with unbroken():
                from swept_shelf.cli.common import said_clearly

            with said_clearly():
                return super().invoke(ctx)


@click.group(
    cls=LazyGroup, invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]}
)
@click.version_option(__version__, prog_name="swept-shelf")
@click.option(
    "--root",
    default="/",
    metavar="DIR",
    help="The machine's root folder (a mounted disk, a demo folder). Default: /",
)
@click.option(
    "--ledger",
    default=None,
    metavar="FILE",
    help="The ledger. Default: in your data folder, or the demo's own.",
)
@click.option(
    "--visit",
    default="latest",
    metavar="N",
    help="With no command: the desk shows this earlier visit, to be looked at only.",
)
@click.pass_context
def cli(ctx: click.Context, root: str, ledger: str | None, visit: str) -> None:
    """Inventory the applications of a computer, remove them completely, prove that nothing points at them.

    Without a command the desk is started. Exit status: 0 done; 1 something is left; 2 wrong use or refused,
    nothing changed."""
    if ctx.invoked_subcommand is not None and visit != "latest":
        raise click.UsageError("--visit is for the desk: commands take the visit behind their name")
    if ctx.invoked_subcommand is None:
        from swept_shelf.cli.desk import start

        sys.exit(start(root, ledger, visit))
