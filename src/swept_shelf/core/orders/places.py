"""Places that are never an operation of an order."""

from __future__ import annotations

from swept_shelf.core.documents.protected_places import why_never
from swept_shelf.core.documents.survey import Survey


def why_protected(path: str, survey: Survey, edited: bool = False) -> str:
    """The reason why `path` may never be an operation; "" when it may."""
    return why_never(path, [p.home for p in survey.people], [v.mount for v in survey.volumes], edited)
