"""Names that mislead and names that tell: ordinary words, later generations, vendors' folders, literals with something more."""

from __future__ import annotations

from datetime import datetime

import pytest

from evidence import add_program as add
from evidence import ago
from evidence import belongings_of as of
from swept_shelf.core.belongings.common import is_distinctive, is_ordinary, projects_using


@pytest.mark.parametrize("word", ["notes", "data", "editor"])
def test_a_name_that_is_an_ordinary_word_is_never_enough_to_be_ticked(room, look, word):
    add(room, word)
    room.home("vera", f".config/{word}/x.ini", "a=1\n", ago(3))
    assert not any(b.ticked for b in of(look(), word).values())
    add(room, f"{word}book", f".config/{word}-book")
    room.home("vera", f".config/{word}-book/x.ini", "a=1\n", ago(3))
    assert of(look(), f"{word}book")[f"/home/vera/.config/{word}-book"].ticked


def test_prefixes_renamed_folders_and_a_persons_own_folder_are_not_its(room, look):
    for name in ("inkpress", "inkpresser", "inkpress-plugins"):
        add(room, name)
        room.home("vera", f".config/{name}/x.ini", "a=1\n", ago(3))
    for path in (
        ".config/inkpress.old/x.ini",
        ".config/inkpress-backup/x.ini",
        ".config/my-inkpress/x.ini",
        "inkpress/letter.txt",
        "Documents/inkpress/a.txt",
        "inkpress.txt",
        "inkpress.lock",
    ):
        room.home("vera", path, "a=1\n", ago(3))
    survey = look()
    for name in ("inkpress", "inkpresser", "inkpress-plugins"):
        assert {p for p, b in of(survey, name).items() if b.is_path} == {f"/home/vera/.config/{name}"}
    assert of(survey, "inkpress")[
        "/home/vera/inkpress.lock"
    ].object == "file" and "/home/vera/inkpress.txt" not in of(survey, "inkpress")
    open_one = of(survey, "inkpress")["/home/vera/inkpress"]  # named, as what it is: the person's own
    assert (open_one.object, open_one.personal, open_one.ticked, open_one.bytes) == (
        "folder",
        True,
        False,
        0,
    ) and "vera’s own" in open_one.reason


@pytest.mark.parametrize("word", ["packages", "browser", "evolution", "diary", "Projects"])
def test_how_ordinary_a_word_is_was_measured_and_not_guessed(word):
    assert is_ordinary(word) and not is_distinctive(word) and not is_distinctive(word.upper())
    assert (
        projects_using("library")
        > projects_using("browser")
        > projects_using("evolution")
        > projects_using("quillstand")
        == 0
    )


def test_a_short_name_counts_where_package_launcher_or_program_agree_on_it(room, look):
    add(room, "qz")
    add(room, "qx-suite", more={"usr/bin/qx": "#!/bin/sh\n"})
    for name in ("qz", "qx"):
        room.home("vera", f".config/{name}/x.ini", "a=1\n", ago(3))
    survey = look()
    assert of(survey, "qz")["/home/vera/.config/qz"].reason.startswith(
        "called like its launcher and its package"
    )
    assert of(survey, "qx-suite") == {}


def test_a_hidden_folder_is_known_by_its_name_with_the_dot_however_ordinary_the_word(room, look):
    add(room, "diary", "/home/x/.diary")
    for path in (".diary/x", ".config/diary/x"):
        room.home("vera", path, "a=1\n", ago(3))
    found = of(look(), "diary")
    assert found["/home/vera/.diary"].ticked and not found["/home/vera/.config/diary"].ticked


def test_a_later_generation_and_a_reversed_domain_are_its_and_another_applications_are_not(room, look):
    for name in ("leafcutter", "inkpress", "inkpress3"):
        add(room, name)
    for name in (
        "leafcutter2rc",
        "Feedback.org.example.leafcutter.conf",
        "inkpress2",
        "inkpress3",
        "leafcutter_0.conf",
        "leafcutter-cache.kcache",
    ):
        room.home("vera", f".config/{name}", "a=1\n", ago(3))
    survey = look()
    names = lambda app: {p.rsplit("/", 1)[1] for p in of(survey, app)}  # noqa: E731
    assert names("leafcutter") == {
        "leafcutter2rc",
        "Feedback.org.example.leafcutter.conf",
        "leafcutter_0.conf",
        "leafcutter-cache.kcache",
    }
    assert names("inkpress") == {"inkpress2"} and names("inkpress3") == {"inkpress3"}
    ticked = {
        p.rsplit("/", 1)[1]: b.ticked
        for app in ("leafcutter", "inkpress")
        for p, b in of(survey, app).items()
    }
    assert ticked == {
        "leafcutter2rc": False,
        "Feedback.org.example.leafcutter.conf": True,
        "leafcutter_0.conf": True,
        "leafcutter-cache.kcache": True,
        "inkpress2": False,
    }
    log = room.root / "var/log/dpkg.log"
    log.write_text(
        log.read_text()
        + f"{datetime.fromtimestamp(ago(40)):%Y-%m-%d %H:%M:%S} remove inkpress2:all 2.0 <none>\n"
    )
    survey = look()
    assert names("inkpress") == set() and [
        b.path for e in survey.left_behind if e.name == "inkpress2" for b in e.belongings
    ] == ["/home/vera/.config/inkpress2"]


