"""What stands on the machine and in its ledger, read behind the desk: no station looks for itself."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from PySide6.QtCore import QTimer

from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.documents.clearance import Clearance, Finding
from swept_shelf.core.documents.sign_off import Left, SignOff, Technician
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.ledger import VisitRow
from swept_shelf.desk.behind import Behind
from swept_shelf.workshop import Workshop

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session

_EVERY = 1000  # milliseconds between two looks while something is being carried out


@dataclass(frozen=True, slots=True)
class Stand:
    """`known`: it was read; `slots`: what waits on holding shelves; `visits`: the newest first; `left`: findings left on purpose;
    `signed`: the sign-off of the visit in hand; `came`: what came back since."""

    known: bool = False
    volumes: list[Volume] = field(default_factory=list)
    slots: list[Slot] = field(default_factory=list)
    visits: list[VisitRow] = field(default_factory=list)
    technician: Technician = field(default_factory=Technician)
    left: dict[str, Left] = field(default_factory=dict)
    signed: SignOff | None = None
    came: list[tuple[str, str, Finding]] = field(default_factory=list)


def read_stand(shop: Workshop, visit: VisitRow | None, clearance: Clearance | None) -> Stand:
    """Raises our own errors, OSError."""
    proof = shop.proof
    return Stand(
        True,
        shop.shelves.volumes(),
        shop.shelves.waiting(),
        shop.ledger.visits(shop.machine.key),
        proof.technician(),
        proof.left(),
        proof.signed(visit) if visit else None,
        proof.came_since(visit, clearance) if visit and clearance else [],
    )


class Standing:
    """`now`: as it was read last; `problem`: why it could not be. What is asked for while it is being read is read once more, after
    that."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.now = Stand()
        self.problem = ""
        self._beside = Behind(session)
        self._again = False
        self._soon = QTimer(session)
        self._soon.setSingleShot(True)
        self._soon.timeout.connect(self.look)

    @property
    def busy(self) -> bool:
        return self._beside.busy or self._soon.isActive()

    def look(self) -> None:
        """Read it, and tell by `ledger_changed`."""
        self._soon.stop()
        if self._beside.busy:
            self._again = True
            return
        s = self._session
        visit, clearance = s.visit, s.proving.clearance
        self._beside.do("standing", lambda: read_stand(s.shop, visit, clearance), self._read, self._failed)

    def look_soon(self) -> None:
        if not self.busy:
            self._soon.start(_EVERY)

    def _read(self, stand: Stand) -> None:
        if self._again:
            self._again = False
            self.look()
            return
        before, self.now, self.problem = self.now, stand, ""
        self._session.ledger_changed.emit()
        if any(getattr(before, n) != getattr(stand, n) for n in ("left", "signed", "came", "technician")):
            self._session.clearance_changed.emit()

    def _failed(self, why: str) -> None:
        self._again, self.problem = False, why
        self._session.said.emit(why)
        self._session.ledger_changed.emit()

    def close(self) -> None:
        self._soon.stop()
        self._beside.end()
