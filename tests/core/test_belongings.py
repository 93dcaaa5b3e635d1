"""What belongs to it, with proof: several that want the same, where to look, and what must never be ticked."""

from __future__ import annotations

import os
import subprocess
import sys
from datetime import datetime
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from evidence import DESKTOP, ago
from evidence import add_program as add
from evidence import belongings_of as of
from helpers import as_user, make_ours, open_to_all
from registries import launcher, write
from swept_shelf.core.belongings.claims import Claim
from swept_shelf.core.belongings.personal import personal_parts
from swept_shelf.core.belongings.resolve import resolve
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.machine import open_machine
from swept_shelf.core.survey.places import look_into
from swept_shelf.core.survey.whose import whose_is
from swept_shelf.core.tree.index import Index
from swept_shelf.core.tree.walk import walk


def test_a_folder_that_leads_elsewhere_is_only_its_link(room, look):
    room.home("vera", "Pictures/plates/1.tif", "x" * 5000, ago(3))
    os.symlink("/home/vera/Pictures/plates", room.root / "home/vera/.cache")
    write(room.root, "home/vera/.config/x", "")
    os.symlink("/home/vera/Pictures/plates", room.root / f"home/vera/.config/{DESKTOP}")
    found = of(look(), DESKTOP)
    assert {p: (b.identity.type, b.bytes < 5000) for p, b in found.items()} == {
        f"/home/vera/.config/{DESKTOP}": ("link", True)
    }


def test_a_home_that_is_encrypted_and_locked_is_said_and_the_rest_is_whole(room, look):
    room.home("vera", f".config/{DESKTOP}/x.ini", "a=1\n", ago(3))
    room.home("otto", "Access-Your-Private-Data.desktop", "[Desktop Entry]\n", ago(3))
    survey = look()
    assert {p.name: p.read for p in survey.people if p.uid} == {"vera": "all", "otto": "none"}
    assert "not all could be read of otto" in survey.evidence.little
    assert set(of(survey, DESKTOP)) == {f"/home/vera/.config/{DESKTOP}"}


def test_a_home_that_may_not_be_read_is_said_by_an_ordinary_user(room, tmp_path):
    (tmp_path / "out").mkdir()
    (tmp_path / "out").chmod(0o777)
    open_to_all(tmp_path / "out")
    open_to_all(room.root)
    room.home("vera", f".config/{DESKTOP}/x.ini", "a=1\n", ago(3))
    room.home("otto", f".config/{DESKTOP}/x.ini", "a=1\n", ago(3))
    (room.root / "home/otto").chmod(0o700)

    def act() -> dict[str, object]:
        survey = room.survey(tmp_path / "out")
        return {
            "read": {p.name: p.read for p in survey.people},
            "unread": [n.path for n in survey.not_read],
            "found": list(of(survey, DESKTOP)),
        }

    seen = as_user(1001, act)
    assert (
        seen["read"]["otto"] == "none"
        and "/home/otto" in seen["unread"]
        and seen["found"] == [f"/home/vera/.config/{DESKTOP}"]
    )


# -- whose, of several ----------------------------------------------------------------------------------------


def test_what_several_hold_is_shared_and_what_a_library_of_the_system_holds_is_nobodys(room, look):
    for name in ("leafcutter", "leafpresser"):
        add(room, name, "plateformat")
    room.home("vera", ".config/plateformat/x", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "leafcutter")["/home/vera/.config/plateformat"].shared_with == ["debian:leafpresser"]
    assert not of(survey, "leafpresser")["/home/vera/.config/plateformat"].ticked
    room.packages({"libplate1": {"usr/lib/libplate.so.1": 'x="plateformat"'}})
    survey = look()
    assert "/home/vera/.config/plateformat" not in {**of(survey, "leafcutter"), **of(survey, "leafpresser")}


CLAIM = st.tuples(
    st.sampled_from(["/a", "/b", "/c"]),
    st.sampled_from("pqrstu"),
    st.sampled_from(["told", "declared", "seen", "matched"]),
)


