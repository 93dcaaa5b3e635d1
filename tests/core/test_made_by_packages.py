"""What packages make outside their lists is theirs: by their scripts, their settings tool, their links and their users."""

from __future__ import annotations

import os

import pytest

from evidence import SERVICE, Room, add_program, ago
from registries import write
from swept_shelf.core.documents.survey import Belonging, Survey

NAME = "woldgauge"


def add(room: Room, name: str = NAME, files: dict[str, str] | None = None, **scripts: str) -> None:
    add_program(room, name, more=files)
    for script, text in scripts.items():
        write(room.root, f"var/lib/dpkg/info/{name}.{script}", f"#!/bin/sh\nset -e\n{text}\n", 0o755)


def of(survey: Survey, name: str = NAME) -> dict[str, Belonging]:
    found = survey.find(f"debian:{name}")
    assert found is not None
    return {b.path: b for b in found.belongings}


@pytest.mark.parametrize(
    ("place", "script", "text"),
    [
        (
            "etc/apparmor.d/local/usr.bin.woldgauge",
            "postinst",
            'LOCAL="/etc/apparmor.d/local/usr.bin.woldgauge"\ntouch "$LOCAL"',
        ),
        ("etc/default/woldgauge", "postinst", "FILE=/etc/default/woldgauge\nprintf x > ${FILE}"),
        ("etc/sedge/list.conf", "postrm", 'D=/etc/sedge\nif [ "$1" = purge ]; then rm -f $D/list.conf; fi'),
        ("var/games/woldgauge.scores", "postinst", "touch /var/games/woldgauge.scores"),
        ("usr/local/share/woldgauge", "postinst", "mkdir -p /usr/local/share/woldgauge"),
        (
            "usr/lib/plugins/woldgauge.cache",
            "postinst",
            "x > /usr/lib/plugins/$DPKG_MAINTSCRIPT_PACKAGE.cache",
        ),
    ],
)
def test_what_a_packages_scripts_make_is_its_and_goes_along(room, look, place, script, text):
    add(room, **{script: text})
    write(room.root, f"{place}/x" if place.endswith("share/woldgauge") else place, "x\n")
    found = of(look())[f"/{place}"]
    assert (
        found.ticked and found.share == "sole" and any(e.path.endswith(f".{script}") for e in found.evidence)
    )


def test_a_folder_that_a_script_takes_only_where_it_is_empty_is_not_its_with_what_somebody_put_there(
    room, look
):
    lines = (
        "mkdir -p /usr/local/share/hall-plates\n",
        "rmdir /usr/local/share/hall-plates 2>/dev/null || true\n",
    )
    add(room, postinst=lines[0], postrm=lines[1])
    (room.root / "usr/local/share/hall-plates").mkdir(parents=True)
    assert of(look())["/usr/local/share/hall-plates"].ticked  # nothing is lost with it
    write(room.root, "usr/local/share/hall-plates/own.crt", "somebody's\n")
    assert "/usr/local/share/hall-plates" not in of(look())


def test_a_place_that_a_script_only_looks_into_is_not_its(room, look):
    add(
        room,
        postinst="if [ -e /etc/reeve/main.conf ]; then . /etc/reeve/main.conf; fi\nrm -f /var/lib/reeve/stamp",
    )
    write(room.root, "etc/reeve/main.conf", "x\n")
    write(room.root, "var/lib/reeve/stamp", "x\n")
    assert not [p for p, b in of(look()).items() if "reeve" in p and b.ticked]


@pytest.mark.parametrize(
    "path",
    ["etc/passwd", "etc/default", "var/lib/dpkg/status", "etc/shells", "home/vera", "etc/alternatives/w"],
)
def test_no_script_makes_a_place_of_the_systems_or_a_persons_its_packages(room, look, path):
    add(room, postrm=f"[ $1 = purge ] && rm -rf /{path}")
    if not (room.root / path).exists():
        write(room.root, path, "x\n")
    assert f"/{path}" not in of(look())


