"""The Survey station: lenses at the left, drawer at the foot, slip at the right; and its states."""

from __future__ import annotations

from itertools import zip_longest
from pathlib import Path

from PySide6.QtCore import QPoint, Qt, Signal
from PySide6.QtGui import QGuiApplication, QResizeEvent
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from swept_shelf.core.belongings.corrections import ITS, NOT_ITS
from swept_shelf.core.documents.comparison import Comparison
from swept_shelf.core.documents.errors import Refused, printable
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Application, Survey
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.reports import UNMISSED, why_full
from swept_shelf.core.survey.conditions import Conditions, Entry, read_conditions
from swept_shelf.core.survey.places import look_into
from swept_shelf.core.survey.whose import Answer, whose_is
from swept_shelf.core.tree.index import Index
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.dragging import drag_lines
from swept_shelf.desk.parts.labels import Elided, button
from swept_shelf.desk.parts.legend import Legend
from swept_shelf.desk.parts.rows import WholeRows
from swept_shelf.desk.parts.segments import Segments
from swept_shelf.desk.session import Session
from swept_shelf.desk.settings import Settings
from swept_shelf.desk.survey.belongings_page import WATCHED, BelongingsPage
from swept_shelf.desk.survey.condition_bar import ConditionBar, entries_of
from swept_shelf.desk.survey.drawers import Drawers
from swept_shelf.desk.survey.first_page import FirstPage
from swept_shelf.desk.survey.list_lens import SYSTEM, ListLens
from swept_shelf.desk.survey.looking_band import LookingBand
from swept_shelf.desk.survey.marks import came_since
from swept_shelf.desk.survey.note_page import NotePage
from swept_shelf.desk.survey.nothing_found import NothingFound
from swept_shelf.desk.survey.places_lens import PlacesLens
from swept_shelf.desk.survey.shelf_layout import ShelfRow, shelves_of
from swept_shelf.desk.survey.shelves import Shelves
from swept_shelf.desk.survey.slip import Slip
from swept_shelf.desk.survey.unlock import UnlockLine
from swept_shelf.desk.survey.why_line import WhyLine
from swept_shelf.desk.theme import theme

LENSES = ("Shelves", "List", "Places")
_ROOM_FOR_WHY = 660  # pixels at 100 %: in a lower window the sentence is one line
_DOUBTS = 2  # lines above the lenses: the first things that went wrong; all of them in the tool tip
_EXPORTS = {
    "csv": ("applications", ".csv", "Comma-separated values"),
    "json": ("survey", ".json", "Survey"),
    "cyclonedx": ("inventory", ".cdx.json", "CycloneDX"),
}
FIND_TIP = (
    "Words, conditions like larger=200MB unused=1y, or a path: whose is it? "
    "Enter on a word that nothing here is called by looks whether anything of it is left"
)


