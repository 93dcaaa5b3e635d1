"""The house: each folder of core imports only from those above it, and core knows no interface code."""

from __future__ import annotations

import ast
import subprocess
import sys
from functools import cache
from pathlib import Path

SOURCE = Path(__file__).parents[2] / "src" / "swept_shelf"
ABOVE = [
    "documents",
    "grammars",
    "machine",
    "tree",
    "registries",
    "applications",
    "references",
    "belongings",
    "use",
    "survey",
    "orders",
    "carry",
    "clearance",
]
ONLY = {
    "ledger": {"documents", "ledger"},
    "reports": {"documents", "reports"},
    "demo": {"documents", "machine", "demo"},
}
MODULES = sorted((SOURCE / "core").rglob("*.py"))


@cache
def imported(path: Path) -> list[str]:
    found = []
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found += [a.name for a in node.names]
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.append(node.module)
    return found


def test_core_imports_only_what_stands_above():
    wrong = []
    for path in MODULES:
        room = path.relative_to(SOURCE / "core").parts[0]
        if room == "__init__.py":
            continue
        allowed = ONLY.get(room) or set(ABOVE[: ABOVE.index(room) + 1])
        for name in imported(path):
            parts = name.split(".")
            outside = parts[0] == "swept_shelf" and len(parts) > 1 and parts[1] != "core"
            below = parts[0] == "swept_shelf" and len(parts) > 2 and parts[2] not in allowed
            if parts[0] in ("PySide6", "click", "rich") or outside or below:
                wrong.append(f"{path} imports {name}")
    assert wrong == []


def test_the_worker_imports_neither_desk_nor_command_line_nor_ledger():
    for path in (SOURCE / "worker").glob("*.py"):
        for name in imported(path):
            assert not name.startswith(
                (
                    "swept_shelf.desk",
                    "swept_shelf.cli",
                    "swept_shelf.core.ledger",
                    "swept_shelf.workshop",
                    "sqlalchemy",
                )
            ), path
    code = (
        "import sys, swept_shelf.worker.looking, swept_shelf.worker.carrying, swept_shelf.core.survey, swept_shelf.core.clearance;"
        "print([m for m in sys.modules if m.split('.')[0] in ('sqlalchemy', 'PySide6', 'click')])"
    )
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, text=True).stdout.strip() == "[]"


# What core opens by itself: its own files, each with the reason. Everything of the machine goes through `machine`.
OWN_FILES = {
    "registries/rpm/change.py": {"write_bytes"},  # a record, in a private folder
    "applications/protected.py": {"read_text"},
    "belongings/common.py": {"read_text"},
    "registries/games/read.py": {"read_text"},
    "reports/visit.py": {"read_text"},  # tables that the package brings along
    "belongings/literals.py": {"read_bytes", "write_text"},  # a survey's own folder
    "belongings/read_before.py": {"read_bytes", "write_text"},  # a survey's own folder
    "survey/take.py": {"open"},
    "clearance/remnants.py": {"mkdir", "write_bytes"},  # a survey's own folder
    "tree/index.py": {"sqlite3.connect"},  # a survey's own folder
    "tree/write_index.py": {"open", "sqlite3.connect", "unlink"},
    "belongings/corrections.py": {
        "write_text",
        "read_text",
        "exists",
        "mkdir",
        "replace",
    },  # the technician's corrections
    "carry/execute.py": {"write_bytes", "unlink", "exists", "replace"},
    "carry/ops/edit.py": {"write_bytes"},  # into a slot, by its descriptor
    "carry/archive/read.py": {"os.open"},  # the technician's archive, on a medium
    "carry/archive/write.py": {"open", "os.open", "os.link", "rename", "unlink"},
    "carry/journal.py": {"os.open", "open", "exists", "unlink"},
    "carry/run.py": {
        "read_bytes",
        "write_bytes",
        "open",
        "os.open",
        "mkdir",
        "rename",
        "lstat",
        "os.link",
        "shutil.copyfile",
        "shutil.rmtree",
    },  # a run's own folder
    "carry/originals.py": {
        "mkdir",
        "os.open",
        "os.readlink",
        "os.rmdir",
    },  # the technician's folder for originals
    "registries/debian/original.py": {
        "open",
        "replace",
        "unlink",
        "stat",
    },  # the original in that folder, or on the shelf, by its descriptor
    "registries/debian/read.py": {"write_bytes", "mkdir", "os.open"},
    "registries/rpm/read.py": {"open"},  # private copies
    "registries/holding.py": {"os.listdir", "os.readlink", "os.stat"},  # /proc of this computer
    "registries/images.py": {"read_bytes", "iterdir"},  # inside an image that is open already
    "tree/cut.py": {"os.scandir"},
    "tree/remember.py": {"os.scandir", "os.lstat"},  # the walk, below the root's descriptor
}
_CALLS = {
    "open",
    "io.open",
    "os.open",
    "os.listdir",
    "os.scandir",
    "os.walk",
    "os.fwalk",
    "os.stat",
    "os.lstat",
    "os.readlink",
    "os.system",
    "os.popen",
    "os.fork",
    "os.remove",
    "os.unlink",
    "os.rename",
    "os.replace",
    "os.mkdir",
    "os.makedirs",
    "os.rmdir",
    "os.symlink",
    "os.link",
    "os.chmod",
    "os.chown",
    "os.utime",
    "os.truncate",
    "os.execv",
    "os.posix_spawn",
    "sqlite3.connect",
    "shutil.copyfile",
    "shutil.copy",
    "shutil.rmtree",
    "shutil.move",
}
_METHODS = {
    "read_text",
    "read_bytes",
    "write_text",
    "write_bytes",
    "iterdir",
    "glob",
    "rglob",
    "unlink",
    "mkdir",
    "rename",
    "replace",
    "rmdir",
    "touch",
    "exists",
    "stat",
    "lstat",
    "symlink_to",
    "open",
    "chmod",
}
_DESCRIPTORS = {"fd", "slot", "inner", "top", "here", "new"}


