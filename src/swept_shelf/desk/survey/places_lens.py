"""The Places lens: where the bytes are, folder by folder; the path above in sight, the largest single files below."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import Refused, printable
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.times import day, from_ns
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.survey.places import Folder, Part, in_words, look_into, owner_name
from swept_shelf.core.tree.index import Index
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.labels import Elided, button, label, rule
from swept_shelf.desk.parts.painted import text_width
from swept_shelf.desk.parts.rows import Cell, Row, RowTable
from swept_shelf.desk.survey.steps import Step, Steps, WhoseLegend, smaller
from swept_shelf.desk.theme import theme

LARGE = 10_000_000


class PlacesLens(QWidget):
    """`path_taken`: a path is in hand; `line_toggled`: put its line on the order or take it off."""

    path_taken = Signal(str)
    line_toggled = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(spoken("Places"))
        self._survey: Survey | None = None
        self._index: Index | None = None
        self._folder: Folder | None = None
        self._skip: list[int] = []
        self._hand: frozenset[str] = frozenset()
        outer = QVBoxLayout(self)
        outer.setContentsMargins(8, 0, 0, 4)
        outer.setSpacing(4)
        self._way = QHBoxLayout()
        self._way.setSpacing(2)
        self._facts = Elided("", "small", second=True)
        way = QHBoxLayout()
        way.setSpacing(12)
        way.addLayout(self._way, 1)
        self._legend = WhoseLegend()
        way.addWidget(self._legend)
        outer.addLayout(way)
        self.steps = Steps()
        outer.addWidget(self.steps, 1)
        outer.addWidget(rule())
        self._large_head = QWidget()
        head = QHBoxLayout(self._large_head)
        head.setContentsMargins(0, 0, 0, 0)
        self._large_sub = Elided("", "small", second=True)
        head.addWidget(label("Largest single files here", "bold"))
        head.addWidget(self._large_sub, 1)
        outer.addWidget(self._large_head)
        self.large = RowTable(
            "Largest single files here",
            (("", True), ("", False), ("", False), ("", False)),
            (84, 0, 150, 200),
            height=22,
            drop=(2, 3),
            least=160,
        )
        self.large.setFixedHeight(round(22 * theme().scale) * 3 + 4)
        outer.addWidget(self.large)
        self.steps.taken.connect(self.path_taken)
        self.steps.opened.connect(self.open)
        self.steps.closed.connect(self.close_folder)
        self.steps.toggled.connect(self.line_toggled)
        self.large.doubleClicked.connect(lambda _: self.go_to(self.large.key()))

    @property
    def folder(self) -> str:
        return self._folder.path if self._folder else ""

    @property
    def in_hand(self) -> str:
        """The path in hand: a step, else the folder."""
        step = self.steps.current
        return step.key if step is not None and step.key else self.folder

    def show_survey(self, survey: Survey, index: Index) -> None:
        self._survey, self._index = survey, index
        here = self.folder
        self._skip = []
        self._look(here if here and index.row(here) else "/", "")

    def show_ordered(self, lines: frozenset[str]) -> None:
        self.steps.show_ordered(lines)

    def show_hand(self, lines: frozenset[str]) -> None:
        """What is in hand, in whatever lens it came there: its part of each step is underlined."""
        self._hand = lines
        self.steps.show_hand(lines)
        if self._folder is not None and self._survey is not None:
            self._show_facts(self._folder, self._survey)

    def open(self, path: str) -> None:
        """Make a step the top bar; the smaller ones together are opened into steps of their own."""
        if self._folder is None:
            return
        if not path:
            self._skip.append(len(self._shown()))
            self._show("")
        else:
            self._skip = []
            self._look(path, "")
        self.path_taken.emit(self.in_hand)

    def close_folder(self) -> None:
        """Back to what was above, with the folder just left in hand."""
        if self._folder is None:
            return
        if self._skip:
            self._skip.pop()
            self._show("")
        elif self._folder.path != "/":
            left = self._folder.path
            self._look(parent(left), left)
        self.path_taken.emit(self.in_hand)

    def go_to(self, path: str) -> bool:
        """Take a path in hand, its folder as the top bar. False where the survey saw nothing there."""
        if self._index is None or not path.startswith("/"):
            return False
        real = path if path == "/" else path.rstrip("/")
        if self._index.row(real) is None:
            return False
        self._skip = []
        self._look(parent(real), real)
        while self._folder and self.steps.current and self.steps.current.key != real and self._rest():
            self._skip.append(len(self._shown()))
            self._show(real)
        self.path_taken.emit(real)
        return True

    def _look(self, path: str, hand: str) -> None:
        assert self._index is not None
        try:
            self._folder = look_into(self._index, path, LARGE, 3)
        except Refused:
            return
        self._show(hand)

    # -- showing --------------------------------------------------------------------------------------------

    def _parts(self) -> list[Part]:
        return list(self._folder.parts[sum(self._skip) :]) if self._folder else []

    def _shown(self) -> list[Part]:
        parts, room = self._parts(), self.steps.rows_that_fit()
        return parts if len(parts) <= room else parts[: room - 1]

    def _rest(self) -> list[Part]:
        return self._parts()[len(self._shown()) :]

    def _show(self, hand: str) -> None:
        folder, survey = self._folder, self._survey
        if folder is None or survey is None:
            return
        steps = [self._step(p, survey) for p in self._shown()]
        if rest := self._rest():
            steps.append(smaller([(p.bytes, p.shares) for p in rest]))
        whole = sum(p.bytes for p in self._parts()) if self._skip else folder.bytes
        name = f"{len(self._parts())} smaller" if self._skip else base(folder.path) or "/"
        self.steps.show_steps(Step(folder.path, name, whole, (), "", False), steps, hand)
        self._show_way(folder, survey)
        self._large_sub.set(
            f"over {human_bytes(LARGE)}" if folder.large else f"none is over {human_bytes(LARGE)}"
        )
        self.large.show_rows(
            [
                Row(
                    f.path,
                    (
                        Cell(human_bytes(f.bytes), right=True),
                        Cell(f.path[len(folder.path.rstrip("/")) + 1 :], tip=f.path),
                        Cell(f"written {day(from_ns(f.mtime_ns))}", font="small", color="ink2"),
                        Cell(owner_name(survey, f.owner), font="small", color="ink2"),
                    ),
                )
                for f in folder.large
            ]
        )

    def _step(self, part: Part, survey: Survey) -> Step:
        largest = part.largest
        line = (
            largest.owner if largest and largest.bytes * 2 > part.bytes and survey.find(largest.owner) else ""
        )
        words = in_words(survey, part) if part.type != "link" else "a link"
        return Step(
            part.path,
            part.name,
            part.bytes,
            part.shares,
            words,
            part.type == "folder" and part.files > 0,
            line,
        )

    def _show_way(self, folder: Folder, survey: Survey) -> None:
        """The path above as buttons, the folder itself last; then what it holds and what its volume says is used."""
        while self._way.count():
            item = self._way.takeAt(0)
            if item is not None and (widget := item.widget()) is not None and widget is not self._facts:
                widget.deleteLater()
        parts = folder.path.strip("/").split("/") if folder.path != "/" else []
        paths = ["/", *("/" + "/".join(parts[: i + 1]) for i in range(len(parts)))]
        shown = paths if len(paths) <= 5 else [paths[0], "", *paths[-3:]]
        for i, path in enumerate(shown):
            if path == "":
                self._way.addWidget(label("…", "small", second=True))
            elif i == len(shown) - 1:
                self._way.addWidget(label(base(path) if path != "/" else "/", "bold"))
            else:
                made = button(
                    printable(base(path) if path != "/" else "/"), plain=True, name=f"Go to {printable(path)}"
                )
                made.setFixedWidth(round(text_width(made.text(), "small_bold")) + theme().px(10))
                made.clicked.connect(lambda _=False, p=path: self.open(p))
                self._way.addWidget(made)
            if i < len(shown) - 1:
                self._way.addWidget(label("› ", "small", second=True))
        self._show_facts(folder, survey)
        self._way.addWidget(self._facts, 1)

    def _show_facts(self, folder: Folder, survey: Survey) -> None:
        volume = volume_of(survey.volumes, folder.path)
        facts = f"  {human_bytes(folder.bytes)} in {plural(folder.files, 'file')} · {human_bytes(volume.used)} used on {volume.mount}"
        if len(self._hand) > 1:
            its = sum(s.bytes for p in folder.parts for s in p.shares if s.owner in self._hand)
            facts = f"  Underlined: {human_bytes(its)} of the {len(self._hand)} in hand ·{facts[1:]}"
        self._facts.set(facts)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._legend.setVisible(self.width() > self._legend.sizeHint().width() + theme().px(250))
        for widget in (self._large_head, self.large):
            widget.setVisible(self.height() > theme().px(300))
        if self._folder is not None:
            self._show(self.in_hand)