class SurveyStation(QWidget):
    """`hands`: where keys for what is in hand count; `menu_wanted`: the menu of what is in hand, at a place of the screen."""

    menu_wanted = Signal(QPoint)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._index: Index | None = None
        self._found: list[Entry] = []
        self._conditions: Conditions | None = None
        self._wrong = ""
        self._stands: list[ShelfRow] = []
        self._stands_for: tuple[Survey | None, Comparison | None] = None, None
        self._unmissed: tuple[Survey, list[Application]] | None = None
        self.setAccessibleName(spoken("Survey"))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 16, 24, 0)
        row.setSpacing(16)
        left = QVBoxLayout()
        left.setSpacing(8)
        left.setContentsMargins(0, 0, 0, 0)
        self._settings = Settings()
        self._placed = ""  # whose place was gone to last
        self.why = WhyLine()
        left.addWidget(self.why)
        self.band = LookingBand()
        left.addWidget(self.band)
        self.tools = self._tools()
        left.addWidget(self.tools)
        self.states = QStackedWidget()
        self.states.addWidget(self._lenses())
        self.first = FirstPage()
        self.states.addWidget(self.first)
        self.page = BelongingsPage(session.shop.machine)
        self.states.addWidget(self.page)
        self.nothing = NothingFound()
        self.states.addWidget(self.nothing)
        left.addWidget(self.states, 1)
        self.drawers = Drawers(self._settings)
        self.drawer, self.place = self.drawers.drawer, self.drawers.place
        left.addWidget(self.drawers)
        row.addLayout(left, 1)
        self.slip = Slip()
        right = QVBoxLayout()
        right.setContentsMargins(0, 0, 0, 24)
        right.addWidget(self.slip)
        row.addLayout(right)
        self.hands: tuple[QWidget, ...] = (self.lens_pages, self.drawers)
        self._connect()
        self._show_all()

    def _tools(self) -> QWidget:
        row = QWidget()
        tools = QHBoxLayout(row)
        tools.setContentsMargins(24, 0, 0, 0)
        tools.setSpacing(10)
        self.lens = Segments(LENSES)
        self.find_field = QLineEdit()
        self.find_field.setPlaceholderText(spoken("find…"))
        self.find_field.setToolTip(spoken(FIND_TIP))
        self.find_field.setAccessibleName(spoken("Find an application, path or person"))
        self.find_field.setFont(theme().font("small"))
        self.find_field.setMaximumWidth(theme().px(230))
        self.find_field.setMinimumWidth(84)
        self.find_field.setClearButtonEnabled(True)
        self.survey_button = button("Survey again")
        self.survey_button.setMinimumHeight(theme().px(26))
        self.survey_button.setProperty("slim", True)
        tools.addWidget(self.lens)
        tools.addWidget(self.find_field, 1)
        self.legend = Legend()
        tools.addWidget(self.legend, 4)
        tools.addStretch()
        tools.addWidget(self.survey_button)
        return row

    def _lenses(self) -> QWidget:
        page = QWidget()
        outer = QVBoxLayout(page)
        outer.setContentsMargins(16, 0, 0, 0)
        outer.setSpacing(4)
        self.evidence = Elided("", "small", second=True)
        self.doubts = [Elided("", "small", loud=True) for _ in range(_DOUBTS)]
        for line in (self.evidence, *self.doubts):
            line.setContentsMargins(8, 0, 0, 0)
            outer.addWidget(line)
        self.unlock = UnlockLine()
        outer.addWidget(self.unlock)
        self.shelves, self.list, self.places = Shelves(), ListLens(), PlacesLens()
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        holder = QWidget()
        inner = QVBoxLayout(holder)
        inner.setContentsMargins(8, 0, 0, 0)
        inner.addWidget(self.shelves)
        area.setWidget(holder)
        self._area = area
        self.lens_pages = QStackedWidget()
        self.lens_pages.addWidget(area)
        self.lens_pages.addWidget(self._list_page())
        self.lens_pages.addWidget(self.places)
        outer.addWidget(self.lens_pages, 1)
        return page

    def _list_page(self) -> QWidget:
        page = QWidget()
        column = QVBoxLayout(page)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.bar = ConditionBar(self._settings)
        self.list.take_columns(self.bar.columns)
        column.addWidget(self.bar)
        column.addWidget(WholeRows(self.list), 1)
        return page

    def _connect(self) -> None:
        s = self._session
        for signal in (s.surveyed_changed, s.looking_changed):
            signal.connect(self._show_all)
        s.progressed.connect(self._show_progress)
        self.band.stop_wanted.connect(s.looking.cancel)
        self.band.look_wanted.connect(s.looking.take_survey)
        self.unlock.wanted.connect(s.looking.unlock)
        s.order_changed.connect(self._show_order)
        s.selection_changed.connect(self._show_selection)
        for lens in (self.shelves, self.list, self.places.steps):
            lens.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            lens.customContextMenuRequested.connect(lambda at, lens=lens: self._want_menu(lens, at))
        self.shelves.selected.connect(s.select)
        self.shelves.dragged.connect(lambda lines: self._drag(self.shelves, lines))
        self.list.dragged.connect(lambda lines: self._drag(self.list, lines))
        self.slip.lines_dropped.connect(s.ordering.add)
        self.shelves.toggled.connect(lambda lines: s.ordering.set_verdicts(lines, Verdict.REMOVE))
        self.list.selected.connect(s.select)
        self.list.toggled.connect(lambda lines: s.ordering.set_verdicts(lines, Verdict.REMOVE))
        self.list.hand_changed.connect(self._show_bar)
        for lens in (self.list, self.shelves):
            lens.hand_changed.connect(self._show_hand)
        self.places.steps.several_taken.connect(self.shelves.take_several)
        self.bar.added.connect(lambda word: self.find_field.setText(f"{self._words()} {word}".strip()))
        self.bar.line_wanted.connect(self.find_field.setText)
        self.bar.shown_otherwise.connect(self._show_list)
        self.bar.copy_wanted.connect(lambda: QGuiApplication.clipboard().setText(self.list.copied()))
        self.bar.export_wanted.connect(self._export)
        self.lens.chosen.connect(self.take_lens)
        self.places.path_taken.connect(self._take_path)
        self.places.line_toggled.connect(lambda line: s.ordering.set_verdict(line, Verdict.REMOVE))
        self.place.verdict_wanted.connect(lambda line: s.ordering.set_verdict(line, Verdict.REMOVE))
        self.place.shown_wanted.connect(self._show_application)
        self.why.taken.connect(self._take_part)
        self.find_field.returnPressed.connect(self._find_path)
        self.nothing.trace_wanted.connect(self._find_path)
        self.nothing.clear_wanted.connect(self.find_field.clear)
        self.find_field.textChanged.connect(lambda _: self._show_all())
        self.survey_button.clicked.connect(s.looking.take_survey)
        self.first.look_wanted.connect(s.looking.take_survey)
        self.drawer.verdict_wanted.connect(lambda verdict: s.ordering.set_verdict(s.selected, verdict))
        self.drawer.tick_wanted.connect(s.ordering.set_tick)
        self.drawer.page_wanted.connect(lambda: self._turn_page(True))
        self.page.closed.connect(lambda: self._turn_page(False))
        self.page.tick_wanted.connect(s.ordering.set_tick)
        self.page.watch_wanted.connect(lambda: s.looking.watch(WATCHED))
        s.watched.connect(self.page.show_watched)
        self.page.not_its.connect(lambda path: s.looking.tell(NOT_ITS, s.selected, path))
        self.place.told.connect(lambda path: s.looking.tell(ITS, s.selected, path))
        self.slip.line_chosen.connect(s.select)
        self.slip.line_taken_off.connect(lambda line: s.ordering.set_verdict(line, ""))
        self.slip.line_moved.connect(self._move_line)
        self.slip.note_wanted.connect(self.note)
        self.slip.rehearse_wanted.connect(lambda: s.station_wanted.emit("Order"))
        self.slip.carry_wanted.connect(lambda: s.station_wanted.emit("Order"))

    def _want_menu(self, lens: QWidget, at: QPoint) -> None:
        """By the right button, at the pointer; by the menu key, at what is in hand."""
        by_key = not QGuiApplication.mouseButtons() and not lens.underMouse()
        hand = self.shelves.box_of(self._session.selected) if lens is self.shelves else None
        if by_key and hand is not None:
            at = hand.center().toPoint()
        self.menu_wanted.emit(lens.mapToGlobal(at))

    def _move_line(self, line: str, by: int) -> None:
        self.slip.follow(line)
        self._session.ordering.move(line, by)

    def note(self, line: str) -> None:
        """Ask for the note of a line that is on the order."""
        s, survey = self._session, self._session.looking.in_view
        entry = survey.find(line) if survey is not None else None
        if entry is None or not s.ordering.verdict(line):
            return
        page = NotePage(entry.name, s.ordering.choice.notes.get(line, ""), self)
        page.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        page.noted.connect(lambda text: s.ordering.set_note(line, text))
        page.open()

    def _drag(self, lens: QWidget, lines: list[str]) -> None:
        survey = self._session.looking.in_view
        names = [e.name for line in lines if survey is not None and (e := survey.find(line)) is not None]
        if names:
            drag_lines(lens, lines, names[0] if len(names) == 1 else plural(len(names), "application"))

    def _take_part(self, leads: str) -> None:
        """Go to what a part of the sentence speaks of."""
        kind, _, rest = leads.partition(":")
        survey = self._session.survey
        if survey is None:
            return
        store = next((x for x in survey.shared_stores if kind == "stores" or x.id == rest), None)
        if kind == "where":
            self.find_field.setText(rest)
            self.take_lens("List")
            self.list.setFocus()  # Ctrl+A and Space: all of it goes
        elif store is not None:
            self.whose(
                max(survey.shared_stores, key=lambda x: x.bytes).path if kind == "stores" else store.path
            )
        elif survey.find(rest) is not None:
            self._show_application(rest)

    def _show_why(self) -> None:
        s, survey = self._session, self._session.survey
        on = (
            survey is not None and s.looking.progress is None and self.states.currentWidget() is not self.page
        )
        self.why.setVisible(on)
        if survey is not None and on:
            if self._unmissed is None or self._unmissed[0] is not survey:
                found = read_conditions(UNMISSED, s.shop.machine.now()).matching(survey)
                self._unmissed = survey, [e for e in found if isinstance(e, Application)]
            parts = why_full(survey, self._unmissed[1], s.looking.since)
            self.why.show_parts(parts, self.height() < theme().px(_ROOM_FOR_WHY))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._fit_drawer()
        self._show_why()

    def _fit_drawer(self) -> None:
        self.drawers.fit(self.height(), self._session.entry is not None)

    def _turn_page(self, on: bool) -> None:
        """All belongings of the application in hand on a page of their own, or back to the lens."""
        if on and self._session.entry is None:
            return
        self.states.setCurrentIndex(2 if on else 0)
        self._show_all()
        (self.page.table if on else self.lens_in_hand).setFocus()

    def take_lens(self, name: str) -> None:
        if not self.lens.buttons[name].isEnabled():
            return
        hand = self.hand
        self.lens.take(name)
        self.lens_pages.setCurrentIndex(LENSES.index(name))
        in_places = name == "Places"
        self.legend.setVisible(name == "Shelves")
        if (survey := self._session.looking.in_view) is not None:
            self._show_found(survey)
        if name == "List":
            self._show_list()
        (self.list if name == "List" else self.shelves).take_several(hand)
        self.drawers.setCurrentIndex(int(in_places))
        self._fit_drawer()
        if in_places:
            if len(hand) < 2:
                self._go_to_its_place()
            self._show_place(self.places.in_hand)
            self._show_hand()

    @property
    def hand(self) -> list[str]:
        """Lines in hand together, whatever shows them; one alone is what is selected."""
        found = self.list.hand() if self.lens_in_hand is self.list else self.shelves.hand()
        return [line for line in found if not line.startswith((SYSTEM, "group:"))]

    @property
    def lens_name(self) -> str:
        return LENSES[self.lens_pages.currentIndex()]

    @property
    def lens_in_hand(self) -> QWidget:
        return (self.shelves, self.list, self.places.steps)[self.lens_pages.currentIndex()]

    def _take_path(self, path: str) -> None:
        """Whose a path is comes in hand with it, for every lens."""
        s = self._session
        answer = self._show_place(path)
        if answer is not None and s.survey is not None and s.survey.find(answer.owner) is not None:
            s.select(answer.owner)

    def _go_to_its_place(self) -> None:
        """What came in hand elsewhere is shown where most of it lies."""
        s = self._session
        if s.entry is None or s.selected == self._placed:
            return
        self._placed = s.selected
        its = [b for b in s.entry.belongings if b.is_path and b.certain]
        if its:
            self.places.go_to(max(its, key=lambda b: b.bytes).path)

    def whose(self, path: str) -> None:
        """Answer whose a path is: in Places, with the path in hand where the survey saw it."""
        self.take_lens("Places")
        if not self.places.go_to(path):
            self._show_place(path)

    def _find_path(self) -> None:
        """Enter: whose a path is; a plain word that no application here is called by is looked for everywhere; else the largest
        of what is found comes in hand."""
        s, text = self._session, self.find_field.text().strip()
        if text.startswith("/"):
            self.whose(text)
        elif text and "=" not in text and s.survey is not None and not self._matching(s.survey):
            s.station_wanted.emit("Clearance")
            s.proving.look_for(text)
        elif text and self._found:
            s.select(max(self._found, key=lambda e: e.bytes.total).id)
            self.lens_in_hand.setFocus()

    def _show_application(self, line: str) -> None:
        self._session.select(line)
        self.take_lens("Shelves")

    def _show_place(self, path: str) -> Answer | None:
        s = self._session
        if s.survey is None or s.index is None or self.lens_pages.currentIndex() != LENSES.index("Places"):
            return None
        answer = whose_is(s.survey, s.index, s.shop.machine, path) if path else None
        row = s.index.row(path) if path else None
        inside = (
            list(look_into(s.index, path).parts[:4])
            if row is not None and row.identity.type == "folder"
            else []
        )
        self.place.show_answer(answer, inside, s.survey, frozenset(s.ordering.verdicts), s.selected)
        return answer

    # -- showing --------------------------------------------------------------------------------------------

    def _show_all(self) -> None:
        s, survey = self._session, self._session.looking.in_view
        ready, whole = survey is not None, s.survey is not None
        on_page = ready and self.states.currentWidget() is self.page
        first = ready and self.states.currentIndex() == 1 and self.isVisible()
        found = self._found = self._matching(survey) if survey is not None else []
        self.states.setCurrentIndex(2 if on_page else 0 if ready else 1)
        if first and not self.find_field.hasFocus():
            self.lens_in_hand.setFocus()
        self.drawers.setVisible(ready and not on_page)
        if ready and survey is not None and not on_page:
            self._show_found(survey)
        self.drawer.shown_only = self.page.shown_only = bool(s.past)
        self.survey_button.setVisible(whole and s.looking.progress is None and not s.past)
        self.lens.allow("Places", s.index is not None)
        self._show_why()
        self._show_progress()
        self.tools.setVisible(ready)
        if s.looking.progress is not None:
            self.first.show_nothing()
        elif s.opening:
            self.first.show_opening()
        elif s.looking.problem:
            self.first.show_failed(s.looking.problem)
        elif survey is None:
            self.first.show_ahead(s.looking.ahead)
        if survey is not None:
            self._doubts(survey)
            self.unlock.show_survey(survey, s.looking.may_unlock)
            looked_for = frozenset(e.id for e in found) if self._conditions else None
            known, since = self._stands_for
            if survey is not known or s.looking.since is not since:
                self._stands_for = survey, s.looking.since
                self._stands = shelves_of(survey, survey.surveyed_at, came_since(s.looking.since))
            self.shelves.show_rows(self._stands, looked_for)
            if whole and s.index is not None and s.index is not self._index:
                self._index = s.index
                self.places.show_survey(survey, s.index)
        self._show_order()

    def _show_progress(self) -> None:
        looking = self._session.looking
        self.band.show_progress(looking.progress, looking.in_view)

    def _show_found(self, survey: Survey) -> None:
        """The lens, or in its place that nothing was found."""
        in_places = self.lens_pages.currentIndex() == LENSES.index("Places")
        nothing = not self._found and self._conditions is not None and not in_places
        self.states.setCurrentIndex(3 if nothing else 0)
        self.drawers.setVisible(not nothing)
        if nothing:
            self.nothing.show_words(self._words(), survey)

    def _doubts(self, survey: Survey) -> None:
        n, first = len(survey.not_read), survey.not_read[0] if survey.not_read else None
        said = [self._session.looking.problem] if self._session.looking.problem else []
        said += [self._session.looking.told] if self._session.looking.told else []
        self.evidence.set(f"Little evidence of use: {'; '.join(survey.evidence.little)}")
        self.evidence.setVisible(bool(survey.evidence.little))
        if survey.in_the_way:
            o, more = survey.in_the_way[0], len(survey.in_the_way) - 1
            said.append(f"In the way: {o.path}: {o.text}" + (f" (and {more} more)" if more else ""))
        if first:
            said.append(f"{plural(n, 'place')} could not be read: {first.path}: {first.reason}")
        lines = [f"{o.path}: {o.text}" for o in survey.in_the_way] + [
            f"{x.path}: {x.reason}" for x in survey.not_read[:40]
        ]
        whole = printable("\n".join([*said, "", *lines]))
        if len(said) > _DOUBTS:
            said[_DOUBTS - 1] = f"{plural(len(said) - _DOUBTS, 'more line')} · {said[_DOUBTS - 1]}"
        for line, text in zip_longest(self.doubts, said[:_DOUBTS]):
            line.set(text or "")
            line.setToolTip(spoken(whole))
            line.setVisible(text is not None)

    def _words(self) -> str:
        """The filter line; a path there is a question of its own."""
        text = self.find_field.text().strip()
        return "" if text.startswith("/") else text

    def _matching(self, survey: Survey) -> list[Entry]:
        """What the filter line leaves; everything where it is empty or not understood."""
        self._conditions, self._wrong = None, ""
        try:
            if survey.so_far and "=" in self._words():
                raise Refused("Words only, until the survey is whole")
            if self._words():
                self._conditions = read_conditions(self._words(), self._session.shop.machine.now())
        except Refused as error:
            self._wrong = str(error)
        self.find_field.setToolTip(spoken(self._wrong or FIND_TIP))
        return (
            self._conditions.matching(survey)
            if self._conditions
            else [*survey.applications, *survey.left_behind]
        )

    def _show_list(self) -> None:
        s, survey = self._session, self._session.looking.in_view
        if survey is None or self.lens_pages.currentIndex() != LENSES.index("List"):
            return
        self.list.take_columns(self.bar.columns)
        sizes = s.index.package_bytes() if self.bar.with_system and s.index else None
        self.list.show_survey(survey, s.ordering.verdicts, self._found, self.bar.group, sizes)
        self._show_bar()

    def _show_bar(self) -> None:
        s, survey = self._session, self._session.looking.in_view
        if survey is None:
            return
        sizes = s.index.package_bytes() if self.bar.with_system and s.index else {}
        self.bar.show_line(
            self._words(),
            self._conditions,
            self._wrong,
            survey,
            self.list.entries,
            entries_of(survey, self.list.hand()),
            sizes,
        )

    def _show_hand(self) -> None:
        if self.lens_in_hand is self.places.steps:
            self.places.show_hand(frozenset(self.hand))

    def _export(self, form: str) -> None:
        s = self._session
        if s.survey is None:
            return
        what, ending, kind = _EXPORTS[form]
        start = str(Path.home() / f"{s.survey.machine.name} {what}{ending}")
        path, _ = QFileDialog.getSaveFileName(
            self, spoken("Write the inventory"), start, f"{kind} (*{ending})"
        )
        if path:
            s.looking.write_inventory(path, form, self.list.entries)

    def _show_order(self) -> None:
        s = self._session
        verdicts = s.ordering.verdicts
        if s.past:
            self.slip.show_past(s.past, s.carrying.run.order if s.carrying.run else None, s.survey)
        else:
            self.slip.show_order(s.ordering.order, s.looking.in_view, s.ordering.choice.verdicts)
        self.shelves.show_state(s.selected, verdicts)
        self._show_list()
        self.places.show_ordered(frozenset(verdicts))
        self._show_place(self.places.in_hand)
        self._show_selection()

    def _show_selection(self) -> None:
        s = self._session
        line = s.ordering.order.line(s.selected) if s.ordering.order else None
        ticks = frozenset(line.ticks) if line else None
        self.drawer.show_entry(
            s.entry, s.looking.in_view, ticks, s.ordering.verdict(s.selected), s.shop.machine.now()
        )
        self._fit_drawer()
        if self.states.currentWidget() is self.page:
            self.page.show_entry(s.entry, s.looking.in_view, ticks, s.ordering.verdict(s.selected))
        self.shelves.show_state(s.selected, s.ordering.verdicts)
        self.list.show_selected(s.selected)
        self._show_hand()
        if (rect := self.shelves.box_of(s.selected)) is not None:
            self._area.ensureVisible(round(rect.center().x()), round(rect.center().y()), 50, 60)
