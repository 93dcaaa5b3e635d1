"""All belongings of the application in hand on a page of their own: by kind and person, each with its proof; the head of what
is in hand; corrections."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QUrl, Signal
from PySide6.QtGui import QDesktopServices
from PySide6.QtWidgets import QHBoxLayout, QPlainTextEdit, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import CouldNotRead, printable, printable_lines
from swept_shelf.core.documents.paths import parent
from swept_shelf.core.documents.sizes import grouped, human_bytes, plural
from swept_shelf.core.documents.survey import Application, Belonging, Survey
from swept_shelf.core.documents.terms import KINDS, By, Verdict
from swept_shelf.core.documents.times import day
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.orders.scope import tickable
from swept_shelf.core.survey.conditions import Entry
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label
from swept_shelf.desk.parts.rows import Cell, Row
from swept_shelf.desk.survey.folded import Folded, Opened, folded
from swept_shelf.desk.survey.tick_table import TickTable
from swept_shelf.desk.theme import theme

_HEAD = 8192  # bytes of a file that are shown
_LINES = 60
WATCHED = 30  # seconds


class BelongingsPage(QWidget):
    """`closed`: back to the lens; `tick_wanted`: path, on; `not_its`: path of a belonging that is another's;
    `watch_wanted`: run the application and see what it writes."""

    closed = Signal()
    tick_wanted = Signal(str, bool)
    not_its = Signal(str)
    watch_wanted = Signal()

    def __init__(self, machine: Machine) -> None:
        super().__init__()
        self.shown_only = False  # an earlier visit: nothing is decided
        self._machine = machine
        self._entry: Entry | None = None
        self.setAccessibleName(spoken("All belongings"))
        outer = QVBoxLayout(self)
        outer.setContentsMargins(24, 0, 0, 16)
        outer.setSpacing(8)
        top = QHBoxLayout()
        top.setSpacing(12)
        self.back = button("Back")
        self.back.setShortcut("Esc")
        self.back.clicked.connect(self.closed.emit)
        self._title, self._sum = label("", "head"), Elided("", "small", second=True)
        top.addWidget(self.back)
        top.addWidget(self._title)
        top.addWidget(self._sum, 1)
        outer.addLayout(top)
        self.table = TickTable(
            "All belongings",
            (
                ("", False),
                ("Place", False),
                ("Size", True),
                ("Files", True),
                ("Written", False),
                ("Proof", False),
            ),
            (118, 0, 76, 58, 96, 230),
            drop=(3, 4, 5),
            least=200,
        )
        self._opened = Opened()
        self._shown: tuple[Entry | None, Survey | None, frozenset[str] | None, str] = None, None, None, ""
        self.table.ticked.connect(self.tick_wanted)
        self.table.opened.connect(self._turn)
        self.table.selectionModel().selectionChanged.connect(lambda *_: self._show_in_hand())
        outer.addWidget(self.table, 1)
        below = QWidget()
        below.setFixedHeight(theme().px(172))
        foot = QHBoxLayout(below)
        foot.setContentsMargins(0, 0, 0, 0)
        foot.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(4)
        self._path = Elided("", "bold", middle=True)
        left.addWidget(self._path)
        self._proofs = [Elided("", "small", second=True, middle=True) for _ in range(5)]
        for line in self._proofs:
            left.addWidget(line)
        left.addStretch(1)
        row = QHBoxLayout()
        self.open_button, self.not_button = button("Open its folder"), button("This is not its")
        self.open_button.clicked.connect(self._open)
        self.not_button.clicked.connect(lambda: self.not_its.emit(self.table.key()))
        self.watch_button = button(f"Run and watch {WATCHED} s")
        self.watch_button.setToolTip(
            spoken(
                "Start it and see which files its own processes write; places that nobody claims are kept as its"
            )
        )
        self.watch_button.clicked.connect(self.watch_wanted.emit)
        row.addWidget(self.open_button)
        row.addWidget(self.not_button)
        row.addWidget(self.watch_button)
        row.addStretch(1)
        left.addLayout(row)
        foot.addLayout(left, 1)
        self.head = QPlainTextEdit()
        self.head.setReadOnly(True)
        self.head.setFont(theme().font("small"))
        self.head.setAccessibleName(spoken("The head of the file in hand"))
        self.head.setTabChangesFocus(True)
        self.head.setStyleSheet(
            f"QPlainTextEdit {{ background: {theme().hex('paper')}; border: 1px solid "
            f"{theme().hex('line')}; padding: 4px; color: {theme().hex('ink')}; }}"
        )
        foot.addWidget(self.head, 1)
        outer.addWidget(below)

    def show_entry(
        self, entry: Entry | None, survey: Survey | None, ticks: frozenset[str] | None, verdict: str
    ) -> None:
        """`ticks`: what the order takes along of it; None where it is not on the order."""
        self._entry, self._shown = entry, (entry, survey, ticks, verdict)
        if entry is None or survey is None:
            self.closed.emit()
            return
        self._title.setText(spoken(printable(entry.name)))
        self.not_button.setVisible(not self.shown_only)
        self.watch_button.setVisible(
            not self.shown_only
            and self._machine.live
            and isinstance(entry, Application)
            and bool(entry.executables)
        )
        ticked = [b for b in entry.belongings if _on(b, entry, ticks, verdict)]
        stays = sum(b.bytes for b in entry.belongings if b.personal)
        self._sum.set(
            f"{plural(len(entry.belongings), 'belonging')} · {human_bytes(sum(b.bytes for b in ticked))} ticked"
            + (f" · {human_bytes(stays)} a person’s own, stays" if stays else "")
        )
        rows: list[Row] = []
        order = sorted(
            entry.belongings,
            key=lambda b: (not b.is_path, not b.certain, KINDS.index(b.kind), b.person, -b.bytes, b.path),
        )
        last = ""
        for shown in folded(order, self._opened.of(entry.id)):
            b = shown.members[0] if isinstance(shown, Folded) else shown
            group = _group(b)
            if group != last:
                members = [o for o in order if _group(o) == group]
                total = human_bytes(sum(o.bytes for o in members)) if b.is_path else str(len(members))
                rows.append(
                    Row(
                        f"group {group}",
                        (Cell(f"{group}   {total}", font="bold"),),
                        heading=True,
                        spread_from=0,
                    )
                )
                last = group
            rows.append(
                _folder(shown, entry, ticks, verdict)
                if isinstance(shown, Folded)
                else _row(b, entry, survey, ticks, verdict)
            )
        self.table.show_rows(rows)
        if not self.table.key() and len(rows) > 1:
            self.table.put_in_hand(rows[1].key)
        self._show_in_hand()

    def _turn(self, key: str) -> None:
        if self._opened.turn(key):
            self.show_entry(*self._shown)

    def show_watched(self, text: str, working: bool) -> None:
        """What was seen, in the place of a file's head."""
        self.watch_button.setEnabled(not working)
        self.head.setPlainText(printable_lines(text))

    @property
    def in_hand(self) -> Belonging | None:
        return (
            next((b for b in self._entry.belongings if _key(b) == self.table.key()), None)
            if self._entry
            else None
        )

    def _show_in_hand(self) -> None:
        b = self.in_hand
        self.open_button.setEnabled(b is not None and (b.is_path or b.object in ("folder", "file")))
        self.not_button.setEnabled(
            b is not None and b.is_path and b.proof != By.REGISTERED and isinstance(self._entry, Application)
        )
        self._path.set(b.path if b else "")
        said = (
            [
                b.reason,
                *(
                    f"{p.proof}: {p.path}{f', line {p.line}' if p.line else ''} {p.text}".rstrip()
                    for p in b.evidence
                ),
            ]
            if b
            else []
        )
        said += [f"without {path}" for path in b.except_] if b else []
        for i, line in enumerate(self._proofs):
            line.set(said[i] if i < len(said) else "")
        self.head.setPlainText(_head(self._machine, b) if b else "")

    def _open(self) -> None:
        b = self.in_hand
        if b is not None:
            folder = b.path if b.identity and b.identity.type == "folder" else parent(b.path)
            QDesktopServices.openUrl(QUrl.fromLocalFile(str(Path(self._machine.root, folder.lstrip("/")))))


