"""Parts of makers' folders, siblings of one project, names as archives and assemblies hold them, and what two signs tick."""

from __future__ import annotations

import zipfile
from dataclasses import replace
from datetime import datetime

import pytest

from evidence import add_program as add
from evidence import ago
from evidence import belongings_of as of
from registries import write
from swept_shelf.core.belongings.claims import INSIDE, Claim
from swept_shelf.core.documents.survey import Proof
from swept_shelf.core.documents.terms import By
from swept_shelf.core.survey.claiming import _makers_parts

HOME = "/home/vera/"


def test_of_a_makers_folder_that_one_program_names_each_program_has_its_part(room, look):
    add(room, "leafcutter", "Sallow & Sons")
    add(room, "thornpress")  # puts the maker's name together by itself
    for name in ("leafcutter", "thornpress"):
        room.home("vera", f".config/Sallow & Sons/{name}/x.ini", "a=1\n", ago(3))
    room.home("vera", ".config/Sallow & Sons/licence", "both\n", ago(3))
    survey = look()
    top = f"{HOME}.config/Sallow & Sons"
    for name, other in (("leafcutter", "thornpress"), ("thornpress", "leafcutter")):
        found = of(survey, name)
        assert found[f"{top}/{name}"].ticked and f"{top}/{other}" not in found and top not in found


def test_of_a_makers_folder_that_two_name_the_one_part_is_whose_it_is_called_like(room, look):
    for name in ("leafcutter", "thornpress"):
        add(room, name, "Sallow & Sons")
    room.home("vera", ".config/Sallow & Sons/leafcutter.conf", "a=1\n", ago(3))
    survey = look()
    top = f"{HOME}.config/Sallow & Sons"
    part = of(survey, "leafcutter")[f"{top}/leafcutter.conf"]
    assert part.ticked and part.share == "sole"
    assert not any(b.ticked for p, b in of(survey, "thornpress").items() if "Sallow" in p)


def test_a_makers_folder_with_one_program_in_it_stays_whole(room, look):
    add(room, "leafcutter", "Sallow & Sons")
    room.home("vera", ".config/Sallow & Sons/leafcutter/x.ini", "a=1\n", ago(3))
    room.home("vera", ".config/Sallow & Sons/licence", "x\n", ago(3))
    found = of(look(), "leafcutter")
    assert (
        found[f"{HOME}.config/Sallow & Sons"].ticked
        and f"{HOME}.config/Sallow & Sons/leafcutter" not in found
    )


def test_a_makers_short_name_with_nothing_but_what_begins_like_the_program_is_its(room, look):
    add(room, "leafcutter", "SLW")
    add(room, "thornpress", "GRV")
    room.home("vera", ".config/SLW/Leafcutter_64bit_fp.conf", "a=1\n", ago(3))
    room.home("vera", ".config/GRV/other_64bit_fp.conf", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "leafcutter")[f"{HOME}.config/SLW"].ticked
    assert not any("GRV" in path for path in of(survey, "thornpress"))


def test_of_siblings_the_exact_own_name_wins_and_what_both_name_is_shared(room, look):
    add(room, "woldmap-gtk", "woldmap", ".config/woldmap-qt", control="Source: woldmap\n")
    add(room, "woldmap-qt", "woldmap", control="Source: woldmap\n")
    for place in (".config/woldmap-qt", ".config/woldmap-gtk", ".local/share/woldmap"):
        room.home("vera", f"{place}/x", "a=1\n", ago(3))
    survey = look()
    gtk, qt = of(survey, "woldmap-gtk"), of(survey, "woldmap-qt")
    assert qt[f"{HOME}.config/woldmap-qt"].ticked and f"{HOME}.config/woldmap-qt" not in gtk
    assert gtk[f"{HOME}.config/woldmap-gtk"].ticked and f"{HOME}.config/woldmap-gtk" not in qt
    for found in (gtk, qt):
        both = found[f"{HOME}.local/share/woldmap"]
        assert both.share == "shared" and not both.ticked


def test_an_ordinary_word_is_ticked_where_its_program_alone_holds_it_too(room, look):
    add(room, "museum", "museum")
    room.home("vera", ".config/museum/x.ini", "a=1\n", ago(3))
    found = of(look(), "museum")[f"{HOME}.config/museum"]
    assert found.ticked and found.certain
    add(room, "thornmount", "museum")
    assert not of(look(), "museum")[f"{HOME}.config/museum"].ticked


