"""What stands at the foot of the survey: the drawer of an application, or that of a place; as high as somebody drew it."""

from __future__ import annotations

from PySide6.QtWidgets import QStackedWidget

from swept_shelf.desk.parts.grip import Grip
from swept_shelf.desk.settings import Settings
from swept_shelf.desk.survey.drawer import Drawer
from swept_shelf.desk.survey.place_drawer import PlaceDrawer
from swept_shelf.desk.theme import theme

_TALL, _LARGE = 800, 1.2  # pixels, and the text size from which the drawer needs all its height
_ROOMY, _OF_MORE = 900, 0.35  # pixels at 100 % that the shelves fill, and the drawer's share of what is more
_FOLDED = 46  # pixels of the drawer with nothing in hand: one line
_LEAST, _MOST = 120, 0.6  # pixels at 100 %, and the share of the window, that a drawn drawer has


class Drawers(QStackedWidget):
    """`drawer` of what is in hand, `place` of a path; the upper edge is a grip."""

    def __init__(self, settings: Settings) -> None:
        super().__init__()
        self.drawer, self.place = Drawer(), PlaceDrawer()
        self.addWidget(self.drawer)
        self.addWidget(self.place)
        self._settings = settings
        self._higher = _whole_number(settings.texts("drawer", ["0"]))  # pixels at 100 %
        self._drawn = self._room = 0
        self._in_hand = False
        self.grip = Grip(self)
        self.grip.drawn.connect(self.draw)
        self.grip.let_go_of.connect(self._as_at_first)

    def fit(self, room: int, in_hand: bool) -> None:
        """In a window that is `room` pixels high. In a low one the drawer leaves the shelves a row, where its own rows are not
        large; with nothing in hand it is one line."""
        self._room, self._in_hand = room, in_hand
        of_application = self.currentIndex() == 0
        low = room < _TALL and theme().scale < _LARGE and of_application
        whole = round(166 + 62 * theme().scale) - (40 if low else 0)
        whole += max(0, round(_OF_MORE * (room - theme().px(_ROOMY))))
        folded = not in_hand and of_application
        most = max(whole, int(room * _MOST))
        high = min(max(whole + theme().px(self._higher) + self._drawn, theme().px(_LEAST)), most)
        self.grip.setVisible(not folded)
        self.setFixedHeight(theme().px(_FOLDED) if folded else high)

    def draw(self, more: int, done: bool = True) -> None:
        """`more` pixels higher; kept when it is `done`."""
        self._drawn = more
        self.fit(self._room, self._in_hand)
        if done:
            before = self.height()
            self._drawn = 0
            self.fit(self._room, self._in_hand)
            self._higher += round((before - self.height()) / theme().scale)
            self._settings.keep("drawer", [str(self._higher)])
            self.fit(self._room, self._in_hand)

    def _as_at_first(self) -> None:
        self._higher = 0
        self.draw(0)


def _whole_number(texts: list[str]) -> int:
    """What was kept; a file that somebody else wrote counts for nothing."""
    return int(texts[0]) if texts and texts[0].lstrip("-").isdecimal() and len(texts[0]) < 6 else 0
