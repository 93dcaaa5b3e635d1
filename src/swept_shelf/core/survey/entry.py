"""One application as the survey tells it: sizes, what comes back, when it was used, what else is the same program."""

from __future__ import annotations

import re
from collections import defaultdict
from dataclasses import replace

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.belong import Maker
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.common import is_distinctive
from swept_shelf.core.documents.command_folders import COMMAND_FOLDERS
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import (
    Application,
    Belonging,
    BytesBy,
    Installed,
    Kinds,
    LastUse,
    Launcher,
    Origin,
    Proof,
    Reference,
    Running,
    Start,
)
from swept_shelf.core.documents.terms import KINDS, By, Kind, Share
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.machine.processes import Process
from swept_shelf.core.references.kinds import KINDS as REFERENCES
from swept_shelf.core.references.pointees import Pointee, bus_names
from swept_shelf.core.registries.debian.changed import changed_files
from swept_shelf.core.registries.ways import has_packages
from swept_shelf.core.survey.ground import Ground
from swept_shelf.core.survey.own_starts import own_starts
from swept_shelf.core.survey.returning import Returning
from swept_shelf.core.tree.walk import Tree


def pointee_of(app: Known, files: list[str], belongings: list[Belonging], tree: Tree) -> Pointee:
    """As others point at it. A program in a home is known by its bare name only where the system has none of that name."""
    folders = [
        b.path
        for b in belongings
        if b.identity and b.identity.type == "folder" and b.share == Share.SOLE and not b.personal
        if b.ticked
        or (
            b.certain and b.proof != By.SEEN
        )  # what is merely named in it may be another's, whose own settings name it
    ]
    programs = {*app.executables, *(f for f in files if "/bin/" in f or "/sbin/" in f or "/games/" in f)}
    if app.registry == "snap":
        programs.add(f"/snap/bin/{app.id.partition(':')[2]}")
    if app.registry == "flatpak":  # what it exports is called like it
        name = app.id.split(":")[2].split("/")[0]
        programs.add(f"/var/lib/flatpak/exports/bin/{name}")
    commands = {base(p) for p in programs if parent(p) in (*COMMAND_FOLDERS, "/snap/bin")}
    hidden = {
        base(p) for p in programs if any(f"/usr/{f}/{base(p)}" in tree for f in ("bin", "sbin", "games"))
    }
    commands |= {base(p) for p in programs if _IN_HOME.search(p)} - hidden
    inner = {base(p) for p in programs if p.startswith("/usr/")} - hidden  # called by its path alone
    units = {base(f) for f in files if "/systemd/" in f and "." in base(f)} | {
        f"{base(f)}.service" for f in files if f.startswith("/etc/init.d/")
    }
    launchers = [lf.id for lf in app.launchers]
    stems = {
        *commands,
        *inner,
        *(p.split(":")[0] for p in app.own_packages),
        *(x.removesuffix(".desktop") for x in launchers),
    }
    stems |= {u.rpartition(".")[0].rstrip("@") for u in units}
    return Pointee(
        app.id,
        commands=tuple(sorted(commands)),
        programs=tuple(sorted(programs)),
        folders=tuple(sorted(folders)),
        launchers=tuple(launchers),
        buses=bus_names(files),
        units=tuple(sorted(units)),
        packages=tuple(sorted({p.split(":")[0] for p in app.own_packages if has_packages(app.registry)})),
        accounts=tuple(sorted({b.path for b in belongings if b.object in ("user", "group")})),
        libraries=tuple(sorted({base(f) for f in files if _LIBRARY.search(f)})),
        names=tuple(sorted(s for s in stems if is_distinctive(s))),
    )