@pytest.mark.parametrize(
    "called", ["woldmap-3.2", "Woldmap 3.2.1", "woldmap_v10.0", "woldmap-py3", "woldmap_qt5"]
)
def test_a_version_behind_the_name_is_no_other_program(room, look, called):
    add(room, "woldmap")
    room.home("vera", f".local/share/{called}/x", "a=1\n", ago(3))
    assert of(look(), "woldmap")[f"{HOME}.local/share/{called}"].ticked


def test_settings_of_java_follow_the_names_of_packages_in_archives(room, look):
    add(room, "fennrule", more={"usr/share/java/fennrule.jar": ""})
    add(room, "thornmount", more={"usr/share/java/thornmount.jar": ""})
    for jar, package in (("fennrule", "org/pomefold/ruler"), ("thornmount", "org/pomefold/mounts")):
        with zipfile.ZipFile(room.root / f"usr/share/java/{jar}.jar", "w") as archive:
            archive.writestr(f"{package}/Main.class", b"\xca\xfe\xba\xbe")
    for place in ("ruler", "mounts", "ruler/window"):
        room.home("vera", f".java/.userPrefs/org/pomefold/{place}/prefs.xml", "<map/>\n", ago(3))
    survey = look()
    assert of(survey, "fennrule")[f"{HOME}.java/.userPrefs/org/pomefold/ruler"].ticked
    assert f"{HOME}.java/.userPrefs/org/pomefold/mounts" not in of(survey, "fennrule")
    assert of(survey, "thornmount")[f"{HOME}.java/.userPrefs/org/pomefold/mounts"].ticked


def test_a_text_in_an_assembly_stands_behind_its_length(room, look):
    add(room, "fennrule", more={"usr/lib/fennrule/Fennrule.dll": ""})
    text = "PomefoldData".encode("utf-16-le")
    data = b"MZ" + bytes(60) + bytes([0x21]) + b"\x13" + bytes([len(text) + 1]) + text + b"\x01\x07other"
    (room.root / "usr/lib/fennrule/Fennrule.dll").write_bytes(data)
    room.home("vera", ".config/PomefoldData/fennrule.xml", "a=1\n", ago(3))
    assert of(look(), "fennrule")[f"{HOME}.config/PomefoldData"].ticked


def test_in_a_folder_that_all_programs_use_its_own_part_is_its(room, look):
    add(room, "fennrule")
    room.home("vera", ".cache/qtshadercache/fennrule/x", "x\n", ago(3))
    room.home("vera", ".cache/qtshadercache/other/x", "x\n", ago(3))
    found = of(look(), "fennrule")
    assert found[f"{HOME}.cache/qtshadercache/fennrule"].ticked
    assert not any(p.endswith(("qtshadercache", "other")) for p in found)


def test_what_its_program_names_and_its_content_says_too_is_ticked(room, look):
    add(room, "fennrule", "PomefoldData")
    room.home("vera", ".config/PomefoldData/a.conf", "# written by Fennrule 3.1\nx=1\n", ago(3))
    assert of(look(), "fennrule")[f"{HOME}.config/PomefoldData"].ticked
    room.home("vera", ".config/PomefoldData/a.conf", "x=1\n", ago(3))
    assert not of(look(), "fennrule")[f"{HOME}.config/PomefoldData"].ticked


def test_a_settings_file_that_calls_itself_the_programs_is_ticked(room, look):
    add(room, "fennrule", ".fruler")
    room.home(
        "vera", ".fruler", "#\n# Fennrule configuration file\n# a system-wide configuration file\n", ago(3)
    )
    assert of(look(), "fennrule")[f"{HOME}.fruler"].ticked
    room.home("vera", ".fruler", "# Thornmount configuration file\n", ago(3))
    assert not of(look(), "fennrule")[f"{HOME}.fruler"].ticked


