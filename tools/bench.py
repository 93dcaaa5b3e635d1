"""Speed as ratios against a peer in the same run: `make bench`. Nothing here is a test."""

from __future__ import annotations

import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"
PY = sys.executable
FILES = int(os.environ.get("BENCH_FILES", "300000"))


def took(act: Callable[[], object], times: int = 5) -> float:
    """Median seconds of `times` runs after one to warm up."""
    act()
    found = []
    for _ in range(times):
        began = time.perf_counter()
        act()
        found.append(time.perf_counter() - began)
    return statistics.median(found)


def command(*words: str) -> Callable[[], object]:
    return lambda: subprocess.run(words, capture_output=True, check=True)


def say(what: str, ours: float, peer: str, theirs: float, limit: str) -> None:
    print(
        f"{what:<46}{ours * 1000:9.0f} ms {peer:<30}{theirs * 1000:9.0f} ms   {ours / theirs:5.2f} x   (at most {limit})",
        flush=True,
    )


def start_up() -> None:
    bare = took(command(PY, "-c", "pass"), 9)
    say(
        "swept-shelf --help",
        took(command(PY, "-m", "swept_shelf", "--help"), 9),
        "bare interpreter",
        bare,
        "5 x",
    )
    window = "from PySide6.QtWidgets import QApplication, QMainWindow; a = QApplication([]); w = QMainWindow(); w.show(); a.processEvents()"
    ours = (
        "from PySide6.QtWidgets import QApplication; a = QApplication([]); from "
        "swept_shelf.desk.window import Window; w = Window(); w.show(); a.processEvents()"
    )
    peer = took(command(PY, "-c", window), 9)
    say("the desk's first window", took(command(PY, "-c", ours), 9), "bare Qt window", peer, "2 x")
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            [
                PY,
                "-c",
                f"from swept_shelf.core.demo import build_demo; from pathlib import Path; build_demo(Path({folder!r}) / 'd', scale=0.01)",
            ],
            check=True,
        )
        shop = (
            "; from swept_shelf.workshop import Workshop; from swept_shelf.desk.session "
            f"import Session; w.furnish(Session(Workshop({folder + '/d'!r}))); a.processEvents()"
        )
        say(
            "the desk with its ledger open",
            took(command(PY, "-c", ours + shop)),
            "bare Qt window",
            peer,
            "no limit set",
        )


