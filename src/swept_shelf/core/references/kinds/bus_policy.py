"""Who may own and call names on the message bus (dbus-daemon(1))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.grammars.elements import document
from swept_shelf.core.references.building import element_entry
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one
from swept_shelf.core.references.well_formed import why_not_well_formed

_NAMES = ("own", "own_prefix", "send_destination", "receive_sender")


def _parse(_path: str, text: str) -> Iterator[Entry]:
    for policy in document(text).walk():
        if policy.name == "policy":
            account = policy.attributes.get("user") or policy.attributes.get("group") or ""
            if account and account != "root":
                targets = one(By.ACCOUNT, account)
                yield element_entry(
                    text, policy, f"policy {account}", targets, "rules of the message bus for its account"
                )
        elif policy.name in ("allow", "deny"):
            targets = tuple(Target(By.BUS, policy.attributes[n]) for n in _NAMES if n in policy.attributes)
            shown = " ".join(f'{k}="{v}"' for k, v in policy.attributes.items())
            yield element_entry(text, policy, shown, targets, "rules of the message bus for its name")


KIND = Kind(
    "bus policy",
    "services",
    ("rule of the message bus", "rules of the message bus"),
    tuple(
        Place(f"{top}/dbus-1/{kind}.d/*.conf")
        for top in ("/etc", "/usr/local/share", "/usr/share")
        for kind in ("system", "session")
    ),
    _parse,
    alone="entries",
    why_broken=why_not_well_formed,
    strict=True,
)
