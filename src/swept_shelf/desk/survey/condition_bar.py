"""The line above the list: what it is narrowed to, how it is shown, and how much is left."""

from __future__ import annotations

import shlex
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QMenu, QPushButton, QVBoxLayout, QWidget

from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.sizes import human_bytes, plural
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.survey.conditions import Conditions
from swept_shelf.desk.language import spoken
from swept_shelf.desk.parts.flow import Flow
from swept_shelf.desk.parts.labels import label
from swept_shelf.desk.settings import Settings
from swept_shelf.desk.survey.list_columns import ALWAYS, COLUMNS, GROUPS, Entry
from swept_shelf.desk.theme import theme

_OFFERED = (
    ("Holds over 100 MB", "larger=100MB"),
    ("Holds over 1 GB", "larger=1GB"),
    ("Not used for half a year", "unused=6m"),
    ("Not used for a year", "unused=1y"),
    ("Used in the last 30 days", "used=30d"),
    ("Last use surely known", "certainty=sure"),
    ("No sign of use", "certainty=none"),
    ("Installed in the last 30 days", "installed=30d"),
    ("Starts by itself", "starts=yes"),
    ("Running now", "running=yes"),
    ("Desktop programs", "type=desktop"),
    ("Terminal programs", "type=terminal"),
    ("Services", "type=service"),
    ("Pulled in, not asked for", "asked=no"),
)
_GROUP_WORDS = {
    "": "Not grouped",
    "registry": "By registry",
    "publisher": "By publisher",
    "person": "By person",
    "kind": "By kind of program",
}