def _doors(path: Path) -> set[str]:
    """What a module opens, lists, makes or removes by a path of its own; by a descriptor it was handed is no door."""
    found = set()
    for call in (n for n in ast.walk(ast.parse(path.read_text())) if isinstance(n, ast.Call)):
        name = ast.unparse(call.func)
        by_descriptor = any(k.arg in ("dir_fd", "src_dir_fd") for k in call.keywords) or (
            call.args and ast.unparse(call.args[0]) in _DESCRIPTORS
        )
        if name in _CALLS and not by_descriptor:
            found.add(name)
        if isinstance(call.func, ast.Attribute) and call.func.attr in _METHODS:
            whose = ast.unparse(call.func.value)
            text_only = call.func.attr == "replace" and (len(call.args) >= 2 or call.keywords)
            if (
                "machine" not in whose
                and whose not in ("os", "re", "beneath", "tarfile", "e", "entry")
                and not text_only
            ):
                found.add(call.func.attr)
    return found


# The door itself, our own store, and the builder of a made-up machine.
MAY_OPEN = ("machine", "ledger", "demo")
BY_ITSELF = {"subprocess", "socket", "ctypes", "urllib3", "ssl", "ftplib", "asyncio"}


def test_nothing_of_core_opens_lists_connects_or_runs_but_through_the_machine():
    for path in MODULES:
        name = str(path.relative_to(SOURCE / "core"))
        if name.split("/")[0] in MAY_OPEN:
            continue
        assert _doors(path) == OWN_FILES.get(name, set()), name
        names = imported(path)
        assert not {m.split(".")[0] for m in names} & BY_ITSELF, name
        assert not {"urllib.request", "http.client"} & set(names), name


def test_another_door_would_be_seen(tmp_path):
    for code in (
        "open('/x')",
        "import os\nos.open('/x', 0)",
        "from pathlib import Path\nPath('/x').read_text()",
        "import os\nos.listdir('/x')",
        "import sqlite3\nsqlite3.connect('x')",
    ):
        (tmp_path / "x.py").write_text(code)
        assert _doors(tmp_path / "x.py"), code


def test_every_command_that_core_runs_stands_in_the_table_of_docs():
    from swept_shelf.core.machine.commands import ALLOWED

    text = (SOURCE.parents[1] / "docs/security.md").read_text()
    for command in ALLOWED:
        assert f"| `{command}` |" in text, command


def test_the_helper_with_more_rights_imports_neither_desk_nor_command_line_nor_ledger():
    code = "import sys, swept_shelf.rights.helper; print(*sys.modules)"
    loaded = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True
    ).stdout.split()
    assert not {m.split(".")[0] for m in loaded} & {"PySide6", "click", "sqlalchemy", "rich"}
    assert not [
        m for m in loaded if m.startswith(("swept_shelf.desk", "swept_shelf.cli", "swept_shelf.core.ledger"))
    ]