def walking(folder: Path) -> None:
    from swept_shelf.core.machine import open_machine
    from swept_shelf.core.tree.walk import walk

    root = folder / "tree"
    for i in range(FILES // 100):  # eight of ten below /usr, the rest in homes, as on a desktop
        inner = root / ("usr/share" if i % 10 < 8 else "home/hanna/.cache") / f"{i % 30:02}" / f"{i:05}"
        inner.mkdir(parents=True)
        for j in range(100):
            (inner / f"file-{j:03}.txt").touch()
    machine = open_machine(root)
    peer, first = took(command("du", "-s", str(root)), 3), took(lambda: walk(machine), 3)
    say(f"sizes of {FILES} files", first, "du -s", peer, "1.5 x on two processors, under 1 x on four")
    walk(machine).keep(str(folder))
    (root / "usr/share/00/new").touch()
    say(
        "the same again, one folder changed",
        took(lambda: walk(machine, before=str(folder)), 3),
        "the first time",
        first,
        "0.5 x",
    )


def long_list() -> None:
    """Three thousand applications in the list: shown, sorted, narrowed by a condition."""
    code = """
import sys, time
from dataclasses import replace
from pathlib import Path
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QApplication
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.survey.conditions import read_conditions
from swept_shelf.desk.survey.list_lens import ListLens
app, path = QApplication([]), next(Path(sys.argv[1]).rglob("survey.json"))
survey = read_document(Survey, path.read_bytes(), "")
rounds = range(3000 // len(survey.applications) + 1)
many = [replace(a, id=f"{a.id}-{n}", name=f"{a.name} {n}") for n in rounds for a in survey.applications][:3000]
survey = replace(survey, applications=many)
def ms(act):
    began = time.perf_counter(); act(); app.processEvents(); return (time.perf_counter() - began) * 1000
table = ListLens(); table.resize(920, 420); table.show()
print(round(ms(lambda: table.show_survey(survey, {}, many))), round(ms(lambda: table._sort(0))), round(ms(lambda: table._sort(3))),
      round(ms(lambda: table.show_survey(survey, {}, read_conditions("larger=10MB unused=1y", survey.surveyed_at).matching(survey)))))
"""
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            [
                PY,
                "-c",
                f"from swept_shelf.core.demo import build_demo; from pathlib import Path; build_demo(Path({folder!r}) / 'd', scale=0.01)",
            ],
            check=True,
        )
        subprocess.run(
            [PY, "-m", "swept_shelf", "survey", "--root", f"{folder}/d"],
            check=True,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        shown, by_name, by_use, narrowed = subprocess.run(
            [PY, "-c", code, f"{folder}/d/ledger"], check=True, capture_output=True, text=True
        ).stdout.split()
    print(
        f"a list of 3000 applications: shown in {shown} ms, sorted by name {by_name} ms, by last use {by_use} ms, narrowed {narrowed} ms",
        flush=True,
    )


def inventory() -> None:
    """This computer's own package database, read only."""
    from swept_shelf.core.machine import open_machine
    from swept_shelf.core.registries.debian.read import query

    form = "${binary:Package}\\n${Version}\\n${db-fsys:Files}\\n"
    peer = took(command("dpkg-query", "-W", "-f", form))
    packages = len(query(open_machine("/")))
    say(
        f"Debian inventory of {packages} packages with file lists",
        took(lambda: query(open_machine("/"))),
        "dpkg-query -W with file lists",
        peer,
        "2 x",
    )


def graph() -> None:
    from swept_shelf.core.applications.graph import build_graph
    from swept_shelf.core.machine import open_machine
    from swept_shelf.core.registries.debian.read import read

    registry = read(open_machine("/"))
    made = build_graph(registry)
    asked = [n for n in made.names if n not in registry.automatic][:100]
    each = took(lambda: [made.goes_with({n}) for n in asked], 1) / max(1, len(asked))
    print(
        f"{'what goes with one application':<46}{each * 1000:9.1f} ms over {len(made.names)} packages",
        flush=True,
    )


def belongings() -> None:
    """All belongings of 150 applications over 400,000 files in homes, the first time and again."""
    import bench_belongings

    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder) / "root"
        bench_belongings.build(root, int(os.environ.get("BENCH_HOME_FILES", "400000")))
        code = f"""
import time, os
from datetime import datetime, UTC
from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey import take
from swept_shelf.core.survey.ground import Before
whole, began = take.belongings_of, []
def timed(*a):
    t = time.perf_counter(); made = whole(*a); began.append(time.perf_counter() - t); return made
take.belongings_of = timed
out = [{folder!r} + "/1", {folder!r} + "/2"]
for o in out: os.mkdir(o)
take.take_survey(open_machine({str(root)!r}), out[0], [])
survey = take.take_survey(open_machine({str(root)!r}), out[1], [], before=Before(out[0], datetime.now(UTC)))
print(*began, sum(len([b for b in a.belongings if b.person != "everyone"]) for a in survey.applications))
"""
        first, again, found = subprocess.run(
            [PY, "-c", code], check=True, capture_output=True, text=True
        ).stdout.split()
        peer = took(command("grep", "-rlaF", "Vendor003", str(root / "usr/bin")), 1)
        say("belongings of 150 over 400,000 files, first", float(first), "grep for one name", peer, "15 s")
        say(f"the same again ({found} found)", float(again), "the first time", float(first), "3 s")


def use() -> None:
    """All signs of 200 applications and five people over a gigabyte of journal; read whole it would take as long as the peer."""
    import bench_use

    if not bench_use.REMOTE:
        print("last use over a gigabyte of journal: systemd-journal-remote is not here")
        return
    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder) / "root"
        bench_use.build(root, int(os.environ.get("BENCH_JOURNAL", "520000")))
        journal = next((root / "var/log/journal").iterdir())
        size = sum(f.stat().st_size for f in journal.iterdir())
        code = f"""
import pathlib, time
from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey import take, use
whole, took = use.last_uses, pathlib.Path({folder!r}) / "took"
def timed(*a):  # in a process of its own, beside the rest of the survey
    t = time.perf_counter(); made = whole(*a); took.write_text(str(time.perf_counter() - t)); return made
use.last_uses = timed
survey = take.take_survey(open_machine({str(root)!r}), {folder!r}, [])
print(took.read_text(), sum(1 for a in survey.applications if a.last_use.certainty), len(survey.not_read))
"""
        took_s, judged, unread = subprocess.run(
            [PY, "-c", code], check=True, capture_output=True, text=True
        ).stdout.split()
        peer = took(command("journalctl", f"--directory={journal}", "--output=json", "--quiet"), 1)
        say(
            f"last use of 200 by 5 over {size // 10**6} MB of journal",
            float(took_s),
            "journalctl, all of it",
            peer,
            "5 s",
        )
        print(f"  {judged} of 200 judged, {unread} places not read", flush=True)


