"""`python -m swept_shelf`: the command line, or the desk when no command is given."""

from __future__ import annotations

import sys


def main() -> None:
    from swept_shelf.cli.stopping import Stopped, hear_the_keyboard, unbroken
    from swept_shelf.running import begin

    begin()
    hear_the_keyboard()
    try:
        with unbroken():
            from swept_shelf.cli.main import cli
        cli(prog_name="swept-shelf")
    except Stopped:  # before anything stood ready that says it
        sys.stderr.write("swept-shelf: stopped\n")
        sys.exit(130)


if __name__ == "__main__":
    main()
