"""Two surveys compared, and the comparison for other programs: CSV (RFC 4180) and CycloneDX 1.6."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping

from swept_shelf.core.documents.comparison import (
    FORMAT,
    VERSION,
    Change,
    Comparison,
    Move,
    Pointed,
    Promise,
    Side,
    VolumeChange,
    What,
)
from swept_shelf.core.documents.errors import printable
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Application, LeftBehind, Reference, SharedStore, Survey
from swept_shelf.core.documents.times import rfc3339, short_day
from swept_shelf.core.reports.inventory import plain_cell

Folders = Mapping[
    tuple[str, str], int
]  # (person, folder in the home) to the bytes that are that person's own
_MOVED = 0.5  # part of what it held that must stand elsewhere to have moved


def compare(
    before: Survey,
    after: Survey,
    visits: tuple[int, int] = (0, 0),
    folders: tuple[Folders, Folders] | None = None,
    promises: Iterable[Promise] = (),
) -> Comparison:
    """What became of everything between two surveys, of one machine or of two: applications are the same by their id, volumes by
    their mount point, references by what and where they are. `folders`: people's own folders on either side."""
    same = before.machine.key == after.machine.key
    return Comparison(
        FORMAT,
        VERSION,
        _side(before, visits[0]),
        _side(after, visits[1]),
        same,
        _volumes(before, after),
        sorted(
            [*_applications(before, after), *_left(before, after), *_stores(before, after)],
            key=lambda c: (-abs(c.more), c.what == What.SAME, -c.bytes_after, c.name.lower(), c.id),
        ),
        _folders(*folders) if folders else [],
        _pointed(before, after),
        sorted(promises, key=lambda p: p.at),
    )


def _side(survey: Survey, visit: int) -> Side:
    return Side(survey.id, survey.machine.key, survey.machine.name, survey.surveyed_at, visit)


def _volumes(before: Survey, after: Survey) -> list[VolumeChange]:
    old, new = ({v.mount: v for v in s.volumes} for s in (before, after))
    found = []
    for mount in sorted(old.keys() | new.keys()):
        a, b = old.get(mount), new.get(mount)
        found.append(
            VolumeChange(
                mount,
                a.used if a else None,
                b.used if b else None,
                a.free if a else None,
                b.free if b else None,
            )
        )
    return found


def _what(before: int | None, after: int | None, otherwise: What = What.SAME) -> What:
    if before is None or after is None:
        return What.CAME if before is None else What.WENT
    return What.GREW if after > before else What.SHRANK if after < before else otherwise


def _applications(before: Survey, after: Survey) -> Iterable[Change]:
    old, new = ({a.id: a for a in s.applications} for s in (before, after))
    for id in old.keys() | new.keys():
        a, b = old.get(id), new.get(id)
        one = b or a
        assert one is not None
        more = _by_volume(_parts(a), before, _parts(b), after)
        moves = _moves(more) if a and b else []
        what = _what(
            a.bytes.total if a else None,
            b.bytes.total if b else None,
            What.CHANGED if a and b and a.version != b.version else What.SAME,
        )
        if a and b and sum(m.bytes for m in moves) > _MOVED * max(a.bytes.total, 1):
            what = What.MOVED
        yield Change(
            id,
            one.name,
            "application",
            what,
            a.bytes.total if a else 0,
            b.bytes.total if b else 0,
            note=_came(b, after) if b and not a else "",
            version_before=a.version if a else "",
            version_after=b.version if b else "",
            last_use_before=a.last_use.at if a else None,
            last_use_after=b.last_use.at if b else None,
            kinds=_kinds(a, b),
            moves=moves,
            volumes=more,
        )


def _came(app: Application, after: Survey) -> str:
    """When it came and for whom: “came 20 Sep, asked for by orla”, “came 3 Oct, with Labelrow”."""
    when = f"came {short_day(app.installed.known, after.surveyed_at)}" if app.installed.known else "came"
    names = {p: a.name for a in after.applications for p in a.own_packages[:1]} | {
        a.id: a.name for a in after.applications
    }
    hosts = [names.get(w, w) for w in app.why_here if names.get(w, w) != app.name]
    who = (
        app.requested_by if app.requested_by.startswith("asked for") else f"with {hosts[0]}" if hosts else ""
    )
    return f"{when}, {who}" if who else when