@given(
    st.lists(CLAIM, unique_by=lambda c: c[:2], min_size=1),
    st.dictionaries(st.sampled_from("pqrstu"), st.sampled_from(["one", "two"])),
)
def test_every_claimed_place_has_one_verdict_and_the_order_of_the_claims_does_not_matter(rows, project):
    """Only the strongest have it; sole is one application's, and common more than three strangers'."""

    def board(order):
        return {
            path: [Claim(i, proof, "", [Proof(proof)]) for p, i, proof in order if p == path]
            for path in {r[0] for r in order}
        }

    verdicts, turned = resolve(board(rows), project), resolve(board(rows[::-1]), project)
    assert set(verdicts) == {r[0] for r in rows}
    for path, v in verdicts.items():
        mine = {i: ["matched", "seen", "declared", "told"].index(proof) for p, i, proof in rows if p == path}
        best = {i for i, s in mine.items() if s == max(mine.values())}
        assert {v.claim.id, *v.others} == best == {
            turned[path].claim.id,
            *turned[path].others,
        } and v.share == turned[path].share
        strangers = len({project.get(i, i) for i in best})
        assert v.share == ("common" if strangers > 3 else "sole" if len(best) == 1 else "shared")


def test_the_stronger_proof_beats_the_weaker_one(room, look):
    add(room, "leafcutter")
    add(room, "thornmount", "leafcutter")
    room.home("vera", ".config/leafcutter/x.ini", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "leafcutter")["/home/vera/.config/leafcutter"].ticked and of(survey, "thornmount") == {}


def test_a_program_that_names_anothers_folder_does_not_take_it(room, look):
    add(room, "leafcutter", "leafcutter")
    add(room, "thornmount", ".config/leafcutter", "/var/lib/leafcutter")
    room.home("vera", ".config/leafcutter/x.ini", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "leafcutter")["/home/vera/.config/leafcutter"].ticked and of(survey, "thornmount") == {}
    add(
        room,
        "leafdaemon",
        more={
            "usr/lib/systemd/system/leafdaemon.service": "[Service]\nExecStart=/usr/bin/leafdaemon\nStateDirectory=leafcutter\n"
        },
    )
    write(room.root, "var/lib/leafcutter/x", "x")
    survey = look()
    assert of(survey, "leafdaemon")["/var/lib/leafcutter"].ticked and "/var/lib/leafcutter" not in of(
        survey, "leafcutter"
    )


@pytest.mark.parametrize("host", ["leafmail", "diary"])
def test_a_program_that_takes_over_from_another_ticks_nothing_of_it(room, look, host):
    """It names a folder deep inside that of an application which, itself, only holds its own name."""
    add(room, host, host)
    add(room, "thornmount", f".local/share/{host}/letters", f".config/{host}/accounts")
    for path in (
        f".local/share/{host}/letters/1.eml",
        f".config/{host}/accounts/x.ini",
        f".config/{host}/other",
    ):
        room.home("vera", path, "a=1\n", ago(3))
    survey = look()
    assert not any(b.ticked for b in of(survey, "thornmount").values())
    covered = [b for b in of(survey, host).values() if b.is_path]
    for path in (
        f"/home/vera/.local/share/{host}/letters/1.eml",
        f"/home/vera/.config/{host}/accounts/x.ini",
        f"/home/vera/.config/{host}/other",
    ):
        assert any(within(path, b.path) and not any(within(path, x) for x in b.except_) for b in covered), (
            path
        )


def test_the_parts_of_a_suite_share_their_hosts_places_and_strangers_that_need_it_do_not(room, look):
    add(room, "leafoffice")
    add(room, "leafwriter", control="Source: leafoffice\nDepends: leafoffice\n")
    add(room, "thornmount", control="Depends: leafoffice\n")
    room.home("vera", ".config/leafoffice/x.ini", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "leafoffice")["/home/vera/.config/leafoffice"].shared_with == ["debian:leafwriter"]
    assert (
        not of(survey, "leafwriter")["/home/vera/.config/leafoffice"].ticked
        and of(survey, "thornmount") == {}
    )