def test_what_calls_itself_the_program_without_its_generation_is_its_unless_that_was_another_one(room, look):
    add(room, "fennrule2", ".fruler")
    room.home("vera", ".fruler", "# Fennrule settings file\n", ago(3))
    assert of(look(), "fennrule2")[f"{HOME}.fruler"].ticked
    log = room.root / "var/log/dpkg.log"
    removed = f"{datetime.fromtimestamp(ago(40)):%Y-%m-%d %H:%M:%S} remove fennrule:all 1.0 <none>\n"
    log.write_text((log.read_text() if log.exists() else "") + removed)
    assert not of(look(), "fennrule2")[f"{HOME}.fruler"].ticked
    log.write_text(log.read_text().replace(removed, ""))
    add(room, "fennrule")
    assert not of(look(), "fennrule2")[f"{HOME}.fruler"].ticked


def test_a_hidden_folder_of_a_later_generation_is_its_programs_where_that_alone_holds_the_name(room, look):
    add(room, "fen", ".fen2")
    room.home("vera", ".fen2/x.xml", "<a/>\n", ago(3))
    assert of(look(), "fen")[f"{HOME}.fen2"].ticked
    add(room, "thornmount", ".fen2")
    assert not of(look(), "fen")[f"{HOME}.fen2"].ticked


@pytest.mark.parametrize("sibling", ["", "museum", "museum-gtk"])
def test_a_program_built_with_a_toolkit_is_called_like_what_it_was_built_from(room, look, sibling):
    add(room, "museum-qt", control="Source: museum\n")
    room.home("vera", ".config/museum/settings.json", "{}\n", ago(3))
    if sibling:
        add(room, sibling, control="Source: museum\n")
    place = of(look(), "museum-qt").get(f"{HOME}.config/museum")
    assert (place is not None) == (not sibling)
    assert place is None or not place.ticked  # an ordinary word


def test_a_part_of_a_folder_is_its_who_names_the_folder_too(room, look):
    add(room, "fennrule", "PomefoldData", "tilebase")
    add(room, "thornmount", "tilebase", "settings.json")
    for name in ("PomefoldData/tilebase/x", "Elsewhere/settings.json", "PomefoldData/other"):
        room.home("vera", f".local/share/{name}", "x\n", ago(3))
    survey = look()
    assert not any("PomefoldData" in p or "Elsewhere" in p for p in of(survey, "thornmount"))
    assert f"{HOME}.local/share/PomefoldData" in of(survey, "fennrule")


def test_below_opt_a_part_of_a_folder_that_nobody_names_is_nobodys(room, look):
    add(room, "fennrule", "tilebase")
    write(room.root, "opt/pomefold-extras/tilebase/x", b"x\n")
    assert not any("tilebase" in p for p in of(look(), "fennrule"))


@pytest.mark.parametrize("sign", [".git/HEAD", "pyvenv.cfg", ""])
def test_a_working_copy_that_a_program_only_names_is_not_its(room, look, sign):
    add(room, "fennrule", ".pomefold", "tilebase")
    add(room, "thornmount", "tilebase")
    for name in (sign, "tilebase/x"):
        if name:
            room.home("vera", f".pomefold/{name}", "x\n", ago(3))
    found = [p for name in ("fennrule", "thornmount") for p in of(look(), name) if ".pomefold" in p]
    assert bool(found) == (not sign)


def test_what_a_library_of_the_system_names_is_nobodys_whoever_names_it_too_or_is_named_in_it(room, look):
    room.packages({"libtoolkit": {"usr/lib/x86_64-linux-gnu/libtoolkit.so.1": '"woldkeysrc"\n"woldnetrc"\n'}})
    for name in ("fennrule", "thornmount"):
        add(room, name, "woldnetrc")
    room.home("vera", ".config/woldkeysrc", "[fennrule.desktop]\nopen=Ctrl+O\n", ago(3))
    room.home("vera", ".config/woldnetrc", "a=1\n", ago(3))
    survey = look()
    assert {f"{HOME}.config/woldkeysrc", f"{HOME}.config/woldnetrc"} <= {c.path for c in survey.common}
    assert not any("/.config/wold" in p for p in of(survey, "fennrule"))


