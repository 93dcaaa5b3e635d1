"""`python -m swept_shelf`: the command line, or the desk when no command is given."""

from __future__ import annotations


def main() -> None:
    from swept_shelf.running import begin

    begin()
    from swept_shelf.cli.main import cli

    cli(prog_name="swept-shelf")


if __name__ == "__main__":
    main()
