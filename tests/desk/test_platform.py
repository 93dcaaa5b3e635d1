"""What Qt would abort for is one sentence; and its binding loses no reference to None."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

from deskwork import Desk
from helpers import cli
from swept_shelf.desk import platform


def test_a_missing_library_is_named_with_its_package():
    said = platform._missing("libxcb-cursor.so.0: cannot open shared object file: No such file or directory")
    assert (
        said
        == "the desk needs libxcb-cursor.so.0, which this computer lacks: sudo apt-get install libxcb-cursor0"
    )
    assert "libegl1" in platform._missing("libEGL.so.1: cannot open shared object file")
    assert "something else" in platform._missing("something else")


@pytest.mark.skipif(os.geteuid() != 0, reason="hides a library in namespaces of its own")
def test_without_a_library_of_its_platform_the_desk_says_so_and_does_not_abort(tmp_path):
    library = subprocess.run(
        ["sh", "-c", "ldconfig -p | sed -n 's/.*libxcb-cursor.so.0 .*=> //p' | head -n 1"],
        capture_output=True,
        text=True,
    ).stdout.strip()
    if not library:
        pytest.skip("the library is not here at all")
    (tmp_path / "nothing").touch()
    script = f"mount --bind {tmp_path / 'nothing'} $(readlink -f {library}) && exec {sys.executable} -m swept_shelf"
    said = subprocess.run(
        ["unshare", "--mount", "sh", "-c", script],
        capture_output=True,
        text=True,
        env={**os.environ, "DISPLAY": ":7", "QT_QPA_PLATFORM": "xcb"},
    )
    assert (
        said.returncode == 2
        and "sudo apt-get install libxcb-cursor0" in said.stderr
        and len(said.stderr.splitlines()) == 1
    ), said


def test_a_display_that_does_not_answer_is_named():
    said = cli(env={**os.environ, "DISPLAY": ":7431", "QT_QPA_PLATFORM": "xcb"})
    assert (
        said.returncode == 2
        and "no display answers at :7431" in said.stderr
        and len(said.stderr.splitlines()) == 1
    )


def test_no_reference_to_none_is_lost_however_often_every_station_is_painted(job, qtbot):
    """A binding that loses one at every call aborts after some minutes of work."""
    with Desk(job.machine, qtbot) as desk:
        _paint_and_count(desk)


def _paint_and_count(desk: Desk) -> None:
    window = desk.window
    stations = [window.stations.widget(i) for i in range(window.stations.count())]

    def paint() -> None:
        for station in stations:
            window.stations.setCurrentWidget(station)
            station.grab()

    paint()
    before = sys.getrefcount(None)
    for _ in range(100):
        paint()
    assert sys.getrefcount(None) > before - 100
