"""What one person's files say counts for what that person owns; a folder is a program's only where it looks like one."""

from __future__ import annotations

import os
from pathlib import Path

import disk
import pytest

from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey.take import take_survey

pytestmark = pytest.mark.skipif(os.geteuid() != 0, reason="files of several people can only be made by root")
OTHER = 1010
HOME = disk.HOME


@pytest.fixture
def root(tmp_path):
    made = disk.plain_root(tmp_path / "disk")
    with open(made / "etc/passwd", "a") as people:
        people.write(f"sorrel:x:{OTHER}:{OTHER}::/home/sorrel:/bin/sh\n")
    (made / "home/sorrel").mkdir()
    return made


def own(root: Path) -> None:
    """Homes belong to their people."""
    for home, uid in (("mallow", disk.UID), ("sorrel", OTHER)):
        for path in (root / "home" / home, *(root / "home" / home).rglob("*")):
            os.chown(path, uid, uid, follow_symlinks=False)


def surveyed(root: Path, tmp_path: Path):
    (tmp_path / "out").mkdir(exist_ok=True)
    return take_survey(open_machine(root), str(tmp_path / "out"), [])


def claimed(survey, below: str) -> list[tuple[str, str, bool]]:
    entries = [*survey.applications, *survey.left_behind]
    return [
        (e.id, b.path, b.ticked)
        for e in entries
        for b in e.belongings
        if b.path == below or b.path.startswith(below + "/")
    ]


def company(root: Path, top: str, uid: int = 0) -> None:
    for name in ("invoices/2024.pdf", "letters/a.odt", "data.db"):
        disk.put(root, f"{top}/{name}", "x" * 5000)
    disk.put(root, f"{top}/run", "#!/bin/sh\n").chmod(0o755)
    for path in (root / top, *(root / top).rglob("*")):
        os.chown(path, uid, uid)


@pytest.mark.parametrize(
    "top", ["srv/company/data", "opt/company/data", "home/sorrel/company", "usr/local/company"]
)
@pytest.mark.parametrize("uid", [0, OTHER])
def test_one_persons_launcher_takes_nothing_of_anothers(root, tmp_path, top, uid):
    disk.put(
        root,
        f"{HOME}/.local/share/applications/take.desktop",
        f"[Desktop Entry]\nType=Application\nName=Take\nExec=/{top}/run\n",
    )
    own(root)
    company(root, top, uid)
    assert claimed(surveyed(root, tmp_path), f"/{top}") == []


def test_the_systems_launcher_takes_only_the_file_it_names_where_people_keep_their_work(root, tmp_path):
    disk.put(
        root,
        "usr/local/share/applications/take.desktop",
        "[Desktop Entry]\nType=Application\nName=Take\nExec=/srv/company/data/run\n",
    )
    company(root, "srv/company/data")
    assert [p for _, p, ticked in claimed(surveyed(root, tmp_path), "/srv") if ticked] in (
        [],
        ["/srv/company/data/run"],
    )


def test_an_unpacked_program_is_its_whole_folder_and_one_put_into_older_data_is_not(root, tmp_path):
    for top in ("opt/good", "opt/late"):
        disk.put(root, f"{top}/share/data.pak", "x" * 9000)
    launcher = "[Desktop Entry]\nType=Application\nName={}\nExec=/opt/{}/bin/go\n"
    for name in ("good", "late"):
        disk.put(root, f"opt/{name}/bin/go", b"\x7fELF" + bytes(60)).chmod(0o755)
        disk.put(root, f"usr/local/share/applications/{name}.desktop", launcher.format(name, name))
    from swept_shelf.core.registries.unregistered.shape import looks_like_a_program
    from swept_shelf.core.tree.walk import walk

    tree = walk(open_machine(root))
    assert looks_like_a_program(tree, "/opt/good", "/opt/good/bin/go")
    tree.ctime[tree.where["/opt/late/share/data.pak"]] -= (
        40 * 86_400 * 10**9
    )  # it lay there long before the program came
    assert not looks_like_a_program(tree, "/opt/late", "/opt/late/bin/go")
    assert ("files:/opt/good", "/opt/good", True) in claimed(surveyed(root, tmp_path), "/opt/good")


@pytest.mark.parametrize(
    "setting",
    [
        "XDG_CACHE_HOME=/home/sorrel",
        "XDG_CONFIG_HOME=/home/sorrel/.config",
        "XDG_DATA_HOME=/srv/shared",
        "LANTERN_HOME=/home/sorrel/lantern",
        "XDG_CACHE_HOME=/var/lib",
        "XDG_CACHE_HOME=$HOME/../sorrel",
        "XDG_STATE_HOME=/home/mallow/link",
    ],
)
def test_one_persons_environment_claims_nothing_of_anothers(root, tmp_path, setting):
    for place in (
        "home/sorrel/lantern/x",
        "home/sorrel/.config/lantern/x",
        "srv/shared/lantern/x",
        "var/lib/lantern-of-others/x",
    ):
        disk.put(root, place, "x" * 5000)
    disk.put(root, f"{HOME}/.profile", f"export {setting}\n")
    (root / HOME / "link").symlink_to("/home/sorrel")
    disk.put(root, "usr/bin/lantern", "#!/bin/sh\necho $LANTERN_HOME\n").chmod(0o755)
    own(root)
    before = surveyed(root, tmp_path)
    (root / HOME / ".profile").write_text("")
    after = surveyed(root, tmp_path)
    for place in ("/home/sorrel", "/srv/shared", "/var/lib/lantern-of-others"):
        assert claimed(before, place) == claimed(after, place)


@pytest.mark.parametrize("receipt", ["pip", "pipx", "game", "npm"])
def test_one_persons_receipts_take_nothing_of_anothers(root, tmp_path, receipt):
    company(root, "srv/company/data", OTHER)
    up = "../" * 12
    if receipt == "pip":
        info = f"{HOME}/.local/lib/python3.11/site-packages/take-1.dist-info"
        disk.put(root, f"{info}/METADATA", "Name: take\nVersion: 1\n")
        disk.put(root, f"{info}/entry_points.txt", "[console_scripts]\ntake = x:y\n")
        disk.put(
            root,
            f"{info}/RECORD",
            f"{up}srv/company/data/invoices/2024.pdf,,\n/srv/company/data/run,,\n{up}srv/company/data,,\n",
        )
    elif receipt == "pipx":
        disk.put(
            root,
            f"{HOME}/.local/share/pipx/venvs/take/pipx_metadata.json",
            '{"main_package": {"package": "take", "package_version": "1", "apps": ["'
            + up
            + 'srv/company/data/run"]}}',
        )
    elif receipt == "game":
        disk.put(
            root, f"{HOME}/.local/share/Steam/steamapps/libraryfolders.vdf", '"path" "/srv/company/data"\n'
        )
        disk.put(
            root,
            f"{HOME}/.local/share/Steam/steamapps/appmanifest_7.acf",
            f'"name" "Take"\n"installdir" "{up}srv/company/data"\n"appid" "7"\n',
        )
    else:
        disk.put(
            root,
            f"{HOME}/.npm-global/lib/node_modules/take/package.json",
            '{"name": "take", "version": "1", "bin": {"' + up + 'srv/company/data/run": "x"}}',
        )
    own(root)
    assert claimed(surveyed(root, tmp_path), "/srv/company") == []
