"""What the desk knows and decides, a part for each kind of work: looking, ordering, carrying, proving, the shelf."""

from swept_shelf.desk.session.carrying import RunState
from swept_shelf.desk.session.session import Session

__all__ = ["RunState", "Session"]
