"""Which entries of a survey a technician means by a name."""

from __future__ import annotations

from swept_shelf.core.documents.survey import Application, LeftBehind, Survey


def called(survey: Survey, name: str) -> list[Application | LeftBehind]:
    """By id; else by name, package, launcher or program, whole; else by how those begin. Letters' case does not count."""
    wanted = name.lower()
    entries = [*survey.entries, *(s.entry for s in survey.shared_stores if s.belongings)]
    exactly = [e for e in entries if e.id == name]
    whole = exactly or [e for e in entries if wanted in _names(e)]
    return whole or [e for e in entries if any(n.startswith(wanted) for n in _names(e))]


def _names(entry: Application | LeftBehind) -> list[str]:
    names = [entry.name, entry.id.split(":", 1)[1]]
    if isinstance(entry, Application):
        names += [launcher.id.removesuffix(".desktop") for launcher in entry.launchers]
        names += [p.rsplit("/", 1)[1] for p in entry.executables]
    return [n.lower() for n in names]
