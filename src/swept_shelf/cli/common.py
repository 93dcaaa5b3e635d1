"""What the commands share: options, clear errors with their exit status, progress, tables."""

from __future__ import annotations

import contextlib
import functools
import json
import os
import sys
from collections.abc import Callable, Iterable, Iterator
from typing import Any

import click

from swept_shelf.core.documents.errors import (
    CouldNotRead,
    Refused,
    SweptShelfError,
    printable,
    printable_lines,
)
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.survey.called import called
from swept_shelf.worker.client import run_worker
from swept_shelf.workshop import Workshop


@contextlib.contextmanager
def said_clearly() -> Iterator[None]:
    """Our errors as one line on standard error; the exit status says whether anything changed."""
    try:
        yield
    except SweptShelfError as error:
        click.echo(f"swept-shelf: {error}", err=True)
        sys.exit(1 if isinstance(error, CouldNotRead) else 2)
    except PermissionError as error:
        _ended(f"{printable(str(error.filename or ''))}: may not be written or read", 2)
    except KeyboardInterrupt:
        _ended("stopped", 130)
    except BrokenPipeError:
        _ended("nobody reads the output any more", 1)
    except OSError as error:
        where = f"{printable(str(error.filename))}: " if error.filename else ""
        _ended(f"{where}{error.strerror or error}", 1)
    except (click.exceptions.ClickException, click.exceptions.Exit, click.exceptions.Abort):
        raise
    except Exception as error:
        from swept_shelf.logbook import went_wrong

        _ended(went_wrong(error, " ".join(["swept-shelf", *sys.argv[1:2]]))[0], 1)


def _ended(why: str, status: int) -> None:
    """One sentence, and nothing more when the interpreter flushes what nobody takes."""
    with contextlib.suppress(OSError):
        click.echo(f"swept-shelf: {why}", err=True)
    with contextlib.suppress(OSError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
    sys.exit(status)


def with_workshop(command: Callable[..., Any]) -> Callable[..., Any]:
    """Adds --root and --ledger, and hands the command its Workshop first."""

    @click.option("--root", default=None, metavar="DIR", help="The machine's root folder.")
    @click.option("--ledger", default=None, metavar="FILE", help="The ledger.")
    @click.pass_context
    @functools.wraps(command)
    def wrapped(ctx: click.Context, /, *args: Any, **kwargs: Any) -> Any:
        root, ledger = kwargs.pop("root"), kwargs.pop("ledger")
        above = ctx.parent.params if ctx.parent else {}
        shop = Workshop(root or above.get("root") or "/", ledger or above.get("ledger"))
        return command(shop, *args, **kwargs)

    return wrapped


format_option = click.option(
    "--format", "form", type=click.Choice(["table", "json"]), default="table", help="How to print it."
)


def say(text: str) -> None:
    click.echo(printable_lines(text), err=True)


def out(text: str) -> None:
    click.echo(printable_lines(text))


def out_json(document: bytes | Any) -> None:
    if not isinstance(document, bytes):
        document = json.dumps(document, ensure_ascii=False, indent=1).encode() + b"\n"
    sys.stdout.buffer.write(document)
    sys.stdout.flush()


def table(head: Iterable[str], rows: Iterable[Iterable[str]], right: Iterable[int] = ()) -> None:
    """A plain table on standard output; `right`: columns of figures."""
    from rich import box
    from rich.console import Console
    from rich.table import Table
    from rich.text import Text

    made = Table(box=box.SIMPLE_HEAD, pad_edge=False, show_edge=False)
    for i, name in enumerate(head):
        made.add_column(
            name, justify="right" if i in set(right) else "left", overflow="fold", no_wrap=i in set(right)
        )
    for row in rows:
        made.add_row(*(Text(printable(cell)) for cell in row))
    console = Console(
        soft_wrap=not sys.stdout.isatty(), width=None if sys.stdout.isatty() else 200, highlight=False
    )
    console.print(made)


def work(
    request: dict[str, Any], what: str, meanwhile: Callable[[], object] = lambda: None
) -> dict[str, Any]:
    """Ask the worker, with progress on a terminal. `meanwhile`: what is done here while it works."""
    if not sys.stderr.isatty():
        return run_worker(request, meanwhile=meanwhile)
    from rich.console import Console
    from rich.progress import BarColumn, Progress, TextColumn, TimeElapsedColumn

    with Progress(
        TextColumn("{task.description}"),
        BarColumn(),
        TimeElapsedColumn(),
        console=Console(stderr=True),
        transient=True,
    ) as bar:
        task = bar.add_task(what, total=None)

        def tell(event: dict[str, Any]) -> None:
            if event["event"] == "progress":
                bar.update(
                    task,
                    total=event["total"],
                    completed=event["done"],
                    description=f"{what}: {event['what']}",
                )
            elif event["event"] in ("begin", "done", "skipped", "returned", "stays"):
                bar.update(task, description=f"{what}: {printable(str(event.get('where', '')))[-60:]}")

        return run_worker(request, tell, meanwhile)


def find_line(survey: Survey, name: str) -> Application | LeftBehind:
    """The line meant by an id, a name, a package or a launcher. An ambiguous name is refused with the ids."""
    found = called(survey, name)
    if len(found) == 1:
        return found[0]
    if found:
        raise Refused(f"{name} could mean: {', '.join(sorted(e.id for e in found))}")
    raise Refused(f"no application {name} in this survey")
