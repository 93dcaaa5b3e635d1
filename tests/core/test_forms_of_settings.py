"""Forms of references that nobody planted for one kind: whatever kind reads them, all lines that point are found, and no others."""

from __future__ import annotations

from forms_of_settings import FORMS
from planted import ASH, EDDA, PLOT, plant
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointees

MARK = "»"


def test_every_line_that_points_is_found_and_no_other(tmp_path):
    root = tmp_path / "root"
    root.mkdir()
    plant(root, [(path, text.replace(MARK, "")) for path, text in FORMS])
    found = find_references(open_machine(str(root)), [EDDA], {}, Pointees([PLOT, ASH]))
    pointing = {(path, number) for path, text in FORMS for number in marked(text)}
    whole = {r.path for r in found.references[PLOT.id] if r.whole}
    told = {(r.path, r.line) for r in found.references[PLOT.id] if not r.whole}
    assert {(p, n) for p, n in pointing if p not in whole} - told == set()
    assert told - pointing == set()
    assert whole <= {path for path, _ in pointing}


def marked(text):
    return [number for number, line in enumerate(text.split("\n"), 1) if line.startswith(MARK)]
