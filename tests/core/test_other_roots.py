"""Other systems that lie unpacked in this one are no part of it: what leads to a program in there is theirs, and stays."""

from __future__ import annotations

import pytest

from planted import EDDA, PLOT, H
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.other_roots import OtherRoots
from swept_shelf.core.references.pointees import Pointees

ROOTS = ("/srv/chroot/bookworm", f"{H}/build/image", "/var/lib/machines/lab", "/var/lib/lxc/c1/rootfs")
LAYER = "/var/lib/docker/overlay2/0a1b/diff"


@pytest.fixture
def machine(tmp_path):
    root = tmp_path / "root"
    for top in ROOTS:
        for inner in ("usr/lib", "etc/alternatives", "var/lib"):
            (root / top[1:] / inner).mkdir(parents=True)
    (root / ROOTS[0][1:] / "usr/lib/os-release").write_text("ID=x\n")
    (root / LAYER[1:] / "etc/alternatives").mkdir(parents=True)
    for top in (*ROOTS, LAYER):
        (root / top[1:] / "etc/alternatives/drawer").symlink_to("/usr/bin/plot7")
    (root / H[1:] / "tools/usr").mkdir(parents=True)  # called like it, and nothing else
    for path in (f"{H}/tools/usr/drawer", f"{H}/lib/drawer", "/srv/drawer"):
        (root / path[1:]).parent.mkdir(parents=True, exist_ok=True)
        (root / path[1:]).symlink_to("/usr/bin/plot7")
    image = root / f"{H}/build/image/etc"[1:]
    (image / "tool.conf").write_text("command = /usr/bin/plot7\n")
    (root / "usr/bin").mkdir(parents=True)
    (root / "usr/bin/plot7").write_text("x")
    return open_machine(str(root))


def test_links_in_other_roots_and_their_layers_are_theirs_and_all_others_lead_here(machine):
    found = find_references(machine, [EDDA], {}, Pointees([PLOT]))
    assert {r.path for r in found.references[PLOT.id]} == {
        f"{H}/tools/usr/drawer",
        f"{H}/lib/drawer",
        "/srv/drawer",
    }
    assert not found.mentions.get(PLOT.id)


@pytest.mark.parametrize("path", [f"{top}/usr/share/x/link" for top in ROOTS] + [f"{LAYER}/opt/x"])
def test_another_root_is_known_by_what_every_system_has(machine, path):
    assert OtherRoots(machine).hold(path)


@pytest.mark.parametrize(
    "path", ["/usr/bin/x", "/etc/alternatives/x", f"{H}/lib/x", f"{H}/tools/usr/x", "/opt/var/x", H]
)
def test_this_system_and_folders_that_are_called_like_it_are_none(machine, path):
    assert not OtherRoots(machine).hold(path)