def test_what_several_unrelated_programs_write_is_common_and_those_of_one_project_only_share(room, look):
    for i in range(5):
        add(room, f"leaf{'abcde'[i]}work", ".config/plateformat", ".config/oneproject")
    for i in range(5):
        add(room, f"moss{'abcde'[i]}work", ".config/mossformat", control="Source: mosswork\n")
    for name in ("plateformat", "mossformat"):
        room.home("vera", f".config/{name}/x", "a=1\n", ago(3))
    survey = look()
    b = of(survey, "leafawork")["/home/vera/.config/plateformat"]
    assert (b.share, b.ticked) == ("common", False) and "5 applications have the same claim" in b.reason
    assert of(survey, "mossawork")["/home/vera/.config/mossformat"].share == "shared"


def test_what_is_common_is_named_with_its_reason_and_is_nobodys(room, look, tmp_path):
    room.packages(
        {
            "libplate1": {"usr/lib/libplate.so.1": 'x="plateformat"'},
            "sheddaemon": {"usr/libexec/sheddaemon": "#!/bin/sh\n"},
        }
    )
    why = {
        ".config/plateformat": "named in libplate.so.1",
        ".config/sheddaemonrc": "called like the package sheddaemon",
        ".config/gtk-3.0": "toolkits keep it",
        ".cache/qtshadercache-x": "toolkits keep it",
        ".pki": "toolkits keep it",
    }
    for path in why:
        room.home("vera", path if path.endswith("rc") else f"{path}/x", "a=1\n", ago(3))
    survey = look()
    index = Index(tmp_path / "out/survey.index")
    for path, reason in why.items():
        answer = whose_is(survey, index, open_machine(room.root), f"/home/vera/{path}")
        assert (answer.whose, answer.name) == ("common", "programs in common") and reason in answer.reason, (
            answer
        )
    assert (
        whose_is(survey, index, open_machine(room.root), "/home/vera/.config/plateformat").evidence[0].path
        == "/usr/lib/libplate.so.1"
    )
    shares = {p.path: [s.whose for s in p.shares] for p in look_into(index, "/home/vera/.config").parts}
    assert shares["/home/vera/.config/gtk-3.0"] == shares["/home/vera/.config/plateformat"] == ["common"]


def test_two_levels_below_a_vendors_folder_are_looked_at(room, look):
    add(room, "leafcutter")
    for path in ("Bracken Group/Field Suite/Leafcutter/x.ini", "Bracken Group/Field Suite/other/x.ini"):
        room.home("vera", f".config/{path}", "a=1\n", ago(3))
    assert set(of(look(), "leafcutter")) == {"/home/vera/.config/Bracken Group/Field Suite/Leafcutter"}


def test_a_place_that_a_persons_environment_gives_a_program_is_its(room, look):
    add(room, "leafcutter", "LEAFCUTTER_HOME", "EDITOR")
    room.home(
        "vera",
        ".profile",
        "export LEAFCUTTER_HOME=$HOME/.plates\nexport EDITOR=~/.config/elsewhere\nexport LEAFCUTTER_ROOT=/home/vera\n",
        ago(9),
    )
    for path in (".plates/1.dat", ".config/elsewhere/x"):
        room.home("vera", path, "a=1\n", ago(3))
    found = of(look(), "leafcutter")
    assert (
        set(found) == {"/home/vera/.plates"}
        and found["/home/vera/.plates"].ticked
        and "LEAFCUTTER_HOME" in found["/home/vera/.plates"].reason
    )


