"""The safety net: configuration that no kind of reference reads, and that names what went."""

from __future__ import annotations

import hashlib
import os

import pytest

from planted import H
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointee, Pointees

TO = Pointees(
    [
        Pointee(
            "plot",
            commands=("plot7",),
            programs=("/usr/bin/plot7",),
            folders=("/opt/plot", f"{H}/.config/plot7"),
            launchers=("plot7.desktop",),
            buses=("example.Plot7",),
            names=("plot7",),
        ),
        Pointee("ash", programs=("/usr/bin/ashen",), names=("ashen",)),
        Pointee("two", names=("both",)),
        Pointee("other", names=("both",)),
    ]
)
EDDA = Person("edda", 1000, H, "all")


def mentions(root, files, shipped=None):
    (root / H[1:]).mkdir(parents=True, exist_ok=True)
    for path, text in files.items():
        place = root / path[1:]
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(text if isinstance(text, bytes) else text.encode())
    return find_references(open_machine(root), [EDDA], shipped or {}, TO)


@pytest.mark.parametrize(
    ("path", "text", "line", "detail"),
    [
        ("/etc/odd/settings.yaml", "a: 1\nlike: plot7\n", 2, "names it"),
        ("/etc/odd.conf", '# tool = "/opt/plot/bin/x"\n', 1, "names a place of it"),
        ("/usr/local/etc/thing.toml", "# open = 'example.Plot7'\n", 1, "names a place of it"),
        (f"{H}/.odd/deep/er/rules.kdl", "bind { spawn plot7; }\n", 1, "names it"),
        (f"{H}/.oddrc", "# plot7.desktop\nx: plot7\n", 1, "names a place of it, in 2 lines"),
        ("/opt/suite/etc/x.ini", "[a]\n; b=/usr/bin/plot7 -x\n", 2, "names a place of it"),
        (f"{H}/.config/odd/state.json", '{"last": "plot7.conf"}', 1, "names it"),
        (f"{H}/.config/odd/units", "plot7@home\nx plot7@.service\n", 2, "names it"),
    ],
)
def test_configuration_that_names_it_is_mentioned_with_the_line(tmp_path, path, text, line, detail):
    found = mentions(tmp_path / "root", {path: text})
    (mention,) = found.mentions["plot"]
    assert (mention.path, mention.line, mention.detail) == (path, line, detail)
    assert (mention.mention, mention.action, mention.kind) == (True, "leave", "mention")
    assert found.searched == 1 and "ash" not in found.mentions


@pytest.mark.parametrize(
    ("path", "text"),
    [
        (
            "/etc/odd.conf",
            "plot7er\nmyplot7\nplot7-tools\nplot7_x\nplot7+\nplot7.example.org\nuser@plot7.org.x9\n",
        ),
        ("/etc/odd.conf", "/usr/bin/plot7er /usr/bin/plot7.old ~/opt/plot /srv/opt/plot\n"),
        ("/etc/odd.conf", "org.else.Plot7 example.Plot7x both\n"),
        ("/etc/odd.conf", "# This file was generated automatically.\nplot7\n"),
        ("/etc/odd.conf", b"\x7fELF\0plot7\n"),
        ("/etc/odd.conf", "x" * 300_000 + "\nplot7\n"),
        ("/etc/odd.mp3", "plot7\n"),
        (f"{H}/.bash_history", "plot7 secret\n"),
        (f"{H}/.cache/odd/x.conf", "plot7\n"),
        (f"{H}/.config/plot7/own.conf", "plot7\n"),
        ("/opt/plot/etc/own.conf", "plot7\n"),
        ("/etc/passwd-", "plot7:x:1:1::/:/bin/sh\n"),
    ],
)
def test_longer_names_words_of_several_and_what_is_no_configuration_are_none(tmp_path, path, text):
    assert mentions(tmp_path / "root", {path: text}).mentions == {}


def test_a_persons_working_copy_and_what_a_registry_shipped_unchanged_say_nothing(tmp_path):
    shipped = b"uses = plot7\n"
    files = {
        f"{H}/source/x/.git/HEAD": "ref\n",
        f"{H}/source/x/setup.cfg": "plot7\n",
        "/etc/own.conf": shipped,
        "/etc/changed.conf": shipped + b"more = plot7\n",
        "/usr/local/share/listed.conf": shipped,
    }
    sums = {p: hashlib.md5(shipped).hexdigest() for p in ("/etc/own.conf", "/etc/changed.conf")}
    found = mentions(tmp_path / "root", files, sums | {"/usr/local/share/listed.conf": ""})
    assert [m.path for m in found.mentions["plot"]] == ["/etc/changed.conf"]


def test_a_line_that_is_known_as_a_reference_is_not_mentioned_again_and_the_others_are(tmp_path):
    found = mentions(tmp_path / "root", {f"{H}/.bashrc": "alias p='plot7'\n# was plot7 once\n"})
    assert [r.line for r in found.references["plot"]] == [1]
    assert [(m.line, m.text) for m in found.mentions["plot"]] == [(2, "# was plot7 once")]


def test_a_name_that_everything_mentions_is_cut_short_with_the_surest_first(tmp_path):
    files = {f"/etc/many/{i:03}.conf": "plot7\n" for i in range(60)} | {"/etc/many/z.conf": "# /opt/plot/x\n"}
    found = mentions(tmp_path / "root", files).mentions["plot"]
    assert len(found) == 21 and found[0].path == "/etc/many/z.conf"
    assert found[-1].detail == "names it, and 40 more files do"


def test_secrets_pipes_links_and_odd_bytes_harm_nobody(tmp_path):
    root = tmp_path / "root"
    (root / "etc/odd").mkdir(parents=True)
    os.mkfifo(root / "etc/odd/pipe.conf")
    (root / "etc/odd/link.conf").symlink_to("/etc/odd/pipe.conf")
    (root / "etc/odd/round").symlink_to("/etc/odd")
    os.mkdir(os.fsencode(root / "etc/odd") + b"/\xff\n")
    (root / "etc/odd/\udcff\n/x.conf").write_bytes(b"plot7 password=hunter2longenough \xff\n")
    (root / "etc/odd/closed.conf").write_text("plot7\n")
    (root / "etc/odd/closed.conf").chmod(0)
    found = mentions(root, {})
    paths = [m.path for m in found.mentions["plot"]]
    assert "/etc/odd/\udcff\n/x.conf" in paths and not any(
        "hunter2" in m.text for m in found.mentions["plot"]
    )
    if os.geteuid():
        assert [n.path for n in found.not_read["mention"]] == ["/etc/odd/closed.conf"]


def test_a_tree_without_end_is_not_searched_to_its_end_and_that_is_said(tmp_path, monkeypatch):
    from swept_shelf.core.references import mentions as net

    monkeypatch.setattr(net, "_MOST_FOLDERS", 5)
    root = tmp_path / "root"
    for i in range(9):
        (root / f"opt/many/{i}").mkdir(parents=True)
    found = mentions(root, {"/etc/odd.conf": "plot7\n"})
    assert [n.path for n in found.not_read["mention"]] == ["/opt"] and found.mentions["plot"]