def test_what_two_packages_scripts_take_away_stays_with_either(room, look):
    for name in (NAME, "fennrule"):
        add(room, name, postrm="rm -rf /var/lib/marshcommon/index")
    write(room.root, "var/lib/marshcommon/index", "x\n")
    for name in (NAME, "fennrule"):
        found = of(look(), name)["/var/lib/marshcommon/index"]
        assert found.share == "shared" and not found.ticked


def test_a_settings_file_kept_by_the_tool_for_them_is_its_packages(room, look):
    add(room)
    write(room.root, "etc/sedge/woven.conf", "x\n")
    write(room.root, "var/lib/ucf/registry", f"{NAME}\t/etc/sedge/woven.conf\nother\t/etc/sedge/other.conf\n")
    found = of(look())["/etc/sedge/woven.conf"]
    assert found.ticked and found.kind == "preferences"


def test_a_link_that_was_switched_on_in_anothers_folder_of_settings_is_its(room, look):
    add(room, files={"etc/reeve/available/woldgauge.conf": "x\n"})
    add(room, "reevehall", files={"etc/reeve/main.conf": "x\n"})
    (room.root / "etc/reeve/enabled").mkdir(parents=True)
    os.symlink("../available/woldgauge.conf", room.root / "etc/reeve/enabled/50-w.conf")
    os.symlink("/etc/passwd", room.root / "etc/reeve/enabled/other")
    found = of(look())
    assert found["/etc/reeve/enabled/50-w.conf"].ticked and "/etc/reeve/enabled/other" not in found


def test_what_the_user_made_for_a_service_owns_throughout_is_the_services(room, look):
    write(
        room.root,
        f"var/lib/dpkg/info/{SERVICE}.postinst",
        "#!/bin/sh\nadduser --system --group _waxen\n",
        0o755,
    )
    with open(room.root / "etc/passwd", "a") as users:
        users.write("_waxen:x:142:142::/nonexistent:/usr/sbin/nologin\n")
    for name in ("tallow", "mixed"):
        write(room.root, f"var/lib/{name}/data", "x\n")
        for path in (f"var/lib/{name}", f"var/lib/{name}/data"):
            os.chown(room.root / path, 142, 142)
    os.chown(room.root / "var/lib/mixed/data", 0, 0)
    found = of(look(), SERVICE)
    assert found["/var/lib/tallow"].ticked and "/var/lib/mixed" not in found


def test_a_games_scores_say_when_it_was_played_and_by_whom(room, look):
    add(room, postinst="touch /var/games/woldgauge.scores")
    scores = write(room.root, "var/games/woldgauge.scores", "9\n")
    os.chown(scores, 1002, 60)
    os.utime(scores, (ago(12), ago(12)))
    survey = look()
    use = survey.find(f"debian:{NAME}").last_use
    assert int(use.at.timestamp()) == ago(12) and use.person == "otto"


@pytest.mark.parametrize(
    "text",
    [
        "\n" * 900_000,
        "/var/lib/x" * 90_000,
        "A=" + "/var/lib/y" * 20 + "\n" + "x " + "$A" * 400_000,
        "A=$B$B\nB=$A$A\n" + "rm -rf $A/$B\n" * 20_000,
        "rm " * 300_000 + "/var/lib/z",
        "D=/etc/../etc/passwd\nrm -rf $D /var/lib/../../etc/passwd\n",
    ],
    ids=(
        "blank lines",
        "one line of paths",
        "a long value",
        "values that name each other",
        "one word",
        "ways up",
    ),
)
def test_a_script_made_to_be_read_for_ever_is_read_in_no_time_and_names_nothing(room, look, text):
    add(room, postrm=text)
    write(room.root, "var/lib/z", "x\n")
    survey = look()
    assert not any("passwd" in p for p in of(survey)) and "/usr/bin/woldgauge" in of(survey)


@pytest.mark.parametrize(
    "script",
    [
        "adduser --quiet --system --home /etc/woldgauge \\\n  --ingroup nogroup --disabled-password waxen",
        'KEPT=waxen\nadduser --system --force-badname "$KEPT"',
        'NAME="${RET:-waxen}"\nif true; then\n  useradd --system --home $(echo ${X} | cut -c1) ${NAME}\nfi',
    ],
)
def test_an_account_is_known_however_its_script_is_written(room, look, script):
    with (room.root / "etc/passwd").open("a") as accounts:
        accounts.write("waxen:x:107:65534::/nonexistent:/bin/false\n")
    add(room, postinst=script)
    assert any(b.object == "user" and b.path == "waxen" for b in of(look()).values())