def test_two_applications_of_one_vendor_share_its_folder_and_own_their_parts(room, look):
    for name in ("leafcutter", "leafpresser"):
        add(room, name, "LeafWorks")
        room.home("vera", f".config/LeafWorks/{name}/x.ini", "a=1\n", ago(3))
    room.home("vera", ".config/LeafWorks/licence.txt", "both\n", ago(3))
    survey = look()
    for name, other in (("leafcutter", "leafpresser"), ("leafpresser", "leafcutter")):
        found = of(survey, name)
        assert found[f"/home/vera/.config/LeafWorks/{name}"].ticked
        assert not any(
            b.ticked for p, b in found.items() if other in p or p.endswith(("LeafWorks", "licence.txt"))
        )


def test_a_vendors_folder_is_known_by_the_program_that_holds_its_name(room, look):
    add(room, "leafcutter", "Sallow & Sons")
    room.home("vera", ".config/Sallow & Sons/leafcutter.conf", "a=1\n", ago(3))
    b = of(look(), "leafcutter")["/home/vera/.config/Sallow & Sons"]
    assert (
        b.proof == "declared"
        and b.ticked
        and b.evidence[0].path == "/usr/bin/leafcutter"
        and "inside its program" in b.reason
    )


@pytest.mark.parametrize(
    ("inside", "its"),
    [(["leafcutterapp.ini"], True), (["leafcutterapp.ini", "pressing.ini"], False), (["x.ini"], False)],
)
def test_a_short_name_that_its_program_holds_is_its_where_all_in_it_is_called_like_it(
    room, look, inside, its
):
    for name in ("leafcutter", "thornpress"):  # what short a name it is, others hold it by chance
        add(room, name, "lw1")
    for name in inside:
        room.home("vera", f".config/lw1/{name}", "a=1\n", ago(3))
    found = of(look(), "leafcutter").get("/home/vera/.config/lw1")
    assert (found is not None and found.ticked) == its


@pytest.mark.parametrize(
    ("place", "its"),
    [(".config/leafcutter_panelsrc", True), (".leaf_history", False), (".config/thornpress_panelsrc", False)],
)
def test_a_name_that_its_program_holds_and_that_begins_with_its_own_is_its(room, look, place, its):
    add(room, "leafcutter", place.rpartition("/")[2])
    room.home("vera", place, "a=1\n", ago(3))
    found = of(look(), "leafcutter").get(f"/home/vera/{place}")
    assert found is not None and found.ticked == its


def test_a_cache_that_a_toolkit_calls_by_its_own_name_and_the_applications_is_its(room, look):
    for name in ("leafcutter", "thornpress"):
        add(room, name)
    for name in ("toolkitcache-leafcutter-themes", "leafcutter-thornpress-both", "toolkitcache-other"):
        room.home("vera", f".cache/{name}/x", "a\n", ago(3))
        room.home("vera", f".config/{name}/x", "a\n", ago(3))
    found = of(look(), "leafcutter")
    assert found["/home/vera/.cache/toolkitcache-leafcutter-themes"].ticked
    assert [p for p in found if p.startswith("/home/vera/")] == [
        "/home/vera/.cache/toolkitcache-leafcutter-themes"
    ]


def test_a_plus_in_a_name_is_the_word_plus(room, look):
    add(room, "fern-plus")
    room.home("vera", ".config/fern+/x", "a=1\n", ago(3))
    assert of(look(), "fern-plus")["/home/vera/.config/fern+"].ticked


def test_a_name_that_a_program_only_mentions_is_shown_and_never_ticked(room, look):
    add(room, "leafcutter", ".thornmail")  # it can take over another program's settings
    room.home("vera", ".thornmail/inbox", "mail\n", ago(3))
    b = of(look(), "leafcutter")["/home/vera/.thornmail"]
    assert not b.ticked and b.share == "sole"
