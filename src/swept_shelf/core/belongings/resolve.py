"""Whose each place is: one sparse matrix of places x applications (in coordinates), resolved at once. The stronger proof wins; the same
proof makes a place shared; what several unrelated applications have the same claim to is common."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.documents.terms import By, Share

SEVERAL = 3  # more projects than these with the same claim, or applications that hold its name, make a place everybody's
_BY_PROOF = {By.TOLD: 60, By.REGISTERED: 50, By.DECLARED: 30, By.SEEN: 20, By.MATCHED: 10}
_FIRM, _OWN_NAME, _EXACT, _PART = 45, 40, 35, 5
CERTAIN = _OWN_NAME  # from here on an application would be missed for what it holds
_FIRM_FILES = ("/dpkg/info/", "/tmpfiles.d/", "/logrotate.d/", "/var/lib/ucf/", "/etc/passwd")


@dataclass(frozen=True, slots=True)
class Ruling:
    """`claim`: the strongest, the first of them where several are; `others`: who else has as strong a one."""

    share: Share
    claim: Claim
    others: list[str]


def resolve(
    claims: Mapping[str, list[Claim]],
    project: Mapping[str, str],
    guests: Mapping[str, list[str]] | None = None,
) -> dict[str, Ruling]:
    """A ruling per path that anybody claims. `project`: what each application is made from; those of one project are no strangers.
    `guests`: applications of its project that live in an application's places (the parts of a suite)."""
    paths = [path for path, mine in claims.items() if mine]
    ids = sorted({c.id for path in paths for c in claims[path]})
    column = {id: i for i, id in enumerate(ids)}
    flat = [(row, column[c.id], strength(c), c) for row, path in enumerate(paths) for c in claims[path]]
    if not flat:
        return {}
    rows, columns, strengths = (
        np.array(part) for part in zip(*((r, c, s) for r, c, s, _ in flat), strict=True)
    )
    best = np.zeros(len(paths), dtype=strengths.dtype)
    np.maximum.at(best, rows, strengths)
    strongest = strengths == best[rows]
    made_from = np.unique([project.get(id, id) for id in ids], return_inverse=True)[1]
    pairs, _ = np.unique(
        np.stack([rows[strongest], made_from[columns[strongest]]]), axis=1, return_index=True
    )
    strangers = np.bincount(pairs[0], minlength=len(paths))
    winners: list[list[Claim]] = [[] for _ in paths]
    for wins, (row, _, _, claim) in zip(strongest.tolist(), flat, strict=True):
        if wins:
            winners[row].append(claim)
    found = {}
    for path, mine, count in zip(paths, winners, strangers.tolist(), strict=True):
        of_suite = (
            {g for c in mine for g in (guests or {}).get(c.id, ())} if mine[0].proof != By.TOLD else set()
        )
        others = sorted(({c.id for c in mine[1:]} | of_suite) - {mine[0].id})
        found[path] = Ruling(
            Share.COMMON if count > SEVERAL else Share.SHARED if others else Share.SOLE, mine[0], others
        )
    return found


def strength(claim: Claim) -> int:
    """A unit or a package's script that names it is firm; so is nearly a place called like it whose name its own program holds:
    a program that only names a place does not take it from that one."""
    if claim.part:
        return _PART
    if (
        claim.tick
        and claim.proof == By.DECLARED
        and any(
            e.path.endswith((".service", ".socket")) or any(f in e.path for f in _FIRM_FILES)
            for e in claim.evidence
            if e.proof == By.DECLARED
        )
    ):
        return _FIRM
    kinds = {e.proof for e in claim.evidence}
    if By.MATCHED in kinds and By.DECLARED in kinds and _BY_PROOF[claim.proof] <= _BY_PROOF[By.DECLARED]:
        return (
            _OWN_NAME if claim.tick else _BY_PROOF[By.DECLARED]
        )  # of an ordinary word it proves no more than another's naming it
    if claim.exact and _BY_PROOF[claim.proof] <= _BY_PROOF[By.DECLARED]:
        return (
            _EXACT  # a sibling's text, or a stranger's, takes nothing from what is called so letter by letter
        )
    return _BY_PROOF[claim.proof]
