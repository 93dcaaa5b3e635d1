"""The Carry out station: a run sheet that fills as it happens, readable afterwards as the log."""

from __future__ import annotations

from itertools import groupby

from PySide6.QtWidgets import QHBoxLayout

from swept_shelf.core.documents.run import Record, reasons
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.terms import Went
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, rule
from swept_shelf.desk.parts.rows import Cell, Row, RowTable, WholeRows
from swept_shelf.desk.parts.volume_bar import VolumeBar
from swept_shelf.desk.session import RunState, Session
from swept_shelf.desk.stations.line_bar import LineBar
from swept_shelf.desk.stations.operation_rows import home_words
from swept_shelf.desk.stations.sheet import LEFT, Sheet
from swept_shelf.rights.asking import ASKED

_STATE_WORDS = {
    Went.WAITS: Went.WAITS,
    Went.NOW: Went.NOW,
    Went.DONE: Went.DONE,
    Went.SKIPPED: Went.SKIPPED,
    Went.PUT_BACK: "put back",
    Went.STAYS: "on the shelf",
    Went.LEFT: Went.LEFT,
}


class CarryStation(Sheet):
    def __init__(self, session: Session) -> None:
        super().__init__(session, "Carry out", "What was skipped, and the volumes")
        self.stop_button, self.finish_button, self.back_button = (
            button("Stop after this one"),
            button("Finish it", filled=True),
            button("Put it back"),
        )
        self.stop_button.clicked.connect(session.carrying.stop_after_this)
        self.finish_button.clicked.connect(session.carrying.again)
        self.back_button.clicked.connect(session.shelf.resume)
        for b in (self.stop_button, self.back_button, self.finish_button):
            self.head.addWidget(b)
        self.left.addLayout(self.head)
        self._problem = label("", loud=True, wrap=True)
        self._problem.setContentsMargins(LEFT, 0, 0, 0)
        self.left.addWidget(self._problem)
        self.bar = LineBar()
        bar_row = QHBoxLayout()
        bar_row.setContentsMargins(LEFT, 0, 0, 0)
        bar_row.addWidget(self.bar)
        self.left.addLayout(bar_row)
        self.table = RowTable(
            "Run sheet",
            (("State", False), ("Took", True), ("What", False), ("Where", False), ("Bytes", True)),
            (90, 58, 232, 0, 80),
            height=23,
            drop=(1, 4),
        )
        self.left.addWidget(WholeRows(self.table), 1)
        self.again_button = button("Try the skipped ones again")
        self.again_button.clicked.connect(session.carrying.again)
        self.start_button = button("Finish it at the next start")
        self.start_button.clicked.connect(lambda: session.carrying.at_start(not session.carrying.planned))
        self._closing = label(
            "Closing this window does not stop the work. Everything done so far can be put back.",
            "small",
            second=True,
            wrap=True,
        )
        self.proof_button = button("See what still points at it", filled=True)
        self.proof_button.clicked.connect(lambda: session.station_wanted.emit("Clearance"))
        self.side.foot.addWidget(self.again_button)
        self.side.foot.addWidget(self.start_button)
        self.side.foot.addWidget(self.proof_button)
        self.side.foot.addWidget(self._closing)
        session.run_changed.connect(self._show)
        session.ledger_changed.connect(self._show_side)
        self._show()

    def _show(self) -> None:
        s = self._session
        records, state = s.carrying.records, s.carrying.state
        ended = sum(r.state not in (Went.WAITS, Went.NOW, Went.LEFT) for r in records)
        done = sum(r.bytes for r in records if r.state == Went.DONE and r.what.startswith(("To", "Remove")))
        whole = sum(r.bytes for r in records if r.what.startswith(("To", "Remove")))
        working, cut_off = state == RunState.WORKING, state == RunState.INTERRUPTED
        begun, problem = s.carrying.begun, "" if working else s.carrying.problem
        self._head.setText(
            spoken(
                "Nothing is being carried out"
                if s.carrying.run is None
                else f"Order {s.carrying.run.order.id} was cut off"
                if cut_off
                else "Nothing was carried out"
                if problem and not begun
                else f"{ended} of {plural(len(records), 'operation')}"
            )
        )
        said = spoken(problem)
        self._problem.setText(f"{said[:1].upper()}{said[1:]}")
        self._problem.setVisible(bool(problem))
        if s.carrying.run is None:
            self._sub.set("Rehearse an order and carry it out in Order.")
        elif cut_off:
            self._sub.set(f"{ended} of {plural(len(records), 'operation')} were done.")
        elif working and s.carrying.asking and not begun:
            self._sub.set(ASKED)
        else:
            self._sub.set(
                f"{human_bytes(done)} of {human_bytes(whole)}"
                + (" · stops after this one" if s.carrying.stopping else "")
            )
        self.stop_button.setVisible(working)
        self.stop_button.setEnabled(not s.carrying.stopping)
        self.finish_button.setVisible(cut_off)
        self.back_button.setVisible(cut_off)
        self._closing.setVisible(working)
        self.proof_button.setVisible(state == RunState.ENDED and begun)
        skipped = [r for r in records if r.state in (Went.SKIPPED, Went.STAYS, Went.LEFT)]
        stopped = state == RunState.ENDED and any(r.state == Went.WAITS for r in records)
        some_left = (bool(skipped) or stopped) and not any(r.state == Went.PUT_BACK for r in records)
        may_go_on = state == RunState.ENDED and some_left
        self.again_button.setVisible(may_go_on)
        again = (
            "Try again" if not begun else "Go on with the rest" if stopped else "Try the skipped ones again"
        )
        self.again_button.setText(spoken(again))
        self.again_button.setAccessibleName(self.again_button.text())
        self.start_button.setVisible(may_go_on and s.carrying.may_plan)
        self.start_button.setText(
            spoken("Not at the next start" if s.carrying.planned else "Finish it at the next start")
        )
        self.start_button.setAccessibleName(self.start_button.text())
        self.bar.setVisible(bool(records))
        self.table.setVisible(bool(records))
        self._show_lines(records)
        self.table.show_rows(self._rows(records))
        if working and (now := next((r for r in records if r.state == Went.NOW), None)):
            self.table.put_in_hand(f"op{now.number}")
        elif records:
            self.table.put_in_hand(f"op{(skipped[0] if skipped else records[-1 if begun else 0]).number}")
        self._show_side()

    def _show_lines(self, records: list[Record]) -> None:
        if self._session.carrying.run is None:
            return
        lines = []
        for line in self._session.carrying.run.order.lines:
            mine = [r for r in records if r.line == line.id]
            if mine:
                lines.append(
                    (
                        line.name,
                        sum(r.state not in (Went.WAITS, Went.NOW, Went.LEFT) for r in mine),
                        len(mine),
                    )
                )
        self.bar.show_lines(lines)

    def _rows(self, records: list[Record]) -> list[Row]:
        s = self._session
        if s.carrying.run is None:
            return []
        people = {p.name: p.home for p in s.carrying.run.survey.people}
        rows: list[Row] = []
        for line in s.carrying.run.order.lines:
            mine = [r for r in records if r.line == line.id]
            if mine:
                rows.append(Row(line.id, (Cell(), Cell(), Cell(line.name, font="bold")), heading=True))
            for left, records_ in groupby(mine, lambda r: r.note if r.state == Went.LEFT else ""):
                together = list(records_)
                if left:
                    rows += [_left(together), _note(together[0])]
                    continue
                for r in together:
                    rows.append(_record(r, people))
                    if r.note:
                        rows.append(_note(r))
        return rows

    def _show_side(self) -> None:
        s, body = self._session, self.side.clear()
        skipped = reasons(s.carrying.records)
        body.addWidget(
            label(
                "Run sheet"
                if not s.carrying.records
                else f"{plural(len(skipped), 'thing')} skipped"
                if skipped
                else "Nothing skipped so far"
                if s.carrying.state == RunState.WORKING
                else "Nothing skipped",
                "head",
                wrap=True,
            )
        )
        if not s.carrying.records:
            body.addWidget(
                label(
                    "What is carried out is listed here, operation by operation.",
                    "small",
                    second=True,
                    wrap=True,
                )
            )
        for r in skipped[:6]:
            body.addWidget(Elided(r.where, "bold", middle=True))
            body.addWidget(label(r.note, "small", second=True, wrap=True))
        if len(skipped) > 6:
            body.addWidget(label(f"and {len(skipped) - 6} more", "small", second=True))
        body.addWidget(rule())
        body.addWidget(label("Volumes, as measured now", "bold", wrap=True))
        for v in s.standing.now.volumes:
            body.addWidget(VolumeBar(v.mount, v.capacity, v.free, 0))
        held = sum(slot.manifest.get("bytes", 0) for slot in s.shelf.waiting() if slot.waiting)
        originals = sum(o["bytes"] for slot in s.shelf.waiting() for o in slot.manifest.get("originals", ()))
        if held or originals:
            body.addWidget(
                label(
                    f"On the holding shelf: {human_bytes(held)}, and {human_bytes(originals)} of originals.",
                    "small",
                    second=True,
                    wrap=True,
                )
            )
        body.addStretch(1)


