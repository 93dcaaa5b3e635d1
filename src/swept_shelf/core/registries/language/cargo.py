"""Programs that cargo installed: files in ~/.cargo/bin, and the two books in which it keeps whose they are."""

from __future__ import annotations

from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.language.common import read_json, written


def read(reading: Reading) -> None:
    for person, home in reading.homes():
        _book(reading, f"{home}/.cargo", person.name)


def _book(reading: Reading, top: str, person: str) -> None:
    receipt = f"{top}/.crates2.json"
    if receipt not in reading.tree:
        return

    def one(_: str) -> None:
        for key, said in read_json(reading, receipt)["installs"].items():
            name, version = key.split(" ")[:2]
            bins = [
                b for n in said.get("bins", []) if (b := f"{top}/bin/{n}") in reading.tree and "/" not in n
            ]
            reading.found.append(
                Registered(
                    id=f"cargo:{person}/{name}",
                    name=name,
                    version=version,
                    registry="cargo",
                    source="cargo",
                    tops=tuple(bins),
                    receipt=receipt,
                    person=person,
                    executables=tuple(bins),
                    asked_for=True,
                    packages=(name,),
                    own_packages=(name,),
                    **(written(reading, bins[0]) if bins else {}),
                )
            )

    reading.each([receipt], one)
