"""Builds the made-up machine: real packages made with dpkg-deb, installed with dpkg into a root of their own."""

from __future__ import annotations

import json
import os
import random
import shutil
import tempfile
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path

from swept_shelf.core.demo.elsewhere import furnish_elsewhere
from swept_shelf.core.demo.homes import Yard, furnish
from swept_shelf.core.demo.names import Names, draw_names
from swept_shelf.core.demo.packages import Spec, demo_packages
from swept_shelf.core.demo.snap_service import SNAPS
from swept_shelf.core.demo.traces import leave_traces
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.machine.commands import CHANGE, run
from swept_shelf.core.machine.description import write_description

_CAPACITY = {"/": (1_260_000_000, 700_000_000), "/home": (2_400_000_000, 1_500_000_000)}


def build_demo(folder: Path, seed: int = 1, scale: float = 1.0, now: datetime | None = None) -> Path:
    """Make `folder`/{machine.json,root,ledger,snaps.json,truth.json}; `scale` shrinks file sizes. Returns the folder.

    Raises Refused when the folder is not empty, CouldNotRead when dpkg does not do its part."""
    folder = folder.absolute()
    if folder.exists() and any(folder.iterdir()):
        raise Refused("is not empty: the made-up machine needs a folder of its own", str(folder))
    now = (now or datetime.now(UTC)).replace(microsecond=0)
    names, chance = draw_names(seed), random.Random(f"room {seed}")
    root = folder / "root"
    (folder / "ledger").mkdir(parents=True, exist_ok=True)
    _skeleton(root, names, seed)
    specs = demo_packages(names)
    with tempfile.TemporaryDirectory(dir=folder, prefix="packages-") as made:
        debs = _make_packages(Path(made), specs, scale, now, chance)
        _install(root, debs)
    _dpkg(root, "-r", names.package("gone"))
    _rewrite_dates(root, specs, names, now)
    yard = Yard(root, now, scale, chance)
    furnish(yard, names)
    (folder / SNAPS).write_text(json.dumps(furnish_elsewhere(yard, names), indent=1) + "\n")
    leave_traces(yard, names, specs)
    _own(root, names)
    _set_times(root, yard, specs, now)
    key = f"demo-{seed}-{random.Random(seed).getrandbits(64):016x}"
    description = {
        "format": "swept-shelf/machine",
        "version": 1,
        "name": "Reading-room desk",
        "key": key,
        "clock": None,
        "ledger": "ledger/ledger.sqlite",
        "volumes": [
            {
                "id": f"demo-{'root' if m == '/' else m[1:]}",
                "mount": m,
                "file_system": "ext4",
                "capacity": c,
                "base": b,
            }
            for m, (c, b) in _CAPACITY.items()
        ],
    }
    write_description(folder, description)
    truth = {
        **yard.truth,
        "people": list(names.people),
        "app": names.app,
        "word": names.word,
        "vendor": names.vendor,
        "domain": names.domain,
        "used_days": {s.name: s.used_days for s in specs},
    }
    (folder / "truth.json").write_text(json.dumps(truth, indent=1) + "\n")
    return folder


def _skeleton(root: Path, names: Names, seed: int) -> None:
    for place in (
        "etc/apt",
        "var/lib/dpkg/info",
        "var/lib/dpkg/updates",
        "var/lib/dpkg/triggers",
        "var/lib/apt",
        "var/log",
        "var/cache/apt/archives",
        "var/crash",
        "usr/local/bin",
        "usr/bin",
        "opt",
        "srv",
        "home",
        "tmp",
        "root",
    ):
        (root / place).mkdir(parents=True)
    for name in ("status", "available"):
        (root / "var/lib/dpkg" / name).touch()
    people = "".join(
        f"{p}:x:{1001 + i}:{1001 + i}:{p.capitalize()}:/home/{p}:/bin/sh\n"
        for i, p in enumerate(names.people)
    )
    (root / "etc/passwd").write_text("root:x:0:0:root:/root:/bin/sh\n" + people)
    (root / "etc/hostname").write_text("reading-room\n")
    (root / "etc/os-release").write_text('PRETTY_NAME="Reading Room Desktop 12"\nID=readingroom\n')
    (root / "etc/timezone").write_text("Etc/UTC\n")
    (root / "etc/machine-id").write_text(f"{random.Random(seed).getrandbits(128):032x}\n")
    for person in names.people:
        (root / "home" / person).mkdir()