def _key(b: Belonging) -> str:
    return b.path if b.is_path else f"{b.object} {b.path} {b.person}"


def _group(b: Belonging) -> str:
    """The heading it stands under."""
    if not b.is_path:
        return "named only, never part of an order"
    return f"{b.kind} · {b.person}" if b.certain else f"{b.kind} · {b.person} · named, counts in no sum"


def _on(b: Belonging, entry: Entry, ticks: frozenset[str] | None, verdict: str) -> bool:
    with_package = b.is_path and not tickable(entry, b)
    return b.ticked if ticks is None else (b.path in ticks or (with_package and verdict == Verdict.REMOVE))


def _folder(f: Folded, entry: Entry, ticks: frozenset[str] | None, verdict: str) -> Row:
    """Single files below one folder."""
    on = all(_on(b, entry, ticks, verdict) for b in f.members)
    written = max((b.newest_write for b in f.members if b.newest_write), default=None)
    return Row(
        f.key,
        (
            Cell(f.members[0].person, font="small", color="ink2", check=on, swatch=f.kind),
            Cell(f.called, tip="\n".join(b.path for b in f.members[:_LINES])),
            Cell(human_bytes(f.bytes), right=True, tip=f"{grouped(f.bytes)} bytes"),
            Cell(str(len(f.members)), right=True, color="ink2"),
            Cell(day(written), font="small", color="ink2"),
            Cell(f"{f.members[0].proof}: {f.reason}", font="small", color="ink2", tip=f.how),
        ),
    )


