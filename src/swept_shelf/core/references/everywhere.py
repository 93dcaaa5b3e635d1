"""Every kind in the system and in every home. Where there is much, half of the homes are looked at in a process beside this one."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import ExitStack
from dataclasses import dataclass

from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.partner import Partner
from swept_shelf.core.references.found import Found
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.looker import Going, Looker, Seen, is_naming

_ROUNDS = 3
MUCH = 3000  # files of settings from which on a process of its own is worth its making

_LINKS = [k for k in KINDS.values() if k.links]
_NAMING = [k for k in KINDS.values() if is_naming(k)]
_OTHERS = [k for k in KINDS.values() if not k.links and not is_naming(k)]


@dataclass(frozen=True, slots=True)
class _Share:
    """What is looked at in one of the processes: these of all `people`, and the system where None is among them."""

    looker: Looker
    people: Sequence[Person]
    holders: Sequence[Person | None]

    def look(self, going: Going) -> None:
        """For what is looked for from the beginning, or for what names the files that go. What any file of settings may say comes
        last, for what its own grammar says is surer."""
        if going:
            self.looker.follow(going)
            _look_at_links(self.looker, self.people)
        self.looker.look_everywhere(_OTHERS, self.holders)
        if not going:
            self.looker.look_everywhere(_NAMING, self.holders)

    def look_and_say(self, going: Going) -> Seen:
        self.look(going)
        return self.looker.take()


def _look_at_links(looker: Looker, people: Sequence[Person]) -> None:
    """First, for others may name them."""
    looker.look_everywhere(_LINKS, (None, *people))
    looker.sift()


def look_everywhere(looker: Looker, people: Sequence[Person], found: Found, files: int) -> None:
    """First for what is looked for, then for what names a file that goes with it, and what names that. `found`: where the looker
    notes it; `files`: how many there are of settings."""
    _look_at_links(looker, people)
    at = (len(people) + 1) // 2 if files > MUCH else len(people)
    here = _Share(looker, people, (None, *people[:at]))
    with ExitStack() as beside:
        partner = None
        if people[at:]:
            partner = beside.enter_context(Partner(_Share(looker.apart(), people, people[at:]).look_and_say))
        going: Going = {}
        for number in range(_ROUNDS + 1):
            if partner:
                partner.ask(going)
            here.look(going)
            if partner:
                looker.add(partner.answer())
            if not number:
                once = found.counted()
            going = looker.going()
            if not going:
                break
        found.count_as(once)