def test_byte_code_beside_a_module_goes_with_it_and_beside_anothers_stays(room, look):
    shelf = "usr/lib/python3/dist-packages"
    room.packages(
        {
            "leafcutter": {
                "usr/bin/leafcutter": "#!/bin/sh\n",
                "usr/share/applications/leafcutter.desktop": launcher("Leafcutter", "leafcutter"),
                f"{shelf}/leafcut.py": "",
                f"{shelf}/leafparts/cut.py": "",
            },
            "python3-other": {f"{shelf}/leafcutting.py": "", f"{shelf}/__pycache__/leafcut.listed.pyc": ""},
        }
    )
    for name in ("leafcut.cpython-311", "leafcut.cpython-311.opt-1", "leafcutting.cpython-311"):
        write(room.root, f"{shelf}/__pycache__/{name}.pyc", "1")
    write(room.root, f"{shelf}/leafparts/__pycache__/cut.cpython-311.pyc", "1")
    entry = look().find("debian:leafcutter")
    found = {b.path.removeprefix(f"/{shelf}/"): b for b in entry.belongings if "/__pycache__" in b.path}
    assert set(found) == {
        "__pycache__/leafcut.cpython-311.pyc",
        "__pycache__/leafcut.cpython-311.opt-1.pyc",
        "leafparts/__pycache__",
    }
    assert all(b.ticked and b.kind == "cache" for b in found.values())


def test_what_programs_name_below_run_is_never_ticked_and_what_all_use_there_is_nobodys(room, look):
    add(
        room,
        "leafcutter",
        "/run/lock/x",
        "/run/oddroom",
        "/var/run/elsewhere",
        "/run/user",
        "/var/spool/mail",
    )
    for path in (
        "run/lock/x",
        "run/oddroom/pid",
        "run/elsewhere/pid",
        f"run/{DESKTOP}/pid",
        "var/spool/mail/vera",
    ):
        write(room.root, path, "1")
    survey = look()
    assert {p: b.ticked for p, b in of(survey, "leafcutter").items()} == {
        "/run/oddroom": False,
        "/run/elsewhere": False,
    }
    assert {p: b.ticked for p, b in of(survey, DESKTOP).items()} == {f"/run/{DESKTOP}": False}


def test_what_lies_in_memory_alone_is_named_and_takes_nothing_of_a_volume(room, tmp_path):
    add(
        room,
        "leafcutter",
        more={
            "usr/lib/systemd/system/leaf.service": "[Service]\nExecStart=/usr/bin/leafcutter\nRuntimeDirectory=oddroom\n"
        },
    )
    room.home("vera", "x", "", ago(9))
    code = (
        "from swept_shelf.core.machine import open_machine; from swept_shelf.core.survey.take "
        f"import take_survey; s = take_survey(open_machine({str(room.root)!r}),"
        f" {str(tmp_path)!r}, []); b = next(b for b in s.find('debian:leafcutter').belongings if b.path == '/run/oddroom');"
        "print(b.ticked, b.bytes, b.proof, b.reason); print(sum(p.bytes for p in s.accounts[0].parts) < 5_000_000)"
    )
    mounts = (
        f"mkdir -p {room.root}/run && mount -t tmpfs tmpfs {room.root}/run && mkdir "
        f"{room.root}/run/oddroom && head -c 9000000 /dev/zero > {room.root}/run/oddroom/x"
    )
    done = subprocess.run(
        ["unshare", "-rm", "sh", "-c", f'{mounts} && exec {sys.executable} -c "$0"', code],
        capture_output=True,
        text=True,
    )
    assert done.stdout.splitlines() == [
        "False 0 declared named in its unit; 9.0 MB in memory only: gone at the next start",
        "True",
    ], done.stderr


def test_a_program_that_names_a_place_of_the_system_or_of_something_gone_does_not_have_it_go_along(
    room, look
):
    """A client names its server's data, a mail program the one it can take over from: neither is there any more."""
    add(
        room,
        "leafcutter",
        "/var/lib/thornbase",
        "/var/log/wtmp",
        ".config/mossmail",
        ".config/leaf-room",
        "/var/lib/leafcutter",
    )
    log = room.root / "var/log/dpkg.log"
    log.write_text(
        log.read_text()
        + f"{datetime.fromtimestamp(ago(40)):%Y-%m-%d %H:%M:%S} remove mossmail:all 2.0 <none>\n"
    )
    for path in ("var/lib/thornbase/data", "var/log/wtmp", "var/lib/leafcutter/x"):
        write(room.root, path, "x")
    for path in (".config/mossmail/letters.ini", ".config/leaf-room/x.ini"):
        room.home("vera", path, "a=1\n", ago(3))
    ticked = {p: b.ticked for p, b in of(look(), "leafcutter").items()}
    assert ticked == {
        "/var/lib/thornbase": False,
        "/home/vera/.config/mossmail": False,
        "/home/vera/.config/leaf-room": True,
        "/var/lib/leafcutter": True,
    }