def _kinds(a: Application | None, b: Application | None) -> dict[str, int]:
    names = ("program", "support", "preferences", "cache", "state", "log")
    delta = {n: (getattr(b.bytes, n) if b else 0) - (getattr(a.bytes, n) if a else 0) for n in names}
    return {n: d for n, d in delta.items() if d}


def _parts(app: Application | None) -> list[tuple[str, int]]:
    return [(p.volume, p.bytes) for p in app.bytes_by] if app else []


def _by_volume(
    old: Iterable[tuple[str, int]], before: Survey, new: Iterable[tuple[str, int]], after: Survey
) -> dict[str, int]:
    """Bytes more or less on each volume, by its mount point."""
    delta: dict[str, int] = {}
    for parts, survey, sign in ((old, before, -1), (new, after, 1)):
        mounts = {v.id: v.mount for v in survey.volumes}
        for volume, count in parts:
            mount = mounts.get(volume, volume)
            delta[mount] = delta.get(mount, 0) + sign * count
    return {m: d for m, d in sorted(delta.items()) if d}


def _moves(delta: Mapping[str, int]) -> list[Move]:
    """What it holds less on one volume and more on another, the most of it."""
    less = sorted(((-d, m) for m, d in delta.items() if d < 0), reverse=True)
    more = sorted(((d, m) for m, d in delta.items() if d > 0), reverse=True)
    return [Move(less[0][1], more[0][1], min(less[0][0], more[0][0]))] if less and more else []


def _left(before: Survey, after: Survey) -> Iterable[Change]:
    old, new = ({e.id: e for e in s.left_behind} for s in (before, after))
    for id in old.keys() | new.keys():
        a, b = old.get(id), new.get(id)
        parts = [[(x.volume, x.bytes) for x in e.belongings] if e else [] for e in (a, b)]
        yield _of(id, "left behind", a, b, _by_volume(parts[0], before, parts[1], after))


def _stores(before: Survey, after: Survey) -> Iterable[Change]:
    old, new = ({e.id: e for e in s.shared_stores} for s in (before, after))
    for id in old.keys() | new.keys():
        a, b = old.get(id), new.get(id)
        parts = [[(e.volume, e.bytes)] if e else [] for e in (a, b)]
        yield _of(id, "shared store", a, b, _by_volume(parts[0], before, parts[1], after))


def _of(
    id: str,
    kind: str,
    a: LeftBehind | SharedStore | None,
    b: LeftBehind | SharedStore | None,
    volumes: dict[str, int],
) -> Change:
    one = b or a
    assert one is not None
    was, now = (
        None if e is None else e.bytes.total if isinstance(e, LeftBehind) else e.bytes for e in (a, b)
    )
    store = one if isinstance(one, SharedStore) else None
    return Change(
        id,
        one.name,
        kind,
        _what(was, now),
        was or 0,
        now or 0,
        store.person if store else "",
        store.path if store else "",
        volumes=volumes,
    )


def _folders(before: Folders, after: Folders) -> list[Change]:
    """People's own folders that changed, the largest change first."""
    found = []
    for person, path in before.keys() | after.keys():
        a, b = before.get((person, path)), after.get((person, path))
        if a != b:
            found.append(
                Change(
                    f"person:{person}:{path}", base(path), "folder", _what(a, b), a or 0, b or 0, person, path
                )
            )
    return sorted(found, key=lambda c: (-abs(c.more), c.id))


