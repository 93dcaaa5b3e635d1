"""Desks of their own for other machines and earlier visits: each in a process of its own, so that none can hold up another."""

from __future__ import annotations

import subprocess
from typing import TYPE_CHECKING

from swept_shelf.own_python import FOLDER, own_python

if TYPE_CHECKING:
    from swept_shelf.desk.session import Session

_begun: list[subprocess.Popen[bytes]] = []


def open_desk(session: Session, *arguments: str) -> None:
    """Start one behind the desk; it lives on when this one is closed."""

    def begin() -> None:
        _begun[:] = [p for p in _begun if p.poll() is None]
        nothing = subprocess.DEVNULL
        _begun.append(
            subprocess.Popen(
                own_python("swept_shelf", *arguments),
                stdin=nothing,
                stdout=nothing,
                stderr=nothing,
                cwd=FOLDER,
                start_new_session=True,
            )
        )

    session.behind.do("window", begin, lambda _: None, session.said.emit)


def open_visit(session: Session, number: str) -> None:
    """An earlier visit of the same machine, to be looked at."""
    shop = session.shop
    open_desk(session, "--root", shop.machine.root, "--ledger", str(shop.ledger.file), "--visit", number)
