"""The house: each folder of core imports only from those above it, and core knows no interface code."""

from __future__ import annotations

import ast
import subprocess
import sys
from pathlib import Path

import pytest

SOURCE = Path(__file__).parents[2] / "src" / "swept_shelf"
ABOVE = ["documents", "machine", "tree", "registries", "applications", "references", "belongings", "use", "survey", "orders",
         "carry", "clearance"]  # fmt: skip
ONLY = {"ledger": {"documents", "ledger"}, "reports": {"documents", "reports"}, "demo": {"documents", "machine", "demo"}}
MODULES = sorted((SOURCE / "core").rglob("*.py"))


def imported(path: Path) -> list[str]:
    found = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found += [a.name for a in node.names]
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.append(node.module)
    return found


@pytest.mark.parametrize("path", MODULES, ids=lambda p: str(p.relative_to(SOURCE)))
def test_core_imports_only_what_stands_above(path):
    room = path.relative_to(SOURCE / "core").parts[0]
    if room == "__init__.py":
        return
    allowed = ONLY.get(room) or set(ABOVE[: ABOVE.index(room) + 1])
    for name in imported(path):
        parts = name.split(".")
        assert parts[0] not in ("PySide6", "click", "rich"), f"{path} imports {name}"
        if parts[0] == "swept_shelf" and len(parts) > 1:
            assert parts[1] == "core", f"{path} imports {name}"
            assert len(parts) < 3 or parts[2] in allowed, f"{path} imports {name}"


def test_the_worker_imports_neither_desk_nor_command_line_nor_ledger():
    for path in (SOURCE / "worker").glob("*.py"):
        for name in imported(path):
            assert not name.startswith(
                ("swept_shelf.desk", "swept_shelf.cli", "swept_shelf.core.ledger", "swept_shelf.workshop", "sqlalchemy")
            ), path
    code = "import sys, swept_shelf.worker.looking, swept_shelf.worker.carrying, swept_shelf.core.survey, swept_shelf.core.clearance;" \
           "print([m for m in sys.modules if m.split('.')[0] in ('sqlalchemy', 'PySide6', 'click')])"  # fmt: skip
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True).stdout.strip() == "[]"


def test_core_opens_paths_only_through_the_machine():
    """Commands stand on one list; nothing in the reading rooms of core opens a path by itself."""
    for room in ("applications", "references", "belongings", "use", "orders", "clearance"):
        for path in (SOURCE / "core" / room).glob("*.py"):
            calls = [n for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Call)]
            names = {c.func.id for c in calls if isinstance(c.func, ast.Name)} | {ast.unparse(c.func) for c in calls}
            assert not names & {"open", "os.open", "os.listdir", "os.scandir", "subprocess.run"}, path
