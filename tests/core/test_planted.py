"""One law for every kind of reference: found in its place, cut, nothing found any more, every other byte the same, still whole,
and put back equal."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path

import pytest

from planted import ALONE, EDDA, ELSEWHERE, LINKS, PLANTED, TO, H, entry, plant
from swept_shelf.core.clearance.findings import finding_of
from swept_shelf.core.documents.paths import base
from swept_shelf.core.references.cutting import put_in_again, without
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.references.take_out import cuts_for, why_broken


def found_in(machine, kind, to=TO):
    found = find_references(machine, [EDDA], {}, to)
    assert not any(found.not_read.values())
    return {id: [r for r in refs if r.kind == kind] for id, refs in found.references.items()}


def test_every_kind_is_planted_at_least_twice():
    told = {k: len(PLANTED.get(k, LINKS.get(k, ()))) for k in KINDS if k not in ELSEWHERE}
    assert [k for k, n in told.items() if n < 2] == []


def test_the_page_about_references_has_every_kind():
    page = (Path(__file__).parents[2] / "docs/references.md").read_text()
    assert [k for k in KINDS.values() if f"| {k.family.replace('_', ' ')} | {k.name} |" not in page] == []


CASES = [(kind, *sample) for kind, samples in PLANTED.items() for sample in samples]


@pytest.mark.parametrize(("kind", "path", "before", "left"), CASES, ids=[f"{c[0]} {c[1]}" for c in CASES])
def test_what_points_at_it_is_found_and_taken_out_and_nothing_else(tmp_path, kind, path, before, left):
    machine = plant(tmp_path / "root", [(path, before)])
    found = found_in(machine, kind)
    mine = found.get("plot", [])
    if left == "same":
        assert mine == []
        return
    assert mine and {r.path for r in mine} == {path}
    if left is None:
        assert all(r.whole for r in mine)
        return
    assert not any(r.whole for r in mine)
    cuts = cuts_for(kind, path, before, ALONE, {(r.line, r.key) for r in mine}, H)
    after = without(before, cuts)
    assert after == left
    assert why_broken(kind, path, before, after) == ""
    (tmp_path / "root" / path[1:]).write_text(after)
    again = found_in(machine, kind)
    assert again.get("plot", []) == []
    assert len(again.get("ash", [])) == len(found.get("ash", []))
    assert put_in_again(after, before, after) == before


@pytest.mark.parametrize("kind", LINKS)
def test_links_that_lead_to_it_go_whole(tmp_path, kind):
    machine = plant(tmp_path / "root", [], LINKS[kind])
    expected = {path for path, target in LINKS[kind] if "plot7er" not in target}
    found = found_in(machine, kind).get("plot", [])
    assert {r.path for r in found} == expected and all(r.whole for r in found)


def test_another_name_of_its_file_is_found_by_the_file_also_when_its_own_name_is_gone(tmp_path):
    root = tmp_path / "root"
    machine = plant(root, [("/opt/plot/bin/plot", "#!/bin/sh\n"), ("/usr/bin/ashen", "#!/bin/sh\n")])
    (root / "srv/keep").mkdir(parents=True)
    os.link(root / "opt/plot/bin/plot", root / "srv/keep/old")
    os.link(root / "usr/bin/ashen", root / "srv/keep/other")
    status = (root / "opt/plot/bin/plot").stat()
    files = {(machine.file_system(status.st_dev), status.st_ino): "plot"}
    for _ in range(2):
        found = find_references(machine, [EDDA], {}, TO, files=files).references.get("plot", [])
        assert [(r.path, r.kind, r.action, r.whole) for r in found] == [
            ("/srv/keep/old", "other name of its file", "ask", True)
        ]
        (root / "opt/plot/bin/plot").unlink(missing_ok=True)
        machine = plant(root, [])


def test_a_link_is_meant_by_its_name_only_where_shells_find_it_and_nothing_else_is_called_so(tmp_path):
    """Nobody's own link makes a command of the system another's."""
    root = tmp_path / "root"
    files = [
        ("/usr/bin/ls", "#!/bin/sh\n"),
        ("/etc/cron.d/x", "1 2 * * * root ls /srv\n1 3 * * * root maps --all\n1 4 * * * root mine\n"),
        (f"{H}/.bashrc", "alias l='ls -l'\nalias m='mine -x'\nmaps &\n"),
    ]
    links = [
        (f"{H}/.local/bin/ls", "/usr/bin/plot7"),
        (f"{H}/.local/bin/mine", "/usr/bin/plot7"),
        ("/usr/local/bin/maps", "/opt/plot/bin/plot"),
    ]
    found = find_references(plant(root, files, links), [EDDA], {}, TO).references["plot"]
    told = {(r.path, r.line) for r in found if not r.whole}
    assert told == {("/etc/cron.d/x", 2), (f"{H}/.bashrc", 2), (f"{H}/.bashrc", 3)}


def test_a_settings_file_of_a_package_is_looked_at_only_when_somebody_changed_it(tmp_path):
    line = "1 2 * * * root plot7\n"
    machine = plant(tmp_path / "root", [("/etc/cron.d/theirs", line), ("/etc/cron.d/listed", line)])
    came = hashlib.md5(line.encode()).hexdigest()
    for shipped, expected in (
        ({"/etc/cron.d/theirs": came, "/etc/cron.d/listed": ""}, set()),
        ({"/etc/cron.d/theirs": "0" * 32, "/etc/cron.d/listed": ""}, {"/etc/cron.d/theirs"}),
    ):
        found = find_references(machine, [EDDA], shipped, TO).references.get("plot", [])
        assert {r.path for r in found} == expected


def test_a_settings_file_of_a_package_is_edited_and_never_goes_whole(tmp_path):
    path, text = "/etc/rsnapshot.conf", "cmd_preexec\t/usr/bin/plot7 --dump\n"
    machine = plant(tmp_path / "root", [(path, text)])
    for shipped, whole in (({}, True), ({path: "0" * 32}, False)):
        (mine,) = find_references(machine, [EDDA], shipped, TO).references["plot"]
        assert (mine.path, mine.whole) == (path, whole)


def test_what_is_not_in_effect_is_found_and_said_so(tmp_path):
    files = [
        (f"{H}/.config/autostart/a.desktop", entry("plot7", "Hidden=true\n")),
        ("/etc/xdg/autostart/a.desktop", entry("plot7")),
        ("/etc/xdg/autostart/b.desktop", entry("plot7")),
        ("/etc/cron.d/good", "1 2 * * * root plot7\n"),
        ("/etc/cron.d/odd.bak", "1 2 * * * root plot7\n"),
        (f"{H}/.bash_profile", "true\n"),
        (f"{H}/.bash_login", "plot7 &\n"),
        (f"{H}/.ssh/config", "Host a\n  ProxyCommand ashen\n  ProxyCommand plot7 x\n"),
        (f"{H}/.gitconfig", "[core]\n\teditor = plot7\n\teditor = ashen\n"),
        ("/etc/rc.local", "plotd\nexit 0\nplot7\n"),
    ]
    found = find_references(plant(tmp_path / "root", files), [EDDA], {}, TO).references["plot"]
    told = {(r.path, r.line): r.in_effect for r in found}
    assert told == {
        (f"{H}/.config/autostart/a.desktop", 4): False,
        ("/etc/xdg/autostart/a.desktop", 4): False,
        ("/etc/xdg/autostart/b.desktop", 4): True,
        ("/etc/cron.d/good", 1): True,
        ("/etc/cron.d/odd.bak", 1): False,
        (f"{H}/.bash_login", 1): False,
        (f"{H}/.ssh/config", 3): False,
        (f"{H}/.gitconfig", 2): False,
        ("/etc/rc.local", 1): True,
        ("/etc/rc.local", 3): False,
    }


NAMED = "setting that names it"  # of files in which the search for mentions finds something, and says what it cannot read


def first_place(kind):
    return PLANTED[kind][0][0]


@pytest.mark.parametrize("kind", [k for k in PLANTED if k not in ELSEWHERE and k != NAMED])
def test_what_cannot_be_read_is_said_and_never_clear(tmp_path, kind):
    """A pipe, a file too large, a folder that only root may list, and bytes that are no text, where a file should stand."""
    path, root = first_place(kind), tmp_path / "root"
    machine = plant(root, [(path, "x")])
    place = root / path[1:]
    place.unlink()
    os.mkfifo(place)
    family = KINDS[kind].family
    found = find_references(machine, [EDDA], {}, TO)
    assert path in {n.path for n in found.not_read.get(family, ())}
    place.unlink()
    place.write_bytes(bytes(range(256)) * 40 + b"\n\xff\xfeplot7\0plot7\n")
    found = find_references(machine, [EDDA], {}, TO)  # read, or said to be none: never a fault of the reader
    assert not [n for n in found.not_read.get(family, ()) if n.reason.startswith("could not be read")]
    place.unlink()
    place.mkdir()
    found = find_references(machine, [EDDA], {}, TO)
    assert path not in {n.path for n in found.not_read.get(family, ())}
    if not KINDS[kind].head:
        place.rmdir()
        with place.open("wb") as huge:
            huge.truncate(KINDS[kind].most + (2 << 20))
        found = find_references(machine, [EDDA], {}, TO)
        assert path in {n.path for n in found.not_read[family]}


def test_no_secret_of_an_account_stands_in_what_is_said(tmp_path):
    shadow = (
        "root:$6$salt$hashofroot:1::::::\n_plot:$6$salt$hashofplot:1::::::\nedda:$6$salt$hashofedda:1::::::\n"
    )
    machine = plant(
        tmp_path / "root", [("/etc/shadow", shadow), ("/etc/passwd", "_plot:x:9:9::/:/bin/false\n")]
    )
    found = find_references(machine, [EDDA], {}, TO).references["plot"]
    assert {r.path for r in found} == {"/etc/passwd", "/etc/shadow"}
    said = "".join(map(str, (*found, *(finding_of(r, machine) for r in found))))
    assert "hashof" not in said


@pytest.mark.parametrize(
    ("kind", "path", "text"),
    [
        ("log rotation", "/etc/logrotate.d/x", "/" * 20000 + "\n" + "/a /b " * 5000),
        ("confinement", "/etc/apparmor.d/x", "/usr/" + "{a,b}" * 60 + "/plot7 {\n}\n" + "\n" * 3000),
        ("shell line", f"{H}/.bashrc", "if plot7; then\n" * 8000),
        ("authority", "/etc/polkit-1/rules.d/x.rules", "polkit.addRule(\n" * 3000),
        ("command in settings", f"{H}/.config/a.conf", "[plot7]\n" + "command=" + "'" * 9000 + "\n" * 20000),
        ("panel button", f"{H}/.config/lxpanel/panels/x", "Button {" * 20000),
        ("line in settings", f"{H}/.config/i3/config", "exec " * 12000 + "\n" + "set " * 9000),
    ],
)
def test_a_file_made_to_take_for_ever_does_not(tmp_path, kind, path, text):
    machine = plant(tmp_path / "root", [(path, text), ("/etc/cron.d/x", "1 2 3 * * root plot7\n")])
    found = find_references(machine, [EDDA], {}, TO)
    assert any(r.kind == "cron" for r in found.references["plot"])
    assert not [n for rows in found.not_read.values() for n in rows if "took longer" in n.reason]


def test_what_serves_somebody_else_too_is_asked_about(tmp_path):
    files = [
        ("/etc/systemd/system/backup.service", "[Service]\nUser=_plot\nExecStart=/usr/bin/ashen\n"),
        ("/etc/systemd/system/serve.service", "[Service]\nUser=_plot\nExecStart=/usr/bin/plot7\n"),
        (
            "/etc/logrotate.d/web",
            "/var/log/web.log {\n  postrotate\n    /usr/bin/plot7 --told\n  endscript\n}\n",
        ),
        ("/etc/cron.d/copy", "1 2 * * * root cp /opt/plot/db /srv\n"),
    ]
    found = find_references(plant(tmp_path / "root", files), [EDDA], {}, TO).references["plot"]
    assert {(r.path, r.action) for r in found} == {
        ("/etc/systemd/system/backup.service", "ask"),
        ("/etc/systemd/system/serve.service", "take_out"),
        ("/etc/logrotate.d/web", "ask"),
        ("/etc/cron.d/copy", "ask"),
    }


def test_a_command_whose_tag_holds_for_those_behind_it_is_found_and_not_cut(tmp_path):
    path = "/etc/sudoers.d/x"
    rule = "edda ALL=(root) /usr/bin/ashen, NOPASSWD: /usr/bin/plot7, /usr/bin/true\n"
    mine = found_in(plant(tmp_path / "root", [(path, rule)]), "rights")["plot"]
    assert [r.line for r in mine] == [1] and not mine[0].whole
    assert cuts_for("rights", path, rule, ALONE, {(r.line, r.key) for r in mine}) == []


def test_a_filter_of_two_programs_is_shown_and_its_route_stays(tmp_path):
    text = 'filter f { program("plot7") or program("ashen"); };\nlog { source(s); filter(f); };\n'
    path = "/etc/syslog-ng/conf.d/both.conf"
    machine = plant(tmp_path / "root", [(path, text)])
    mine = found_in(machine, "route of messages")["plot"]
    assert [(r.line, r.whole) for r in mine] == [(1, False)]
    assert cuts_for("route of messages", path, text, ALONE, {(r.line, r.key) for r in mine}, H) == []


def test_what_a_job_starts_is_surer_than_as_whom_it_runs_and_a_launcher_that_needs_it_for_another_is_asked_about(
    tmp_path,
):
    machine = plant(
        tmp_path / "root",
        [
            (
                "/etc/cron.d/one",
                "1 2 * * * _plot /usr/bin/plot7\n1 2 * * * _plot true\n1 2 * * * root true\n",
            ),
            (f"{H}/.local/share/applications/a.desktop", entry("plot7") + "TryExec=plot7\n"),
            (f"{H}/.local/share/applications/b.desktop", entry("true") + "TryExec=/usr/bin/plot7\n"),
        ],
    )
    found = find_references(machine, [EDDA], {}, TO).references["plot"]
    assert {(base(r.path), r.line, r.action) for r in found if r.kind == "cron"} == {
        ("one", 1, "take_out"),
        ("one", 2, "ask"),
    }
    assert {(base(r.path), r.action) for r in found if r.kind == "launcher"} == {
        ("a.desktop", "take_out"),
        ("b.desktop", "ask"),
    }