def test_in_a_folder_of_settings_alone_what_its_own_script_takes_away_goes_and_the_rest_stays(room, look):
    listed = {"etc/sedge/one.conf": "x\n"}
    add_program(
        room, NAME, more=listed, control="Conffiles:\n /etc/sedge/one.conf 401b30e3b8b5d629635a5c613cdb7919\n"
    )
    takes = (
        'if [ "$1" = purge ]; then\n  for e in .new ""; do\n    rm -f "/etc/sedge/made.conf$e"\n  done\nfi'
    )
    write(room.root, f"var/lib/dpkg/info/{NAME}.postrm", f"#!/bin/sh\n{takes}\n", 0o755)
    write(room.root, "etc/sedge/made.conf", "made\n")
    write(room.root, "etc/sedge/by-hand.conf", "hers\n")
    found = of(look())
    assert found["/etc/sedge/made.conf"].ticked and "/etc/sedge/by-hand.conf" not in found


def test_a_line_that_goes_on_and_a_folder_with_nothing_else_in_it(room, look):
    add(
        room,
        postrm='if [ "$1" = purge ]; then\n  rm -rf /var/lib/none \\\n    /var/reeve/master\nfi',
        postinst="mkdir -p /srv/reeve/drop /srv/full",
    )
    write(room.root, "var/reeve/master", "x\n")
    (room.root / "srv/reeve/drop").mkdir(parents=True)
    write(room.root, "srv/full/hers.txt", "x\n")
    found = of(look())
    assert (
        found["/var/reeve/master"].ticked and found["/var/reeve"].ticked and found["/srv/reeve/drop"].ticked
    )
    assert "/srv/full" not in found


def test_a_link_that_a_script_makes_is_its_and_what_it_leads_to_or_a_file_in_its_place_is_not(room, look):
    add(
        room,
        postinst="ln -s ../sedge /usr/share/reed/dictionaries\nln -sf -- /srv/reed/real /srv/reed/other || true\n"
        "ln -s x /srv/reed/file",
    )
    for path in ("usr/share/sedge/x", "srv/reed/real", "srv/reed/file"):
        write(room.root, path, "x\n")
    (room.root / "usr/share/reed").mkdir()
    (room.root / "usr/share/reed/dictionaries").symlink_to("../sedge")
    (room.root / "srv/reed/other").symlink_to("/srv/reed/real")
    found = of(look())
    assert found["/usr/share/reed/dictionaries"].ticked and found["/srv/reed/other"].ticked
    assert not {"/srv/reed/real", "/srv/reed/file", "/usr/share/sedge"} & set(found)


def test_what_the_scripts_of_other_packages_take_away_is_kept_by_package(room, look):
    add(room)
    add_other(
        room,
        "libreeve",
        postrm='[ "$1" != purge ] || rm -f /var/lib/reeve.state',
        prerm="rm -f /etc/reeve.made",
    )
    for path in ("var/lib/reeve.state", "etc/reeve.made"):
        write(room.root, path, "x\n")
    assert look().system.made == {"libreeve": ["/etc/reeve.made", "/var/lib/reeve.state"]}


def add_other(room: Room, name: str, **scripts: str) -> None:
    room.packages({name: {f"usr/lib/{name}/x.so": "x"}})
    for script, text in scripts.items():
        write(room.root, f"var/lib/dpkg/info/{name}.{script}", f"#!/bin/sh\n{text}\n", 0o755)


def test_a_dot_folder_whose_very_name_its_program_holds_and_its_package_has_goes_however_short(room, look):
    add_program(room, "owt", "%s/.owt/state", ".owt")
    add_program(room, "quo", ".quofoo")
    for name in (".owt", ".quofoo"):
        write(room.root, f"home/vera/{name}/state", "x\n")
    survey = look()
    assert of(survey, "owt")["/home/vera/.owt"].ticked
    assert [b for p, b in of(survey, "quo").items() if p == "/home/vera/.quofoo" and b.ticked] == []
