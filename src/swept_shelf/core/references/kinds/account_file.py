"""Files that are called like its account: mail, jobs, who it lets in."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    yield whole_file(
        1, base(path), text.split("\n", 1)[0][:80], one(By.ACCOUNT, base(path)), "is called like its account"
    )


KIND = Kind(
    "account's file",
    "accounts",
    ("file of its account", "files of its account"),
    (
        Place("/var/mail/*"),
        Place("/var/spool/mail/*"),
        Place("/var/spool/cron/crontabs/*"),
        Place("/var/spool/cron/*"),
        Place("/var/lib/systemd/linger/*"),
        Place("/var/lib/AccountsService/users/*"),
        Place("/var/lib/AccountsService/icons/*"),
    ),
    _parse,
    whole=True,
    head=4096,
)
