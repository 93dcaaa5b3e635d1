"""What a person can do on the desk, each once: its words, its keys, where it counts. Menus and the page of keys are made of it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import QObject, QPoint, Qt
from PySide6.QtGui import QAction, QGuiApplication, QKeySequence
from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Kind, Verdict
from swept_shelf.core.orders.moving import large, movable
from swept_shelf.core.orders.stopping import to_stop
from swept_shelf.desk.keys_page import KeysPage
from swept_shelf.desk.language import spoken
from swept_shelf.desk.machines_page import MachinesPage
from swept_shelf.desk.names import STATIONS
from swept_shelf.desk.parts.painted import elide
from swept_shelf.desk.survey.marks import MARK_WORDS
from swept_shelf.desk.survey.station import LENSES
from swept_shelf.desk.theme import theme
from swept_shelf.desk.windows import open_desk

if TYPE_CHECKING:
    from swept_shelf.desk.window import Window

GO, HAND, DECIDE, LOOK = "Stations and lenses", "What is in hand", "Decisions", "Looking"
# Keys that belong to what has the keyboard, beside those of acts.
OF_WIDGETS = (
    (HAND, "On the order, or off it", "Space"),
    (HAND, "Its neighbour", "Arrows"),
    (HAND, "Several at once", "Shift+Arrows"),
    (DECIDE, "A line of the slip up or down", "Alt+Up, Alt+Down"),
    (HAND, "All shelves again, from the small ones", "Esc"),
    (LOOK, "A word that nothing here is called by: is anything of it left?", "Enter"),
)
_WORDS = {
    Verdict.REMOVE: ("Remove", "Take off the order"),
    Verdict.CLEAR_CACHE: ("Clear its cache", "Leave its cache"),
    Verdict.STOP_STARTING: ("Stop it starting by itself", "Let it start by itself"),
    Verdict.MOVE_DATA: ("Move its data to another volume…", "Leave its data where it is"),
    Verdict.ASK_OWNER: ("Ask the owner", "Do not ask the owner"),
    Verdict.KEEP: ("Keep, whatever else goes", "No longer kept for certain"),
}
_WIDE = 260  # pixels of a name at the head of a menu


@dataclass(frozen=True, slots=True)
class Act:
    """`said`: its words on the page of keys; a menu has the action's own, for what is in hand."""

    group: str
    said: str
    action: QAction


