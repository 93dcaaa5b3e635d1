"""Invented names, drawn by seed: people, applications, vendors. The same seed draws the same names."""

from __future__ import annotations

import random
from dataclasses import dataclass

_FIRST = [
    "Sedge",
    "Vellum",
    "Thorn",
    "Larch",
    "Osier",
    "Petal",
    "Quill",
    "Bracken",
    "Hazel",
    "Tansy",
    "Burdock",
    "Teasel",
    "Yarrow",
    "Campion",
    "Sorrel",
    "Willow",
    "Bryony",
    "Madder",
    "Woad",
    "Comfrey",
    "Gorse",
    "Rowan",
    "Alder",
    "Medlar",
    "Saltwort",
    "Furze",
    "Elder",
    "Clary",
    "Rush",
    "Tormentil",
]
_SECOND = [
    "plotter",
    "scan",
    "cote",
    "match",
    "row",
    "lane",
    "gauge",
    "weave",
    "binder",
    "mount",
    "press",
    "tally",
    "frame",
    "casting",
    "loom",
    "lens",
    "ring",
    "sheaf",
    "ward",
    "stile",
    "bench",
    "croft",
    "ferry",
    "mantle",
    "spool",
    "tithe",
    "kiln",
    "vane",
    "wharf",
    "thread",
]
_PEOPLE = ["ylva", "teodor", "maren", "isolde", "anselm", "brage", "hedda", "orrin", "sunniva", "tilde"]
_WORDS = ["hamper", "trestle", "pannier", "skillet"]
_VENDORS = ["Greywether", "Underhay", "Marlpit", "Saltersgate"]
ROLES = (
    "map",
    "desk",
    "label",
    "quest",
    "scan",
    "mail",
    "agent",
    "sync",
    "match",
    "radio",
    "folder",
    "count",
    "session",
    "gone",
    "gone_long",
    "tile",
    "pair_a",
    "pair_b",
    "small_a",
    "small_b",
    "small_c",
    "small_d",
    "list",
    "key",
    "unpacked",
)
ELSEWHERE = ("boxed", "boxed_base", "carried", "told", "isolated")  # of registries that are not Debian's


@dataclass(frozen=True, slots=True)
class Names:
    """`app[role]` is a display name; its lower case is the package's."""

    people: tuple[str, str, str]
    app: dict[str, str]
    word: str
    vendor: str
    domain: str

    def package(self, role: str) -> str:
        return self.app[role].lower()


def draw_names(seed: int) -> Names:
    chance = random.Random(f"herbarium {seed}")
    first, second = chance.sample(_FIRST, len(ROLES)), chance.sample(_SECOND, len(ROLES))
    rest = [[w for w in words if w not in taken] for words, taken in ((_FIRST, first), (_SECOND, second))]
    people = chance.sample(_PEOPLE, 3)
    app = {role: a + b for role, a, b in zip(ROLES, first, second, strict=True)}
    app |= {role: a + b for role, a, b in zip(ELSEWHERE, *rest, strict=False)}
    vendor = chance.choice(_VENDORS)
    return Names(
        (people[0], people[1], people[2]), app, chance.choice(_WORDS), vendor, f"example.{vendor.lower()}"
    )