def references() -> None:
    """Every kind of reference to any of 200 applications, against one search for the same names in the same files."""
    import bench_references

    with tempfile.TemporaryDirectory() as folder:
        root = Path(folder) / "root"
        bench_references.build(root, int(os.environ.get("BENCH_SETTINGS", "400000")))
        names = Path(folder) / "names"
        names.write_text("\n".join(bench_references.names()) + "\n")
        code = f"""
import time, sys
from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointee, Pointees
machine = open_machine({str(root)!r})
to = Pointees(Pointee(n, commands=(n,), programs=("/usr/bin/" + n,), launchers=(n + ".desktop",), packages=(n,), names=(n,)) for n in open({str(names)!r}).read().split())
began = time.perf_counter()
found = find_references(machine, read_people(machine), {{}}, to)
print(time.perf_counter() - began, sum(map(len, found.references.values())), sum(found.looked_at.values()))
"""
        runs = [
            subprocess.run([PY, "-c", code], check=True, capture_output=True, text=True).stdout.split()
            for _ in range(3)
        ]
        ours = statistics.median(float(r[0]) for r in runs)
        peer = took(command("grep", "-rFf", str(names), str(root / "etc"), str(root / "home")), 3)
        say(f"{runs[0][1]} references of 200 in 400,000 files", ours, "grep -rFf", peer, "1.5 x")


def orders() -> None:
    """Drawing, and rehearsing, an order of 70 applications with 500 packages."""
    import bench_order
    from swept_shelf.core.orders import Choice
    from swept_shelf.worker.client import run_worker
    from swept_shelf.workshop import Workshop

    with tempfile.TemporaryDirectory() as folder:
        bench_order.build(Path(folder))
        shop = Workshop(folder)
        request = shop.survey_request()
        surveyed = shop.keep_survey(request, run_worker(request))
        visit, _ = shop.latest()
        ids = [a.id for a in surveyed.survey.applications if a.name.startswith("app")]
        choice = Choice(dict.fromkeys(ids, "remove"))
        order = shop.orders.draw(visit, surveyed, choice)
        less = Choice(dict.fromkeys(ids[1:], "remove"))
        packages = [p for p in order.packages]
        root = f"--root={folder}/root"
        peer = took(command("dpkg", root, "--force-script-chrootless", "--no-act", "-r", *packages), 3)
        what = f"{len(order.lines)} lines, {len(packages)} packages"
        tick = (
            took(
                lambda: (shop.orders.draw(visit, surveyed, less), shop.orders.draw(visit, surveyed, choice)),
                5,
            )
            / 2
        )
        say(f"an order at every tick, {what}", tick, "dpkg --no-act -r", peer, "50 ms")
        say(
            "rehearsing it",
            took(lambda: shop.orders.rehearse(order, "x"), 3),
            "dpkg --no-act -r",
            peer,
            "5 s",
        )
        twenty = Choice(dict.fromkeys(ids[:20], "remove"))
        small = shop.orders.draw(visit, surveyed, twenty)
        run_worker(shop.orders.carry_request(shop.orders.prepare_run(small, "x")))
        again = shop.proof.clearance_request(shop.proof.last_run(visit))
        walk = took(command("find", f"{folder}/root", "-printf", "%s\\n"), 3)
        say(
            f"a clearance of {len(small.lines)} lines",
            took(lambda: run_worker(again), 3),
            "find",
            walk,
            "5 s",
        )
        survey = surveyed.folder / "survey.index"
        entries = surveyed.index.entries
        print(
            f"survey.index: {survey.stat().st_size / entries:.0f} bytes for each of {entries} entries (at most 80)",
            flush=True,
        )


def main() -> None:
    os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
    start_up()
    inventory()
    graph()
    with tempfile.TemporaryDirectory() as folder:
        walking(Path(folder))
    long_list()
    belongings()
    use()
    references()
    orders()
    subprocess.run([PY, str(Path(__file__).parent / "bench_desk.py")], check=True)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss
    print(f"peak memory of this process: {peak // 1024} MB")


if __name__ == "__main__":
    main()