class Acts(QObject):
    def __init__(self, window: Window) -> None:
        super().__init__(window)
        self._window, self._session = window, window.session
        self.all: list[Act] = []
        survey, ordering = window.survey, self._session.ordering
        for number, station in enumerate(STATIONS, 1):
            self._add(GO, station, f"Alt+{number}", partial(window.go, station))
        for number, lens in enumerate(LENSES, 1):
            self._add(GO, f"Survey by {lens}", f"Ctrl+{number}", partial(self._take_lens, lens))
        self._verdicts = {
            verdict: self._add(
                HAND, _WORDS[verdict][0], key, partial(self._set, verdict), within=survey.hands
            )
            for verdict, key in (
                (Verdict.REMOVE, "R"),
                (Verdict.CLEAR_CACHE, "C"),
                (Verdict.STOP_STARTING, "S"),
                (Verdict.MOVE_DATA, "M"),
                (Verdict.ASK_OWNER, "A"),
                (Verdict.KEEP, "K"),
            )
        }
        self._off = self._add(HAND, "Take off the order", "Del", self._take_off, within=survey.hands)
        self._note = self._add(
            HAND, "A note for its line", "N", lambda: survey.note(self._session.selected), within=survey.hands
        )
        self._page = self._add(HAND, "All that belongs to it", "Alt+B", survey.drawer.page_wanted.emit)
        self._copy = self._add(HAND, "Copy its name", "Ctrl+Shift+C", self._copy_name, within=survey.hands)
        self._undo = self._add(DECIDE, "Undo", "Ctrl+Z", ordering.undo)
        self._redo = self._add(DECIDE, "Redo", "Ctrl+Shift+Z; Ctrl+Y", ordering.redo)
        self._rehearse = self._add(DECIDE, "Rehearse the order", "Ctrl+R", lambda: window.go("Order"))
        for number, which in enumerate(("first", "second", "third", "fourth"), 1):
            self._add(
                DECIDE,
                f"The {which} answer to what is settled next",
                str(number),
                partial(window.order.answer_next, number),
                within=(window.order,),
            )
        self._add(LOOK, "Find an application, path or person", "Ctrl+F", self._find)
        self._survey = self._add(LOOK, "Survey again", "F5", self._session.looking.take_survey)
        for said, keys, more in (
            ("Drawer higher", "Ctrl+Shift+Up", 24),
            ("Drawer lower", "Ctrl+Shift+Down", -24),
        ):
            self._add(LOOK, said, keys, partial(survey.drawers.draw, more))
        self._add(LOOK, "Another computer’s disk…", "Ctrl+O", self.show_machines)
        self._add(LOOK, "This page of keys", "F1", self.show_keys)
        s = self._session
        hands = (survey.list.hand_changed, survey.shelves.hand_changed)
        for signal in (s.selection_changed, s.order_changed, s.surveyed_changed, s.looking_changed, *hands):
            signal.connect(self._show)
        survey.menu_wanted.connect(self.show_menu)
        survey.first.machine_wanted.connect(self.show_machines)
        self._show()

    def _add(
        self, group: str, text: str, keys: str, act: Callable[[], object], within: tuple[QWidget, ...] = ()
    ) -> QAction:
        """`within`: the widgets that must have the keyboard; the whole window where none is named."""
        action = QAction(spoken(text), self)
        action.setShortcuts(QKeySequence.listFromString(keys))
        around = (
            Qt.ShortcutContext.WidgetWithChildrenShortcut if within else Qt.ShortcutContext.WindowShortcut
        )
        action.setShortcutContext(around)
        action.triggered.connect(lambda: act())
        for widget in within or (self._window,):
            widget.addAction(action)
        self.all.append(Act(group, text, action))
        return action

    # -- what is in hand ------------------------------------------------------------------------------------

    @property
    def lines(self) -> list[str]:
        """The lines in hand: several, whichever lens shows them, else one."""
        s, several = self._session, self._window.survey.hand
        if len(several) > 1:
            return several
        return [s.selected] if s.entry is not None else []

    def _set(self, verdict: Verdict) -> None:
        lines, ordering = self.lines, self._session.ordering
        if verdict == Verdict.MOVE_DATA and any(ordering.verdict(line) != verdict for line in lines):
            self._move(lines)
        elif lines:
            ordering.set_verdicts(lines, verdict)

    def _move(self, lines: list[str]) -> None:
        """Asks where to: a folder of the machine, on another volume."""
        machine = self._session.shop.machine
        folder = QFileDialog.getExistingDirectory(self._window, spoken("Move its data into"), machine.root)
        if folder:
            inside = self._session.inside(folder)
            if not machine.live and inside == folder:
                self._session.said.emit(f"{folder} is no folder of this machine.")
            else:
                self._session.ordering.move_data(lines, inside)

    def _take_off(self) -> None:
        for line in self.lines:
            if verdict := self._session.ordering.verdict(line):
                self._session.ordering.set_verdict(line, verdict)

    def _copy_name(self) -> None:
        survey = self._session.looking.in_view
        names = [e.name for line in self.lines if survey and (e := survey.find(line))]
        QGuiApplication.clipboard().setText(printable("\n".join(names)))

    def _take_lens(self, name: str) -> None:
        self._window.go(STATIONS[0])
        self._window.survey.take_lens(name)
        self._window.survey.lens_in_hand.setFocus()

    def _find(self) -> None:
        self._window.go(STATIONS[0])
        self._window.survey.find_field.setFocus()
        self._window.survey.find_field.selectAll()

    def _show(self) -> None:
        """Words and what can be done, for what is in hand now."""
        s, lines = self._session, self.lines
        for verdict, action in self._verdicts.items():
            on = bool(lines) and all(s.ordering.verdict(line) == verdict for line in lines)
            action.setText(spoken(_WORDS[verdict][int(on)]))
            action.setEnabled(bool(lines) and not s.past)
        entry, survey = s.entry, s.survey
        if entry is not None and len(lines) == 1:
            has_cache = any(b.kind == Kind.CACHE and b.ticked for b in entry.belongings)
            self._verdicts[Verdict.CLEAR_CACHE].setEnabled(has_cache and not s.past)
        starts = [any(to_stop(e)) if survey and (e := survey.find(line)) else False for line in lines]
        self._verdicts[Verdict.STOP_STARTING].setEnabled(bool(starts) and all(starts) and not s.past)
        movables = [
            any(map(large, movable(e))) if survey and (e := survey.find(line)) else False for line in lines
        ]
        self._verdicts[Verdict.MOVE_DATA].setEnabled(bool(movables) and all(movables) and not s.past)
        self._off.setEnabled(any(s.ordering.verdict(line) for line in lines))
        self._note.setEnabled(len(lines) == 1 and bool(s.ordering.verdict(lines[0])))
        self._page.setEnabled(s.entry is not None and s.survey is not None)
        self._copy.setEnabled(bool(lines))
        self._undo.setEnabled(s.ordering.can_undo)
        self._redo.setEnabled(s.ordering.can_redo)
        self._rehearse.setEnabled(s.ordering.order is not None)
        self._survey.setEnabled(s.looking.progress is None and not s.past)

    # -- shown ----------------------------------------------------------------------------------------------

    def menu(self) -> QMenu:
        """For what is in hand: the same acts as the keys."""
        s, lines = self._session, self.lines
        menu = QMenu(self._window)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        name = s.entry.name if len(lines) == 1 and s.entry else plural(len(lines), "application")
        head = menu.addAction(
            spoken(elide(printable(name) if lines else "Nothing in hand", "body", theme().px(_WIDE)))
        )
        head.setEnabled(False)
        menu.addActions([*self._verdicts.values()])
        menu.addSeparator()
        menu.addActions([self._note, self._page, self._copy])
        menu.addSeparator()
        menu.addActions([self._undo, self._redo])
        menu.setAccessibleName(
            spoken(f"What can be done with {printable(name)}" if lines else "Nothing in hand")
        )
        return menu

    def show_menu(self, at: QPoint) -> None:
        self.menu().popup(at)

    def show_machines(self) -> None:
        s = self._session
        page = MachinesPage(s.shop.machine.root, self._window)
        page.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        page.chosen.connect(lambda root: open_desk(s, "--root", root))
        page.open()

    def show_keys(self) -> None:
        rows = [
            (a.group, a.said, a.action.shortcut().toString(QKeySequence.SequenceFormat.NativeText))
            for a in self.all
        ]
        KeysPage([*rows, *OF_WIDGETS], MARK_WORDS, self._window).open()
