"""An application is where its program is: not where its launcher lies, and not what somebody asked for by another name."""

from __future__ import annotations

from registries import launcher, write


def by_id(survey):
    return {a.id.removeprefix("debian:"): a for a in survey.applications}


def furnish(room, needs_it="Depends: brackenpress-common\n", source="Source: brackenpress\n"):
    inside = {"usr/share/applications/brackenpress.desktop": launcher("Bracken Press", "brackenpress")}
    inside |= {"usr/share/brackenpress/plates.dat": "p" * 9000}
    room.packages({"brackenpress-common": inside}, control=source)
    room.packages({"brackenpress": {"usr/bin/brackenpress": "#!/bin/sh\n"}}, control=source + needs_it)
    write(
        room.root,
        "var/lib/apt/extended_states",
        "Package: brackenpress-common\nArchitecture: all\nAuto-Installed: 1\n\n",
    )


def test_a_launcher_in_a_package_of_data_is_that_of_the_program_it_starts(room, look):
    furnish(room)
    found = by_id(look())
    assert "brackenpress-common" not in found
    app = found["brackenpress"]
    assert (app.name, app.type, app.own_packages) == (
        "Bracken Press",
        "desktop",
        ["brackenpress", "brackenpress-common"],
    )
    assert [x.id for x in app.launchers] == ["brackenpress.desktop"]
    assert app.bytes.total > 9000


def test_where_the_program_does_not_need_it_or_is_of_another_source_both_stand_for_themselves(room, look):
    furnish(room, needs_it="")
    assert {"brackenpress", "brackenpress-common"} <= set(by_id(look()))


def test_a_program_of_another_source_keeps_its_own_launcher(room, look):
    furnish(room, source="")
    assert {"brackenpress", "brackenpress-common"} <= set(by_id(look()))


def test_what_was_asked_for_by_a_package_without_a_program_is_the_program_it_needs(room, look):
    room.packages(
        {"sedgetalk": {"usr/share/doc/sedgetalk/copyright": "x"}}, control="Depends: sedgetalk-curses\n"
    )
    inside = {"usr/bin/sedgetalk": "#!/bin/sh\n", "usr/bin/sedgetalk-curses": "#!/bin/sh\n"}
    room.packages({"sedgetalk-curses": inside}, control="Source: sedgetalk\nDepends: sedgelib\n")
    room.packages({"sedgelib": {"usr/lib/libsedge.so.1": "x"}}, control="Source: sedgetalk\n")
    write(
        room.root,
        "var/lib/apt/extended_states",
        "".join(
            f"Package: {p}\nArchitecture: all\nAuto-Installed: 1\n\n"
            for p in ("sedgetalk-curses", "sedgelib")
        ),
    )
    room.home("vera", ".config/sedgetalk/sedgetalk.conf", "[look]\n", 1_700_000_000)
    app = by_id(look())["sedgetalk-curses"]
    assert "sedgetalk" not in by_id(look()) and app.type == "terminal"
    (kept,) = [b for b in app.belongings if b.path == "/home/vera/.config/sedgetalk"]
    assert kept.ticked
