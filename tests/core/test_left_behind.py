"""What was left behind by applications that are gone, shared stores, and the sum of all parts of a volume."""

from __future__ import annotations

import json
import subprocess
from datetime import UTC, datetime

import pytest

from evidence import DESKTOP, ago
from registries import launcher, write
from swept_shelf.core.survey.take import Before

AT = datetime.fromtimestamp(ago(1), UTC)

# -- left behind, stores, and what a volume says ------------------------------------------------------------


def test_what_was_removed_long_ago_is_known_by_apts_history_and_by_a_launcher_that_leads_nowhere(room, look):
    write(
        room.root,
        "var/log/apt/history.log",
        "\nStart-Date: 2025-02-03  10:00:00\nCommandline: apt-get purge thornmail\n"
        "Purge: thornmail:all (3.1), libthorn1:all (3.1)\nEnd-Date: 2025-02-03  "
        "10:00:09\n",
    )
    room.home("vera", ".config/thornmail/x.ini", "a=1\n", ago(600))
    room.home("vera", ".local/share/mossgrid/x.db", "a=1\n", ago(700))
    room.home(
        "vera",
        ".local/share/applications/grid.desktop",
        launcher("Moss", "/opt/mossgrid/mossgrid %f"),
        ago(700),
    )
    room.home("vera", ".config/unknowable/x.ini", "a=1\n", ago(700))
    left = {e.name: e for e in look().left_behind}
    assert left["thornmail"].was.version == "3.1" and left["thornmail"].gone_since.year == 2025
    assert (
        left["thornmail"].evidence[0].path == "/var/log/apt/history.log"
        and left["thornmail"].evidence[0].line == 4
    )
    moss = left["mossgrid"]
    assert [b.path for b in moss.belongings] == [
        "/home/vera/.local/share/mossgrid"
    ] and moss.gone_since is None
    assert (
        moss.evidence[0].path.endswith("grid.desktop")
        and moss.evidence[0].line
        and not moss.belongings[0].ticked
    )
    assert "unknowable" not in left
    room.home("vera", ".config/oddfolder/x.ini", "last=/usr/bin/plumbago\nother=/usr/bin/env\n", ago(700))
    assert "plumbago" not in {e.name for e in look().left_behind}  # it is not called like it


@pytest.mark.parametrize(
    "unit", ["etc/systemd/system/fenceling.service", "home/vera/.config/systemd/user/fenceling.service"]
)
def test_a_unit_that_leads_nowhere_shows_what_was_left_behind(room, look, unit):
    write(room.root, unit, "[Service]\nExecStart=-/opt/fenceling/bin/fenceling --serve\n")
    room.home("vera", ".config/fenceling/x.ini", "a=1\n", ago(300))
    (found,) = look().left_behind
    assert [b.path for b in found.belongings] == ["/home/vera/.config/fenceling"]
    assert found.evidence[0].path == f"/{unit}" and found.evidence[0].line == 2
    write(room.root, "opt/fenceling/bin/fenceling", "#!/bin/sh\n", 0o755)
    assert not look().left_behind


def test_every_store_has_its_size_its_age_and_its_own_way_and_downloads_are_only_listed(room, look):
    write(room.root, "var/cache/apt/archives/x.deb", "x" * 9000)
    room.times("var/cache/apt/archives/x.deb", ago(400), ago(400))
    write(room.root, "var/lib/systemd/coredump/core.x", "x" * 9000)
    write(room.root, f".Trash-{1001}/files/a", "x" * 9000)
    for path in ("Downloads/a.zip", ".local/share/Trash/files/b", ".cache/pip/http/x", ".npm/_cacache/y"):
        room.home("vera", path, "x" * 9000, ago(40))
    stores = {s.id: s for s in look().shared_stores}
    assert set(stores) == {
        "store:package_downloads",
        "store:core_dumps",
        "store:trash:vera@/",
        "store:trash:vera",
        "store:downloads:vera",
        "store:tool_downloads:vera/pip",
        "store:tool_downloads:vera/npm",
    }
    downloads, old = stores["store:downloads:vera"], stores["store:package_downloads"]
    assert (
        downloads.clear_by == ""
        and not downloads.offered
        and 0 < downloads.older_than_month <= downloads.bytes
        and downloads.older_than_year == 0
    )
    assert 0 < old.older_than_year <= old.bytes and old.clear_by == "apt-get clean"


def test_all_parts_together_are_what_lies_on_the_volume(room, look):
    room.home("vera", "Documents/a.txt", "x" * 9000, ago(3))
    write(room.root, "swapfile", b"\1" * 50_000)
    survey = look()
    (account,) = survey.accounts[:1]
    counted = int(
        subprocess.run(
            ["du", "-s", "-B1", str(room.root)], capture_output=True, text=True, check=True
        ).stdout.split()[0]
    )
    parts = {p.what: p.bytes for p in account.parts}
    assert (
        sum(parts.values()) == counted
        and parts["swap file"] >= 50_000
        and parts["application"]
        and parts["person"]
    )
    assert account.used == account.not_accounted + counted


def test_a_program_that_did_not_change_is_not_read_again_for_the_places_that_it_names(room, look, tmp_path):
    place = f".config/{DESKTOP}"
    room.home("vera", f"{place}/x.ini", "a=1\n", ago(20))

    def claimed():
        (app,) = [a for a in look(before=Before(str(tmp_path / "out"), AT)).applications if DESKTOP in a.id]
        return {b.path for b in app.belongings}

    assert f"/home/vera/{place}" in claimed()
    kept = tmp_path / "out/named.json"
    rows = json.loads(kept.read_text())
    told = rows[f"/usr/bin/{DESKTOP}"]
    assert told[1][0][0] == place
    told[1] = [["/var/lib/told-by-memory", 1, "x"]]
    kept.write_text(json.dumps(rows))
    write(room.root, "var/lib/told-by-memory/x", "x")
    assert "/var/lib/told-by-memory" in claimed()
    (room.root / f"usr/bin/{DESKTOP}").unlink()
    write(room.root, f"usr/bin/{DESKTOP}", "#!/bin/sh\n# another one\n", 0o755)
    assert "/var/lib/told-by-memory" not in claimed()
    kept.write_text('["/usr/bin/x", {}')
    assert claimed()


def test_new_files_in_temporary_folders_have_no_program_searched_again(room, look, tmp_path):
    """Names come there every hour; only what is called like an application is looked for in programs."""

    def names():
        return set(json.loads((tmp_path / "out/literals.json").read_text())[0])

    write(room.root, f"tmp/{DESKTOP}-work-7/x", "x")
    look()
    before = names()
    assert f"{DESKTOP}-work-7" in before
    for path in ("tmp/plates.raw", "tmp/xk29f8a/x", "var/tmp/Oddness.d/x"):
        write(room.root, path, "x" * 9000)
    look()
    assert names() == before
