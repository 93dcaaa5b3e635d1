"""Tables of the ledger (SQLAlchemy). `place`: the order in which rows came in. Documents stand whole in `document` columns;
surveys in folders beside."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, LargeBinary, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column


class Base(DeclarativeBase):
    pass


class MachineRow(Base):
    __tablename__ = "machines"
    key: Mapped[str] = mapped_column(primary_key=True)
    name: Mapped[str]


class VisitTable(Base):
    __tablename__ = "visits"
    __table_args__ = (UniqueConstraint("machine", "number"),)
    id: Mapped[str] = mapped_column(primary_key=True)
    machine: Mapped[str] = mapped_column(ForeignKey("machines.key"))
    number: Mapped[int]
    opened_at: Mapped[datetime]
    last_act_at: Mapped[datetime]
    closed_at: Mapped[datetime | None]


class SurveyTable(Base):
    __tablename__ = "surveys"
    id: Mapped[str] = mapped_column(primary_key=True)
    visit: Mapped[str] = mapped_column(ForeignKey("visits.id"))
    taken_at: Mapped[datetime]
    sha256: Mapped[str]
    folder: Mapped[str]
    free: Mapped[str]
    place: Mapped[int]
    left_of: Mapped[str] = mapped_column(default="")  # of what was found left, not of the machine


class OrderTable(Base):
    __tablename__ = "orders"
    id: Mapped[str] = mapped_column(primary_key=True)
    visit: Mapped[str] = mapped_column(ForeignKey("visits.id"))
    name: Mapped[str]
    drawn_at: Mapped[datetime]
    survey: Mapped[str]
    document: Mapped[bytes] = mapped_column(LargeBinary)
    place: Mapped[int]


class RunTable(Base):
    __tablename__ = "runs"
    id: Mapped[str] = mapped_column(primary_key=True)
    visit: Mapped[str] = mapped_column(ForeignKey("visits.id"))
    order_name: Mapped[str]
    folder: Mapped[str]
    started_at: Mapped[datetime]
    result: Mapped[bytes | None] = mapped_column(LargeBinary)
    put_back_at: Mapped[datetime | None]
    emptied_at: Mapped[datetime | None]
    place: Mapped[int]
    left_of: Mapped[str] = mapped_column(default="")


class ClearanceTable(Base):
    __tablename__ = "clearances"
    id: Mapped[str] = mapped_column(primary_key=True)
    visit: Mapped[str] = mapped_column(ForeignKey("visits.id"))
    run: Mapped[str]
    looked_at: Mapped[datetime]
    document: Mapped[bytes] = mapped_column(LargeBinary)
    place: Mapped[int]


class LeftTable(Base):
    """Findings that a technician left where they are, and why."""

    __tablename__ = "left_findings"
    machine: Mapped[str] = mapped_column(ForeignKey("machines.key"), primary_key=True)
    finding: Mapped[str] = mapped_column(primary_key=True)
    why: Mapped[str]
    who: Mapped[str]
    at: Mapped[datetime]


class SignOffTable(Base):
    __tablename__ = "sign_offs"
    id: Mapped[str] = mapped_column(primary_key=True)
    visit: Mapped[str] = mapped_column(ForeignKey("visits.id"))
    document: Mapped[bytes] = mapped_column(LargeBinary)
    place: Mapped[int]