def _make_packages(
    folder: Path, specs: list[Spec], scale: float, now: datetime, chance: random.Random
) -> list[str]:
    block = chance.randbytes(1 << 16)

    def make(spec: Spec) -> str:
        tree = folder / spec.name
        when = (now - timedelta(days=spec.installed_days + 30)).timestamp()
        for path, content in spec.files.items():
            target = tree / path.lstrip("/")
            target.parent.mkdir(parents=True, exist_ok=True)
            if isinstance(content, int):
                count = max(1000, int(content * scale))
                target.write_bytes((block * (count // len(block) + 1))[:count])
            else:
                target.write_text(content)
            target.chmod(0o755 if "/bin/" in path or "/sbin/" in path else 0o644)
            os.utime(target, (when, when))
        control = tree / "DEBIAN"
        control.mkdir(parents=True)
        (control / "control").write_text(_control(spec, tree))
        if spec.conffiles:
            (control / "conffiles").write_text("".join(f"{c}\n" for c in spec.conffiles))
        for name, text in spec.scripts.items():
            (control / name).write_text(text)
            (control / name).chmod(0o755)
        deb = folder / f"{spec.name}.deb"
        done = run("dpkg-deb", "--root-owner-group", "-Znone", "-b", str(tree), str(deb), as_=CHANGE)
        if done.status:
            raise CouldNotRead(f"dpkg-deb: {done.err.strip()}", spec.name)
        shutil.rmtree(tree)
        return str(deb)

    with ThreadPoolExecutor(4) as pool:
        return list(pool.map(make, specs))


def _control(spec: Spec, tree: Path) -> str:
    size = sum(f.stat().st_size for f in tree.rglob("*") if f.is_file()) // 1024 + 1
    fields = {
        "Package": spec.name,
        "Version": spec.version,
        "Architecture": "all",
        "Maintainer": spec.maintainer,
        "Installed-Size": str(size),
        "Section": spec.section,
        "Priority": spec.priority,
        "Essential": "yes" if spec.essential else "",
        "Protected": "yes" if spec.protected else "",
        "Depends": spec.depends,
        "Recommends": spec.recommends,
        "Provides": spec.provides,
        "Homepage": f"https://{spec.name}.example/",
        "Description": spec.summary,
    }
    return "".join(f"{k}: {v}\n" for k, v in fields.items() if v)


def _dpkg(root: Path, *arguments: str) -> None:
    force = [] if os.geteuid() == 0 else ["--force-not-root"]
    done = run(
        "dpkg",
        f"--root={root}",
        f"--log={root}/var/log/dpkg.log",
        "--force-script-chrootless",
        "--force-unsafe-io",
        *force,
        *arguments,
        as_=CHANGE,
    )
    if done.status:
        raise CouldNotRead(f"dpkg did not build the made-up machine: {done.err.strip()[:400]}", str(root))


def _install(root: Path, debs: list[str]) -> None:
    _dpkg(root, "-i", *debs)


def _rewrite_dates(root: Path, specs: list[Spec], names: Names, now: datetime) -> None:
    """The past of the machine: when each package came, and two that went again."""
    info = root / "var/lib/dpkg/info"
    events: list[tuple[datetime, str]] = []
    for spec in specs:
        at = now - timedelta(days=spec.installed_days, hours=3)
        if (listing := info / f"{spec.name}.list").exists():
            os.utime(listing, (at.timestamp(), at.timestamp()))
        events.append((at, f"install {spec.name}:all <none> {spec.version}"))
    events.append((now - timedelta(days=380), f"remove {names.package('gone')}:all 1.3 <none>"))
    events.append((now - timedelta(days=730), f"install {names.package('gone_long')}:all <none> 1.4"))
    events.append((now - timedelta(days=425), f"remove {names.package('gone_long')}:all 1.4 <none>"))
    events.append((now - timedelta(days=425), f"purge {names.package('gone_long')}:all 1.4 <none>"))
    lines = [f"{at.astimezone(UTC):%Y-%m-%d %H:%M:%S} {what}\n" for at, what in sorted(events)]
    (root / "var/log/dpkg.log").write_text("".join(lines))
    (root / "var/log/apt").mkdir(exist_ok=True)
    (root / "var/log/apt/history.log").write_text(
        "".join(
            f"\nStart-Date: {now - timedelta(days=s.installed_days, hours=3):%Y-%m-%d  %H:%M:%S}\nCommandline: apt-get install {s.name}\n"
            f"Requested-By: {names.people[i % 3]} ({1001 + i % 3})\nInstall: {s.name}:all ({s.version})\n"
            for i, s in enumerate(specs)
            if not s.automatic and s.installed_days < 900
        )
    )
    automatic = [s.name for s in specs if s.automatic]
    (root / "var/lib/apt/extended_states").write_text(
        "".join(f"Package: {name}\nArchitecture: all\nAuto-Installed: 1\n\n" for name in automatic)
    )


def _own(root: Path, names: Names) -> None:
    if os.geteuid() != 0:
        return
    for i, person in enumerate(names.people):
        for folder, inner, files in os.walk(root / "home" / person):
            for name in [folder, *(os.path.join(folder, x) for x in (*inner, *files))]:
                os.chown(name, 1001 + i, 1001 + i, follow_symlinks=False)


def _set_times(root: Path, yard: Yard, specs: list[Spec], now: datetime) -> None:
    """Access times of programs, write times of what people's programs wrote; folders last."""
    for spec in specs:
        installed = now - timedelta(days=spec.installed_days, hours=3)
        used = now - timedelta(days=spec.used_days, hours=1) if spec.used_days is not None else installed
        for path in spec.files:
            target = root / path.lstrip("/")
            if target.exists() and path not in spec.conffiles:
                read = used if "/bin/" in path or path.startswith("/usr/lib/") else installed
                os.utime(target, (max(read, installed).timestamp(), target.stat().st_mtime))
    for target, at in yard.dated:
        os.utime(target, (at.timestamp(), at.timestamp()))
    for folder, inner, _ in os.walk(root, topdown=False):
        for name in inner:
            place = Path(folder) / name
            if not place.is_symlink():
                newest = max(
                    (p.lstat().st_mtime for p in place.iterdir()),
                    default=(now - timedelta(days=400)).timestamp(),
                )
                os.utime(place, (newest, newest))