def test_what_was_installed_for_a_language_is_not_the_languages_own(room, look):
    add(room, "python3.11")
    write(room.root, "usr/local/lib/python3.11/dist-packages/x.py", "x = 1\n")
    assert not any(p.startswith("/usr/local") for p in of(look(), "python3.11"))


@pytest.mark.parametrize(
    ("path", "text", "place"),
    [
        (
            "usr/lib/tmpfiles.d/leaf.conf",
            "# made at start\nd /var/lib/oddstore 0755 root root -\nD! /run/leaf 0755 - - -\n",
            "/var/lib/oddstore",
        ),
        (
            "etc/logrotate.d/leaf",
            "/var/log/oddlogs/*.log\n/var/log/oddlogs/old/x.log {\n  weekly\n}\n",
            "/var/log/oddlogs",
        ),
        (
            "usr/lib/systemd/system/leaf.service",
            "[Service]\nExecStart=/usr/bin/leafcutter\nCacheDirectory=oddcache\n",
            "/var/cache/oddcache",
        ),
    ],
)
def test_what_its_own_files_declare_is_its(room, look, path, text, place):
    add(room, "leafcutter", more={path: text})
    write(room.root, f"{place[1:]}/x.log", "x" * 50)
    b = of(look(), "leafcutter")[place]
    assert b.proof == "declared" and b.ticked and b.evidence[0].path == f"/{path}" and b.evidence[0].line >= 1


def test_its_own_crash_record_is_its(room, look):
    write(room.root, f"var/crash/_usr_bin_{DESKTOP}.1001.crash", f"ExecutablePath: /usr/bin/{DESKTOP}\n")
    write(room.root, "var/crash/_usr_bin_nobody.1001.crash", "x" * 9000)
    survey = look()
    assert of(survey, DESKTOP)[f"/var/crash/_usr_bin_{DESKTOP}.1001.crash"].kind == "log"
    store = next(s for s in survey.shared_stores if s.kind == "crash_records")
    assert store.files == 1 and store.bytes < 20_000  # what is an application's counts there alone


# -- where to look ------------------------------------------------------------------------------------------


def test_folders_are_looked_for_where_the_persons_environment_puts_them(room, look):
    room.home("vera", ".config/environment.d/10.conf", "XDG_CACHE_HOME=/home/vera/fast\n", ago(9))
    room.home(
        "vera", ".profile", 'export XDG_DATA_HOME="$HOME/.share"\nexport XDG_STATE_HOME=/home\n', ago(9)
    )
    for path in (f"fast/{DESKTOP}/c.bin", f".share/{DESKTOP}/d.bin", f".local/state/{DESKTOP}/s"):
        room.home("vera", path, "x" * 50, ago(3))
    found = of(look(), DESKTOP)
    assert {(p, b.kind) for p, b in found.items()} == {
        (f"/home/vera/fast/{DESKTOP}", "cache"),
        (f"/home/vera/.share/{DESKTOP}", "support"),
        (f"/home/vera/.local/state/{DESKTOP}", "state"),
    }


@pytest.mark.parametrize(
    "path",
    ["var/spool", "var/tmp", "tmp", "usr/local/share", "var/lib", "var/cache", "var/log", "etc", "srv"],
)
def test_the_systems_folders_are_looked_through_for_what_no_registry_owns(room, look, path):
    write(room.root, f"{path}/{DESKTOP}/x", "x" * 50)
    assert f"/{path}/{DESKTOP}" in of(look(), DESKTOP)


@pytest.mark.parametrize(
    "name", [f".{DESKTOP}rc", f".config/{DESKTOP}.conf", f".{DESKTOP}_history", f".local/share/{DESKTOP}.db"]
)
def test_single_files_are_known_without_their_endings(room, look, name):
    room.home("vera", name, "x\n", ago(3))
    assert of(look(), DESKTOP)[f"/home/vera/{name}"].ticked