def _pointed(before: Survey, after: Survey) -> list[Pointed]:
    """References of applications that are on both sides, and stand on one only: the new ones first."""
    old, new = ({a.id: a for a in s.applications} for s in (before, after))
    found = []
    for id in old.keys() & new.keys():
        a, b = ({_identity(r): r for r in s[id].references} for s in (old, new))
        for refs, others, is_new in ((b, a, True), (a, b, False)):
            found += [
                Pointed(id, new[id].name, is_new, r.family, r.kind, r.path, r.line, r.text, r.person)
                for key, r in refs.items()
                if key not in others and not r.mention
            ]
    return sorted(found, key=lambda p: (not p.new, p.name.lower(), p.family, p.path, p.line))


def _identity(r: Reference) -> tuple[str, str, str, str]:
    return r.family, r.kind, r.path, r.key or r.text


# -- for other programs ---------------------------------------------------------------------------------------------

COLUMNS = (
    *("of", "id", "name", "what", "person", "path", "bytes_before", "bytes_after", "more"),
    *("version_before", "version_after", "last_use_before", "last_use_after", "note"),
)


def comparison_csv(comparison: Comparison, changes: Iterable[Change], delimiter: str = ",") -> bytes:
    """One row per change in the order given, then people's folders and what is newly, or no longer, pointed at. UTF-8."""
    made = io.StringIO()
    writer = csv.writer(made, delimiter=delimiter)
    writer.writerow(COLUMNS)
    for c in (*changes, *comparison.folders):
        used = [rfc3339(t) if t else "" for t in (c.last_use_before, c.last_use_after)]
        sizes = (c.bytes_before, c.bytes_after, c.more)
        row = (
            c.of,
            c.id,
            c.name,
            str(c.what),
            c.person,
            c.path,
            *sizes,
            c.version_before,
            c.version_after,
            *used,
            c.note,
        )
        writer.writerow([plain_cell(x) if isinstance(x, str) else x for x in row])
    for p in comparison.pointed:
        what = "newly pointed at" if p.new else "no longer pointed at"
        where = f"{p.path}:{p.line}" if p.line else p.path
        row = (
            "reference",
            p.application,
            p.name,
            what,
            p.person,
            where,
            "",
            "",
            "",
            "",
            "",
            "",
            "",
            f"{p.kind}: {p.text}",
        )
        writer.writerow([plain_cell(x) for x in row])
    return made.getvalue().encode("utf-8")


def comparison_cyclonedx(comparison: Comparison) -> bytes:
    """A CycloneDX 1.6 document (ECMA-424) of the applications on both sides: what went is excluded from the later one's scope;
    sizes and what became of it are properties."""
    from cyclonedx.model import Property
    from cyclonedx.model.bom import Bom
    from cyclonedx.model.component import Component, ComponentScope, ComponentType
    from cyclonedx.output import make_outputter
    from cyclonedx.schema import OutputFormat, SchemaVersion

    bom = Bom()
    bom.metadata.timestamp = comparison.after.surveyed_at
    bom.metadata.component = Component(
        name=printable(comparison.after.name), type=ComponentType.DEVICE, bom_ref="machine"
    )
    bom.metadata.properties.update(
        Property(name=f"swept-shelf:{name}", value=value)
        for name, value in (
            ("compared_with", printable(comparison.before.name)),
            ("compared_with_surveyed_at", rfc3339(comparison.before.surveyed_at)),
        )
    )
    for c in comparison.changes:
        if c.of != "application":
            continue
        made = Component(
            name=printable(c.name),
            version=printable(c.version_after or c.version_before) or None,
            type=ComponentType.APPLICATION,
            bom_ref=printable(c.id),
            scope=ComponentScope.EXCLUDED if c.what == What.WENT else ComponentScope.REQUIRED,
        )
        facts = {
            "became": str(c.what),
            "bytes_before": str(c.bytes_before),
            "bytes": str(c.bytes_after),
            "version_before": printable(c.version_before),
            "note": printable(c.note),
        }
        made.properties.update(Property(name=f"swept-shelf:{k}", value=v) for k, v in facts.items() if v)
        bom.components.add(made)
    bom.register_dependency(bom.metadata.component, bom.components)
    text = make_outputter(bom, OutputFormat.JSON, SchemaVersion.V1_6).output_as_string(indent=1)
    return text.encode("utf-8") + b"\n"