def application(
    app: Known,
    pointee: Pointee,
    ground: Ground,
    returning: Returning,
    belongings: list[Belonging],
    references: list[Reference],
    processes: list[Process],
) -> Application:
    """One application as the survey tells it, but for its last use."""
    belongings = [*belongings, *_pointers(references, belongings, ground)]
    belongings = sorted(belongings, key=lambda b: (KINDS.index(b.kind), -b.bytes, b.path))
    sums: dict[tuple[str, str, Kind], int] = defaultdict(int)
    for b in belongings:
        if b.share == Share.SOLE and b.certain:
            sums[b.volume, b.person, b.kind] += b.bytes
    by_kind = {k: sum(n for (_, _, kind), n in sums.items() if kind == k) for k in KINDS}
    back = returning.of(app, belongings)
    programs = set(pointee.programs)
    running = [
        Running(p.pid, p.started, p.user)
        for p in processes
        if any(x in programs or any(within(x, t) for t in app.tops) for x in p.programs)
    ]
    pointers = [r for r in references if not r.mention]
    starts = [
        Start(REFERENCES[r.kind].starts, r.path, r.person, r.in_effect)
        for r in pointers
        if REFERENCES[r.kind].starts
    ]
    starts += [
        Start(
            "unit",
            u,
            EVERYONE,
            any(
                r.in_effect and base(u) in (base(r.path), base("/" + r.key))
                for r in pointers
                if REFERENCES[r.kind].links
            ),
        )
        for u in app.units
    ]
    starts += own_starts(ground.machine, (b.path for b in belongings if b.is_path))
    package = app.package
    own = [ground.registry.packages[n] for n in app.own_packages] if ground.registry and package else []
    return replace(
        bare(app),
        starts=starts,
        running=running,
        bytes=Kinds(**by_kind),
        bytes_by=[BytesBy(v, p, k, n) for (v, p, k), n in sorted(sums.items())],
        comes_back=sum(c.total for c in back),
        comes_back_by=back,
        belongings=belongings,
        references=references,
        pointed_at=pointee.as_names(),
        changed_files=changed_files(ground.machine, ground.tree, own, ground.ownership.files),
        named=sum(b.bytes for b in belongings if b.is_path and b.share == Share.SOLE and not b.certain),
    )


def bare(app: Known) -> Application:
    """What its registry and its launchers say of it, and nothing that must be looked for."""
    return Application(
        id=app.id,
        name=app.name,
        version=app.version,
        registry=app.registry,
        type=app.type,
        state=app.state,
        summary=app.summary,
        publisher=app.publisher,
        homepage=app.homepage,
        icon=app.icon,
        categories=[c for lf in app.launchers for c in lf.categories],
        packages=list(app.packages),
        own_packages=list(app.own_packages),
        also_here_as=[],
        other_versions=[],
        installed=Installed(app.installed_first, app.installed_last),
        requested_by=_requested(app),
        why_here=list(app.why_here),
        needed_by=list(app.needed_by),
        protected=app.protected,
        held=bool(app.package and app.package.want == "hold"),
        origin=Origin(app.source, app.reinstallable),
        receipt=app.receipt,
        launchers=[Launcher(lf.path, lf.id, lf.name, lf.visible) for lf in app.launchers],
        executables=list(app.executables),
        starts=[],
        running=[],
        bytes=Kinds(),
        bytes_by=[],
        comes_back=0,
        comes_back_by=[],
        last_use=LastUse(None, None, None, "", "", False, [], [], [], [], "it is still being looked for"),
        belongings=[],
        references=[],
    )


# Folders of tools in a home that shells search.
_IN_HOME = re.compile(r"/(?:\.local|\.cargo|\.npm[\w-]*|\.node[\w-]*|go)/bin/[^/]+$")
_LIBRARY = re.compile(r"\.(?:so(?:\.[\d.]+)?|ko(?:\.[xg]z|\.zst)?)$")


def _pointers(references: list[Reference], belongings: list[Belonging], ground: Ground) -> list[Belonging]:
    """Files in homes that are nothing but a pointer to it: its own too, and taken out as references, not by a tick."""
    maker = Maker(ground.tree, ground.volumes)
    known = [b.path for b in belongings if b.is_path]
    found: dict[str, Belonging] = {}
    for r in references:
        person = person_of(ground.people, r.path)
        alone = r.whole and person != EVERYONE and ground.tree.kind(r.path) == "file"
        if alone and r.path not in found and not any(within(r.path, k) for k in known):
            claim = Claim(
                "",
                By.DECLARED,
                f"{r.detail}: taken out with what points at it",
                [Proof(By.DECLARED, r.path, r.line, r.text)],
            )
            found[r.path] = maker.make(r.path, person, Kind.PREFERENCES, claim, [], False)
    return list(found.values())


def _requested(app: Known) -> str:
    """Whether somebody asked for it, and who, where that was written down."""
    if app.asked_for is None:
        return ""
    return ("asked for" + (f" by {app.asked_by}" if app.asked_by else "")) if app.asked_for else "pulled in"


def versions(apps: list[Application]) -> list[Application]:
    """Two versions of one program, and one program registered twice: the same name but for its number."""
    groups: dict[str, list[Application]] = defaultdict(list)
    for a in apps:
        groups[_same_name(a)].append(a)
    found = []
    for a in apps:
        others = [o for o in groups[_same_name(a)] if o.id != a.id]
        here_as = [o.id for o in others if o.registry != a.registry]
        found.append(
            replace(
                a, other_versions=[o.id for o in others if o.registry == a.registry], also_here_as=here_as
            )
        )
    return found


def _same_name(app: Application) -> str:
    return app.name.rstrip("0123456789. ").lower()