class ConditionBar(QWidget):
    """`added`: a condition to add to the filter line; `line_wanted`: another whole line; `export_wanted`: csv
    (what is shown), json or cyclonedx (everything)."""

    added = Signal(str)
    line_wanted = Signal(str)
    shown_otherwise = Signal()
    copy_wanted = Signal()
    export_wanted = Signal(str)

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self._settings = settings
        self._line = ""
        self._survey: Survey | None = None
        self._shown: tuple[str, bool, str, str] | None = None
        self.with_system = False
        self.group = next((g for g in settings.texts("group", []) if g in GROUPS), "")
        self.columns = settings.texts("columns", [c.key for c in COLUMNS if c.first])
        outer = QVBoxLayout(self)
        outer.setContentsMargins(8, 0, 8, 0)
        outer.setSpacing(2)
        self._chips = QWidget()
        self._flow = Flow(theme().px(14))
        self._chips.setLayout(self._flow)
        outer.addWidget(self._chips)
        self._wrong = label("", "small", loud=True, wrap=True)
        outer.addWidget(self._wrong)
        self._wrong.hide()

    def show_line(
        self,
        line: str,
        conditions: Conditions | None,
        wrong: str,
        survey: Survey,
        entries: list[Entry],
        in_hand: list[Entry],
        sizes: dict[str, tuple[str, int]],
    ) -> None:
        """`wrong`: why the line is not understood; `sizes`: bytes of packages, for those of the system."""
        self._line, self._survey = line, survey
        shown = (conditions.text if conditions else "", self.with_system, self.group, survey.id)
        if shown != self._shown:
            self._shown = shown
            self._show_chips(conditions, survey, sizes)
        every = len(survey.applications) + len(survey.left_behind)
        counted = in_hand if len(in_hand) > 1 else entries
        head = f"{len(in_hand)} in hand" if len(in_hand) > 1 else f"{len(entries)} of {every}"
        self._count.setText(spoken(f"{head} · together {human_bytes(sum(e.bytes.total for e in counted))}"))
        self._wrong.setText(spoken(printable(wrong)))
        self._wrong.setVisible(bool(wrong))

    def _show_chips(
        self, conditions: Conditions | None, survey: Survey, sizes: dict[str, tuple[str, int]]
    ) -> None:
        focused = next((b.property("chip_key") for b in self._buttons() if b.hasFocus()), "")
        self._flow.clear()
        for part in conditions.parts if conditions else ():
            self._chip(
                f"{part.says} ×",
                part.word,
                f"Leave out: {part.says}",
                partial(self.line_wanted.emit, conditions.without(part.word) if conditions else ""),
            )
        hidden = survey.system.packages
        if hidden and not self.with_system:
            self._chip(
                f"system’s own hidden: {len(hidden)}",
                "system",
                f"Show the {plural(len(hidden), 'package')} of the system",
                self._turn_system,
            )
        elif hidden:
            held = sum(sizes.get(p, ("", 0))[1] for p in hidden)
            self._chip(
                f"with the system’s own: {len(hidden)}, {human_bytes(held)} ×",
                "system",
                "Hide what belongs to the system",
                self._turn_system,
            )
        self._menu("+ condition", "Add a condition", self._fill_conditions)
        self._menu("columns", "Columns", self._fill_columns)
        self._menu("grouped" if self.group else "group", "Group the list", self._fill_groups)
        self._menu("take along", "Copy or write what is shown", self._fill_export)
        self._count = label("", "small", second=True)
        self._flow.addWidget(self._count)
        for b in self._buttons():
            if focused and b.property("chip_key") == focused:
                b.setFocus()

    def _buttons(self) -> list[QPushButton]:
        return [b for b in self._chips.findChildren(QPushButton) if b.parent() is self._chips]

    def _chip(self, text: str, key: str, name: str, act: Callable[[], None] | None) -> QPushButton:
        made = QPushButton(printable(text))
        made.setFont(theme().font("small"))
        made.setProperty("chip", True)
        made.setProperty("chip_key", key)
        made.setFixedWidth(round(theme().metrics("small").horizontalAdvance(printable(text))) + theme().px(8))
        made.setAccessibleName(spoken(printable(name)))
        made.setToolTip(spoken(printable(name)))
        if act is not None:
            made.clicked.connect(lambda: act())
        self._flow.addWidget(made)
        return made

    def _menu(self, text: str, name: str, fill: Callable[[QMenu], None]) -> None:
        made = self._chip(text, name, name, None)
        made.setProperty("chip", False)
        made.setProperty("plain", True)
        menu = QMenu(made)
        menu.setFont(theme().font("small"))
        menu.aboutToShow.connect(partial(_filled, menu, fill))
        made.setMenu(menu)

    # -- the menus ------------------------------------------------------------------------------------------

    def _fill_conditions(self, menu: QMenu) -> None:
        for words, condition in _OFFERED:
            menu.addAction(words, partial(self.added.emit, condition))
        survey = self._survey
        if survey is not None:
            registries = sorted({a.registry for a in survey.applications})
            for head, name, values in (
                ("Something of", "person", [p.name for p in survey.people]),
                ("Used by", "usedby", [p.name for p in survey.people]),
                ("Registered with", "registry", registries),
                ("On the volume", "volume", [v.mount for v in survey.volumes]),
            ):
                if len(values) > 1:
                    inner = menu.addMenu(head)
                    inner.setFont(menu.font())
                    for value in values:
                        inner.addAction(
                            spoken(printable(value)), partial(self.added.emit, shlex.quote(f"{name}={value}"))
                        )
        kept = self._settings.texts("filters", [])
        menu.addSeparator()
        for line in kept:
            menu.addAction(spoken(printable(line)), partial(self.line_wanted.emit, line))
        if self._line and self._line not in kept:
            menu.addAction(
                spoken("Keep this filter"), partial(self._settings.keep, "filters", [*kept, self._line])
            )
        elif self._line:
            menu.addAction(
                spoken("Forget this filter"),
                partial(self._settings.keep, "filters", [k for k in kept if k != self._line]),
            )
        elif not kept:
            menu.addAction(spoken("Filters that you keep stand here")).setEnabled(False)

    def _fill_columns(self, menu: QMenu) -> None:
        for c in COLUMNS:
            if c.key not in ALWAYS:
                action = menu.addAction(spoken(c.head), partial(self._turn_column, c.key))
                action.setCheckable(True)
                action.setChecked(c.key in self.columns)

    def _fill_groups(self, menu: QMenu) -> None:
        for group in GROUPS:
            action = menu.addAction(spoken(_GROUP_WORDS[group]), partial(self._take_group, group))
            action.setCheckable(True)
            action.setChecked(group == self.group)

    def _fill_export(self, menu: QMenu) -> None:
        menu.addAction(spoken("Copy the rows in hand"), self.copy_wanted.emit)
        menu.addAction(spoken("Write what is shown as CSV…"), partial(self.export_wanted.emit, "csv"))
        menu.addAction(spoken("Write the whole survey as JSON…"), partial(self.export_wanted.emit, "json"))
        menu.addAction(
            spoken("Write the whole inventory as CycloneDX…"), partial(self.export_wanted.emit, "cyclonedx")
        )

    def _turn_system(self) -> None:
        self.with_system = not self.with_system
        self.shown_otherwise.emit()

    def _turn_column(self, key: str) -> None:
        self.columns = [k for k in self.columns if k != key] if key in self.columns else [*self.columns, key]
        self._settings.keep("columns", self.columns)
        self.shown_otherwise.emit()

    def _take_group(self, group: str) -> None:
        self.group = group
        self._settings.keep("group", [group] if group else [])
        self.shown_otherwise.emit()


def _filled(menu: QMenu, fill: Callable[[QMenu], None]) -> None:
    menu.clear()
    fill(menu)


def entries_of(survey: Survey, lines: list[str]) -> list[Entry]:
    """The entries of these ids that the survey knows."""
    return [e for line in lines if (e := survey.find(line)) is not None]