def test_in_a_store_with_a_file_for_each_program_its_own_file_is_its(room, look):
    """A desktop's settings store lies in a folder that all use: the file that is called exactly like a program is that program's."""
    add(room, "leafcutter")
    top = ".config/xfce4/xfconf/xfce-perchannel-xml"
    for name in ("leafcutter", "leafcutters", "displays", "keyboards"):
        room.home("vera", f"{top}/{name}.xml", "<channel/>\n", ago(3))
    room.home("vera", ".config/xfce4/terminal/leafcutter.xml", "x\n", ago(3))  # no store: alone in its folder
    found = of(look(), "leafcutter")
    mine = [p for p in found if "/xfce4/" in p]
    assert mine == [f"{HOME}{top}/leafcutter.xml"]
    assert found[mine[0]].share == "sole"


def test_a_part_that_stays_because_a_sibling_stays_says_so(room, look):
    for name in ("woldmap-gtk", "woldmap-qt"):
        add(room, name, "woldmap", control="Source: woldmap\n")
    room.home("vera", ".local/share/woldmap/x", "a=1\n", ago(3))
    assert of(look(), "woldmap-gtk")[f"{HOME}.local/share/woldmap"].reason.endswith("; stays for Woldmap-qt")


# -- whoever can take over from a place names it -----------------------------------------------------------------


@pytest.mark.parametrize(
    ("place", "files"),
    [
        (".thornmail", {"prefs": "browser=/usr/bin/fennrule\n"}),
        (".thornmail", {"prefs": "# settings for fennrule\nopen_with=fennrule.desktop\n"}),
        (".config/ThornKeys", {"vault.kdbx": "x", "readme": "written by ThornKeys 2\n"}),
        (".config/ThornSync", {"state": "# generated by thornsync\n", "log": "written by Fennrule 3\n"}),
        (".local/share/ThornBack", {"list": "/usr/bin/fennrule\n", "Bookmarks": "x", "History": "x"}),
    ],
    ids=("names its browser", "says what opens links", "keys", "says two", "a profile"),
)
def test_an_importer_has_nothing_of_what_it_could_take_over_ticked(room, look, place, files):
    """A browser, a keeper of passwords, a sync and a backup program: not registered here, named by the one that is."""
    add(room, "fennrule", place, place.split("/")[-1])
    for name, text in files.items():
        room.home("vera", f"{place}/{name}", text, ago(3))
    assert not [p for p, b in of(look(), "fennrule").items() if p.startswith(f"{HOME}{place}") and b.ticked]


def test_a_plug_in_has_its_own_file_and_the_host_keeps_its_folder(room, look):
    add(room, "fennrule", ".config/fennrule")
    add(room, "thornplug", ".config/fennrule/plugins/thornplug.so")
    for name in ("settings", "plugins/own.so", "plugins/thornplug.so"):
        room.home("vera", f".config/fennrule/{name}", "x\n", ago(3))
    survey = look()
    host, guest = of(survey, "fennrule"), of(survey, "thornplug")
    assert host[f"{HOME}.config/fennrule"].ticked
    assert not [
        p for p, b in guest.items() if b.ticked and p.startswith(HOME) and not p.endswith("thornplug.so")
    ]


def test_a_backup_of_other_programs_places_is_the_backups_own(room, look):
    add(room, "fennrule", ".config/fennrule")
    add(room, "thornback", ".local/share/thornback")
    room.home(
        "vera", ".local/share/thornback/home/vera/.config/fennrule/x.ini", "# written by Fennrule 3\n", ago(3)
    )
    survey = look()
    assert not [p for p in of(survey, "fennrule") if "thornback" in p]
    assert of(survey, "thornback")[f"{HOME}.local/share/thornback"].share == "sole"


def test_a_makers_folder_inside_a_makers_folder_is_parted_from_the_inside_out():
    claim = Claim("debian:keel", By.DECLARED, INSIDE, [Proof(By.DECLARED, "/usr/bin/keel", 0, "keel")])
    other = replace(claim, id="debian:rudder")
    alone = {p: [claim] for p in ("/home/vera/.keel", "/home/vera/.keel/cache", "/home/vera/.keel/cache/a")}
    _makers_parts(alone)
    assert set(alone) == {"/home/vera/.keel"}
    several = {"/home/vera/.keel": [claim, other], "/home/vera/.keel/cache": [claim, other]}
    several |= {"/home/vera/.keel/cache/a": [claim], "/home/vera/.keel/cache/b": [other]}
    _makers_parts(several)
    assert set(several) >= {"/home/vera/.keel/cache/a", "/home/vera/.keel/cache/b"}
