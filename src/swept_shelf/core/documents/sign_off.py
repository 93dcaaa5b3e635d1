"""A sign-off: a clearance frozen, with who answers for it and a digest over everything it stands on."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, replace
from datetime import datetime

from swept_shelf.core.documents.clearance import Clearance, Finding
from swept_shelf.core.documents.paths import MachinePath
from swept_shelf.core.documents.wire import to_plain

SIGN_OFF_FORMAT, SIGN_OFF_VERSION = "swept-shelf/sign-off", 1


@dataclass(frozen=True, slots=True)
class Technician:
    """Who works, and where: as the settings have it, "" where nobody said."""

    name: str = ""
    workshop: str = ""

    @property
    def words(self) -> str:
        return ", ".join(x for x in (self.name, self.workshop) if x)


@dataclass(frozen=True, slots=True)
class Left:
    """A finding that was left on purpose; `finding`: by which it is known again (`known_by`)."""

    finding: str
    why: str
    who: str
    at: datetime


@dataclass(frozen=True, slots=True)
class SignedFinding:
    """A finding as it stood when it was signed; `why` it was left, "" where nobody said."""

    finding: str
    line: str
    family: str
    path: MachinePath
    number: int
    why: str


@dataclass(frozen=True, slots=True)
class SignOff:
    """The SHA-256 sums are of the documents as the ledger and the run folder keep them; `digest` is the sum of this document
    without it (`digest_of`)."""

    format: str
    version: int
    id: str
    machine_key: str
    visit: int
    order: str
    clearance: str
    signed_at: datetime
    technician: Technician
    survey_sha256: str
    order_sha256: str
    run_sha256: str
    clearance_sha256: str
    found: list[SignedFinding]
    could_not_look: int
    digest: str = ""


def known_by(line: str, f: Finding) -> str:
    """By which a finding is known again at another look: not by its line's number, which others' lines move."""
    text = f"{line}\0{f.kind}\0{f.path}\0{f.text}".encode("utf-8", "surrogateescape")
    return hashlib.sha256(text).hexdigest()[:16]


def digest_of(signed: SignOff) -> str:
    """SHA-256 of the document without its digest, as JSON with sorted keys and no spaces, in UTF-8."""
    plain = to_plain(replace(signed, digest=""))
    return hashlib.sha256(json.dumps(plain, sort_keys=True, separators=(",", ":")).encode()).hexdigest()


def came_since(signed: SignOff, now: Clearance) -> list[tuple[str, str, Finding]]:
    """(line, family, finding) of what a later look found and the signed one did not."""
    before = {f.finding for f in signed.found}
    return [
        (line.id, family, f)
        for line in now.lines
        for family, f in line.found
        if known_by(line.id, f) not in before
    ]