def _row(b: Belonging, entry: Entry, survey: Survey, ticks: frozenset[str] | None, verdict: str) -> Row:
    on = _on(b, entry, ticks, verdict)
    home = next((p.home for p in survey.people if b.path.startswith(p.home + "/")), "")
    shown = "~" + b.path[len(home) :] if home else b.path
    names = [e.name for i in b.shared_with if (e := survey.find(i))]
    reason = f"also used by {', '.join(names)}" if names else b.reason
    files = str(b.files) if b.files > 1 else ""
    return Row(
        _key(b),
        (
            Cell(
                b.person if b.is_path else b.object,
                font="small",
                color="ink2",
                check=on if b.is_path else None,
                swatch=b.kind if b.is_path else "",
            ),
            Cell(shown, tip=b.path, path=True),
            Cell(human_bytes(b.bytes) if b.is_path else "", right=True, tip=f"{grouped(b.bytes)} bytes"),
            Cell(files, right=True, color="ink2"),
            Cell(day(b.newest_write), font="small", color="ink2"),
            Cell(
                f"{b.proof}: {reason}",
                font="small",
                color="rust" if b.personal or names else "ink2",
                tip=reason,
            ),
        ),
        extra=None if ticks is None or not tickable(entry, b) else on,
    )


def _head(machine: Machine, b: Belonging) -> str:
    """The first lines of a file, or what lies directly in a folder; why not where it may not be read."""
    try:
        if b.identity is None:
            return ""
        if b.identity.type == "folder":
            names = machine.listdir(b.path)
            more = f"\n… and {len(names) - _LINES} more" if len(names) > _LINES else ""
            return printable_lines("\n".join(names[:_LINES])) + more
        if b.identity.type == "link":
            return f"a link to {printable(machine.readlink(b.path) or '')}"
        data = machine.read_bytes(b.path, _HEAD)
    except CouldNotRead as error:
        return f"{error.reason}"
    if b"\0" in data:
        return f"not a text: it begins with {data[:16].hex(' ')}"
    return printable_lines("\n".join(data.decode("utf-8", "replace").splitlines()[:_LINES]))