def _note(r: Record) -> Row:
    color = "ink2" if r.state == Went.DONE else "rust"
    cells = (Cell(), Cell(), Cell(r.note, color=color, font="small"))
    return Row(f"note{r.number}", cells, heading=True, spread_from=2)


def _left(records: list[Record]) -> Row:
    """What a line left together, for one reason, is one row."""
    what = records[0].what if len(records) == 1 else f"{plural(len(records), 'operation')} of this line"
    tip = "\n".join(f"{r.what}: {r.where}" for r in records[:40])
    cells = (Cell("left", font="bold", color="rust"), Cell(), Cell(what, tip=tip), Cell(), Cell())
    return Row(f"op{records[0].number}", cells)


def _record(r: Record, people: dict[str, str]) -> Row:
    loud = r.state in (Went.SKIPPED, Went.STAYS)
    now = r.state == Went.NOW
    took = f"{r.seconds:.1f} s" if r.state in (Went.DONE, Went.SKIPPED) else ""
    return Row(
        f"op{r.number}",
        (
            Cell(
                _STATE_WORDS[r.state],
                font="bold" if loud or now else "body",
                color="rust" if loud else "ink" if now else "ink2",
            ),
            Cell(took, font="small", color="ink2", right=True),
            Cell(r.what, font="bold" if now else "body"),
            Cell(home_words(r.where, people), font="small", color="ink2", tip=r.where),
            Cell(human_bytes(r.bytes) if r.bytes else "", right=True),
        ),
    )
