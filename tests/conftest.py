"""Made-up machines for tests: built once per session, copied fresh for each test, access times and all."""

from __future__ import annotations

import gc
import os
import shutil
import sys
import tempfile
from collections.abc import Callable, Iterator
from pathlib import Path

_IN_MEMORY, _ROOM = (
    "/dev/shm",
    6 << 30,
)  # many small machines are built, carried and thrown away: a disk only waits for them
if "TMPDIR" not in os.environ and os.path.isdir(_IN_MEMORY) and shutil.disk_usage(_IN_MEMORY).free > _ROOM:
    os.environ["TMPDIR"] = tempfile.tempdir = _IN_MEMORY
_OWN = Path(tempfile.mkdtemp(prefix="swept-shelf-tests-"))
for _name in ("XDG_STATE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME"):
    os.environ[_name] = str(_OWN / _name.lower())
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.pop("PYTHONDONTWRITEBYTECODE", None)
sys.path.insert(0, str(Path(__file__).parent))

import pytest  # noqa: E402
from hypothesis import settings  # noqa: E402

from evidence import Room  # noqa: E402
from helpers import UNHURRIED, Job, MadeUp, built  # noqa: E402
from ready_workers import ready_workers  # noqa: E402
from staging import copied, staged  # noqa: E402
from swept_shelf.core.documents.survey import LastUse, Survey  # noqa: E402
from swept_shelf.core.use import journal  # noqa: E402

journal.TIME_BOUND = UNHURRIED
gc.set_threshold(50_000, 20, 100)
settings.register_profile("here", deadline=None)  # nothing asserts on wall time
settings.load_profile("here")


_LONGEST = (
    "test_cli.py",
    "test_desk.py",
    "test_real_screen.py",
    "test_way_back.py",
    "test_carry.py",
    "test_belongings.py",
    "test_audit.py",
    "test_inventory.py",
    "test_kills.py",
    "test_taking_out.py",
    "test_ending.py",
    "test_planted.py",
    "test_many_lines.py",
    "test_rights_helper.py",
    "test_disk.py",
    "test_shelf.py",
    "test_rights_asked.py",
    "test_move_data.py",
    "test_bombs.py",
    "test_use.py",
    "test_parsers.py",
    "test_archive.py",
    "test_flatpak.py",
)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """The long sweeps run only when their mark is asked for. The longest files begin first, so that no worker is left alone."""
    wanted = config.getoption("-m")
    left = [i for i in items if any(i.get_closest_marker(m) and m not in wanted for m in ("real", "sweep"))]
    if left:
        config.hook.pytest_deselected(items=left)
        items[:] = [i for i in items if i not in left]
    place = {name: number for number, name in enumerate(_LONGEST)}
    items.sort(key=lambda i: place.get(i.path.name, len(place)))


@pytest.fixture(scope="session", autouse=True)
def workers_stand_ready() -> Iterator[None]:
    """Desk and command line start their workers from one that stands ready; what tests of starting import is the real one."""
    with ready_workers() as command, pytest.MonkeyPatch.context() as patch:
        patch.setattr("swept_shelf.worker.client.worker_command", lambda: command)
        yield


@pytest.fixture
def made_up(tmp_path: Path) -> MadeUp:
    """A fresh copy of the small made-up machine."""
    return built(1).copy(tmp_path / "machine")


@pytest.fixture(scope="session")
def looked(tmp_path_factory: pytest.TempPathFactory) -> Job:
    """The made-up machine, surveyed once for all tests that only draw, rehearse and are refused."""
    return Job(built(1).copy(tmp_path_factory.mktemp("looked") / "machine"))


@pytest.fixture
def job(tmp_path: Path) -> Job:
    """The made-up machine, surveyed."""
    return copied(staged(), tmp_path / "machine")


@pytest.fixture
def room(tmp_path: Path) -> Room:
    """An empty machine that a test furnishes with packages, homes and traces."""
    return Room(tmp_path / "root")


@pytest.fixture
def uses(room: Room, tmp_path: Path) -> Callable[..., dict[str, LastUse]]:
    """When what is in the room was last used."""
    return lambda **more: room.uses(tmp_path / "out", **more)


@pytest.fixture
def look(room: Room, tmp_path: Path) -> Callable[..., Survey]:
    """A survey of the room."""
    return lambda **more: room.survey(tmp_path / "out", **more)
