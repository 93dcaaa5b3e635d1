"""The evidence behind one cell of the matrix: where it was looked, each finding with its place, and what to do about it."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from swept_shelf.core.documents.clearance import Cell, ClearanceLine, Finding
from swept_shelf.core.documents.sign_off import Left
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Looked
from swept_shelf.core.documents.times import day
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.fold import Fold
from swept_shelf.desk.parts.labels import Elided, Side, button, label, rule
from swept_shelf.desk.session.proving import Proving, Shown
from swept_shelf.desk.theme import theme

_MOST = 12  # findings of one cell that are shown
_HEADS = {
    Looked.FOUND: "Still pointed at",
    Looked.CLEAR: "Clear",
    Looked.COULD_NOT_LOOK: "Could not look",
    Looked.NOT_PART: "Not part of this line",
}


class Evidence(Side):
    """`take_wanted`: ids of findings; `leave_wanted`: line, finding, why ("" to take the reason back)."""

    take_wanted = Signal(list)
    leave_wanted = Signal(str, object, str)

    def __init__(self) -> None:
        super().__init__("Findings")
        self.reasons: dict[str, QLineEdit] = {}

    def show_nothing(self, text: str) -> None:
        self.clear().addWidget(label(text, "head", wrap=True))
        self.body.addStretch(1)

    def show_cell(self, shown: Shown, line: ClearanceLine, cell: Cell, proving: Proving, busy: bool) -> None:
        body = self.clear()
        body.setSpacing(6)
        self.reasons = {}
        body.addWidget(label(_HEADS[cell.state], "head", wrap=True))
        body.addWidget(
            label(f"{line.name} · {cell.family.replace('_', ' ')}", "small", second=True, wrap=True)
        )
        for text in _looked(shown, cell):
            body.addWidget(label(text, wrap=True))
        if (places := shown.looked_in.get(cell.family)) is not None and cell.state != Looked.NOT_PART:
            rows = [f"{place}   {plural(files, 'file')}" for place, files in places.places.items()]
            body.addWidget(Fold(f"where: {plural(len(rows), 'place')}", rows))
        for finding in cell.findings[:_MOST]:
            self._finding(body, line.id, finding, proving.why_left(line.id, finding), busy)
        if len(cell.findings) > _MOST:
            body.addWidget(
                label(f"and {len(cell.findings) - _MOST} more: the report has them", "small", second=True)
            )
        if line.mentions:
            rows = [x for f in line.mentions for x in (_place(f), f"    {f.text}")]
            heading = plural(len(line.mentions), "file mentions it", "files mention it")
            body.addSpacing(4)
            body.addWidget(Fold(heading, ["Nobody knows what for; it stays.", *rows]))
        body.addStretch(1)

    def _finding(self, body: QVBoxLayout, line: str, f: Finding, left: Left | None, busy: bool) -> None:
        body.addWidget(rule())
        row = QHBoxLayout()
        row.setSpacing(8)
        row.addWidget(Elided(f.path, "bold", middle=True), 1)
        if f.line:
            row.addWidget(label(f"line {f.line}", "small", second=True))
        body.addLayout(row)
        if f.kind != "path":
            body.addWidget(_well(f))
        body.addWidget(label(f"{f.detail[:1].upper()}{f.detail[1:]}.", wrap=True))
        if left is not None:
            who = f" ({left.who}, {day(left.at)})" if left.who else f" ({day(left.at)})"
            body.addWidget(label(f"Left on purpose: {left.why}{who}", "small", second=True, wrap=True))
        else:
            body.addWidget(label(f.to_do, "small", second=True, wrap=True))
        acts = QHBoxLayout()
        acts.setSpacing(8)
        if f.action != "leave":
            take = button("Take it out", name=f"Take out {f.path}")
            take.setProperty("slim", True)
            take.setEnabled(not busy)
            take.clicked.connect(lambda: self.take_wanted.emit([f.id]))
            acts.addWidget(take)
        if left is not None:
            back = button("Not any more", name=f"Take back why {f.path} is left")
            back.setProperty("slim", True)
            back.clicked.connect(lambda: self.leave_wanted.emit(line, f, ""))
            acts.addWidget(back)
        else:
            reason = QLineEdit()
            reason.setPlaceholderText(spoken("or leave it, because…"))
            reason.setAccessibleName(spoken(f"Why {f.path} is left"))
            reason.setFont(theme().font("small"))
            reason.returnPressed.connect(lambda: self.leave_wanted.emit(line, f, reason.text()))
            self.reasons[f.id] = reason
            acts.addWidget(reason, 1)
        if left is not None:
            acts.addStretch(1)
        body.addLayout(acts)


def _place(f: Finding) -> str:
    return f"{f.path}{f', line {f.line}' if f.line else ''}"


def _looked(shown: Shown, cell: Cell) -> list[str]:
    """What was looked at, with which rights; what would help where it could not be."""
    if cell.state == Looked.NOT_PART or not cell.looked_at:
        return []
    if cell.state == Looked.COULD_NOT_LOOK:
        said = [f"{cell.looked_at[:1].upper()}{cell.looked_at[1:]}."]
        return [*said, f"What would help: {cell.helps}."] if cell.helps else said
    whose = "the administrator’s rights" if shown.rights == "administrator" else "a person’s rights"
    return [f"Looked at {cell.looked_at}{f', with {whose}' if shown.rights else ''}."]


def _well(f: Finding) -> QWidget:
    """The line, with those around it."""
    well = QWidget()
    well.setStyleSheet(f"background: {theme().hex('well')};")
    lines = QVBoxLayout(well)
    lines.setContentsMargins(8, 6, 8, 6)
    lines.setSpacing(2)
    for number, text, here in [
        *((f.line - len(f.before) + i, t, False) for i, t in enumerate(f.before)),
        (f.line, f.text, True),
        *((f.line + 1 + i, t, False) for i, t in enumerate(f.after)),
    ]:
        shown = Elided(f"{number}  {text}" if f.line else text, "mono")
        if here:
            shown.setStyleSheet(f"color: {theme().hex('rust')};")
        lines.addWidget(shown)
    return well