@pytest.mark.parametrize(
    "path",
    [
        f"icons/hicolor/48x48/apps/{DESKTOP}.png",
        f"fonts/{DESKTOP}/a.ttf",
        f"menus/{DESKTOP}.menu",
        f"mime/packages/{DESKTOP}.xml",
    ],
)
def test_icons_fonts_and_menus_that_it_put_into_a_home_are_its(room, look, path):
    room.home("vera", f".local/share/{path}", "x" * 50, ago(3))
    room.home("vera", ".local/share/icons/hicolor/48x48/apps/another.png", "x" * 50, ago(3))
    found = of(look(), DESKTOP)
    assert (
        len(found) == 1
        and next(iter(found)).startswith("/home/vera/.local/share/")
        and DESKTOP in next(iter(found))
    )


# -- named is not owned; what a person would mourn is personal --------------------------------------------------


def test_a_persons_own_work_inside_an_applications_folder_is_flagged_and_never_ticked(room, look):
    for path in (
        "settings.ini",
        "plans/first.plan",
        "plans/index.db",
        "drawings/leaf.svg",
        "machines/disk.vdi",
        "Virtual Machines/a/x.bin",
    ):
        room.home("vera", f".local/share/{DESKTOP}/{path}", "x" * 100, ago(3))
    opened = f"/home/vera/.local/share/{DESKTOP}/plans/first.plan"
    room.home(
        "vera",
        ".local/share/recently-used.xbel",
        '<xbel xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks">'
        f'<bookmark href="file://{opened}"><info><metadata><bookmark:applications><bookmark:application '
        'name="x" exec="other" modified="2026-01-01T00:00:00Z"/>'
        "</bookmark:applications></metadata></info></bookmark></xbel>",
        ago(3),
    )
    found = of(look(), DESKTOP)
    personal = {p.split(f"/{DESKTOP}/")[1] for p, b in found.items() if b.personal}
    assert personal == {"plans/first.plan", "drawings", "machines", "Virtual Machines"}
    assert (
        not any(b.ticked for b in found.values() if b.personal)
        and found[f"/home/vera/.local/share/{DESKTOP}"].ticked
    )


def test_a_program_that_plugs_into_anothers_folder_owns_neither_the_folder_nor_what_it_names(job):
    hero = job.machine.id("map", "7")
    program = job.machine.root / "usr/bin" / hero.removeprefix("debian:")
    person = Path(job.surveyed.survey.people[0].home[1:])
    folder = job.machine.root / person / ".config/quibblewort"
    (folder / "profile/plugins").mkdir(parents=True)
    for name in ("places.sqlite", "key4.db", "prefs.js", "plugins/list"):
        (folder / "profile" / name).write_bytes(b"theirs" * 100)
    program.write_bytes(
        program.read_bytes() + b"\n# .config/quibblewort/profile/plugins\n# .config/quibblewort\n"[:38]
    )
    job.survey()
    mine = [b for b in job.app(hero).belongings if ".config/quibblewort" in b.path]
    assert not any(b.ticked for b in mine), mine


@pytest.mark.parametrize(
    "names",
    [
        ["places.sqlite", "key4.db"],
        ["Login Data", "Bookmarks"],
        ["cur/1", "new/2", "tmp/3"],
        ["wallet.dat", "keystore/a"],
    ],
)
def test_a_profile_is_a_persons_own_whichever_program_made_it(tmp_path, names):
    for name in (*names, "other/settings.json"):
        (tmp_path / "root/h/.config/thing/default" / name).parent.mkdir(parents=True, exist_ok=True)
        (tmp_path / "root/h/.config/thing/default" / name).write_text("x")
    (tmp_path / "root/h/.config/thing/window.ini").write_text("x")
    tree = walk(open_machine(make_ours(tmp_path / "root")))
    assert personal_parts(tree, "/h/.config/thing") == ["/h/.config/thing/default"]
