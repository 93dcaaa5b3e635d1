"""Services that a firewall knows by a file of their name."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.elements import document
from swept_shelf.core.references.building import all_of_it, element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one
from swept_shelf.core.references.well_formed import why_not_well_formed


def _named(name: str) -> tuple[Target, ...]:
    return (*one(By.NAME, name), *one(By.COMMAND, name), *one(By.PACKAGE, name))


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "/services/" in path:
        name = base(path).removesuffix(".xml")
        detail = "a service that the firewall lets in"
        yield all_of_it(text, name, text.split("\n", 1)[0], _named(name), detail)
        return
    for element in document(text).walk():
        if element.name == "service":
            name = element.attributes.get("name", "")
            yield element_entry(text, element, name, _named(name), "the firewall lets it in")


KIND = Kind(
    "firewall service",
    "security",
    ("service of a firewall", "services of firewalls"),
    (Place("/etc/firewalld/services/*.xml"), Place("/etc/firewalld/zones/*.xml")),
    _parse,
    alone="lines",
    why_broken=why_not_well_formed,
    strict=True,
)
