"""The packages of the made-up machine, as data: about forty, of every sort that a real database holds."""

from __future__ import annotations

from dataclasses import dataclass, field

from swept_shelf.core.demo.names import Names

MB = 1_000_000


@dataclass(slots=True)
class Spec:
    """`files`: path to bytes of content (str) or a size in bytes (int); `used`: days since each person's use."""

    name: str
    version: str
    summary: str
    files: dict[str, str | int] = field(default_factory=dict)
    depends: str = ""
    recommends: str = ""
    provides: str = ""
    section: str = "science"
    priority: str = "optional"
    essential: bool = False
    protected: bool = False
    automatic: bool = False
    conffiles: list[str] = field(default_factory=list)
    scripts: dict[str, str] = field(default_factory=dict)
    installed_days: int = 400
    used_days: int | None = None
    maintainer: str = ""


def launcher(name: str, comment: str, command: str, icon: str, more: str = "") -> str:
    return (
        f"[Desktop Entry]\nType=Application\nName={name}\nComment={comment}\nExec={command} %f\n"
        f"Icon={icon}\nCategories=Science;\n{more}"
    )


def program(*literals: str) -> str:
    """A program as a script that names the places it writes to."""
    return (
        "#!/bin/sh\n# Made up for the reading room.\n"
        + "".join(f'place="$HOME/{x}"\n' for x in literals)
        + "exit 0\n"
    )


def _app(spec: Spec, title: str, *literals: str, size: int, more: str = "", command: str = "") -> Spec:
    command = command or spec.name
    spec.files |= {
        f"/usr/bin/{command}": program(*literals),
        f"/usr/lib/{spec.name}/engine.bin": size * 2 // 3,
        f"/usr/share/{spec.name}/resources.pak": size // 3,
        f"/usr/share/applications/{spec.name}.desktop": launcher(
            title, spec.summary, command, spec.name, more
        ),
        f"/usr/share/icons/hicolor/48x48/apps/{spec.name}.png": 4000,
        f"/usr/share/doc/{spec.name}/copyright": "Made up for the reading room.\n",
    }
    return spec


def demo_packages(n: Names) -> list[Spec]:
    """Every package, in an order in which dpkg can install them."""
    p, a, ip = n.package, n.app, int
    vendor = n.vendor
    old, new = f"{p('map')}7", f"{p('map')}9"
    maint = f"{vendor} Workshop <packages@{vendor.lower()}.example>"
    specs = [
        Spec(
            "roombase",
            "12.1",
            "base of the reading-room computer",
            {"/usr/bin/room-info": program(), "/usr/lib/roombase/tables.bin": 3 * MB},
            section="admin",
            priority="required",
            essential=True,
            installed_days=900,
        ),
        Spec(
            "roomtools",
            "5.2",
            "everyday commands",
            {"/usr/bin/room-list": program(), "/usr/lib/roomtools/tools.bin": 2 * MB},
            section="utils",
            priority="important",
            installed_days=900,
        ),
        Spec(
            "libstipule4",
            "4.1-2",
            "shared drawing library",
            {"/usr/lib/libstipule.so.4": 3 * MB},
            section="libs",
            automatic=True,
        ),
        Spec(
            "libcalyx2",
            "2.8",
            "shared library for tables",
            {"/usr/lib/libcalyx.so.2": 2 * MB},
            section="libs",
            automatic=True,
        ),
        Spec(
            "libawn1",
            "1.4",
            "shared library for pictures",
            {"/usr/lib/libawn.so.1": 2 * MB},
            depends="libcalyx2",
            section="libs",
            automatic=True,
        ),
        Spec(
            "libgeo-fine",
            "3.0",
            "coordinates, fine",
            {"/usr/lib/libgeo-fine.so.3": MB},
            section="libs",
            automatic=True,
        ),
        Spec(
            "libbract0",
            "0.9",
            "sound library",
            {"/usr/lib/libbract.so.0": MB},
            section="libs",
            automatic=True,
        ),
        Spec(
            "libtepal5",
            "5.5",
            "network library",
            {"/usr/lib/libtepal.so.5": MB},
            section="libs",
            automatic=True,
        ),
        Spec(
            "room-icons",
            "2.0",
            "icons of the reading room",
            {"/usr/share/icons/room/all.pak": 2 * MB},
            section="x11",
            automatic=True,
        ),
        Spec(
            "room-fonts",
            "1.7",
            "label fonts",
            {"/usr/share/fonts/room/label.pak": 3 * MB},
            section="fonts",
            automatic=True,
        ),
        Spec(
            f"{p('tile')}-server",
            "2.2",
            "serves map tiles",
            {f"/usr/bin/{p('tile')}d": program(), f"/usr/lib/{p('tile')}/server.bin": 3 * MB},
            depends="libtepal5",
            provides="tile-service",
            section="net",
            automatic=True,
        ),
        Spec(
            f"{old}-data",
            "7.2.1",
            f"outline maps for {a['map']} 7",
            {f"/usr/share/{old}-data/outlines.pak": 9 * MB},
            automatic=True,
        ),
        Spec(
            f"{new}-data",
            "9.0.3",
            f"outline maps for {a['map']} 9",
            {f"/usr/share/{new}-data/outlines.pak": 8 * MB},
            automatic=True,
        ),
    ]
    unit = (
        f"[Unit]\nDescription={a['map']} 7 tile store\n\n[Service]\nExecStart=/usr/bin/{old} --tiles\n"
        f"StateDirectory={old}-tiles\nCacheDirectory={old}-tiles\nLogsDirectory={old}-tiles\n\n"
        "[Install]\nWantedBy=multi-user.target\n"
    )
    hero = Spec(
        old,
        "7.2.1",
        "draws distribution maps",
        depends=f"libstipule4, {old}-data, libgeo-fine | libgeo-coarse, tile-service",
        recommends="room-fonts",
        installed_days=700,
        used_days=470,
        maintainer=maint,
        conffiles=[f"/etc/{old}/tiles.conf", f"/etc/{old}/pens.conf"],
    )
    _app(
        hero,
        f"{a['map']} 7",
        f".config/{vendor}Maps/7.conf",
        f".local/share/{old}",
        f".cache/{p('map')}-tiles/7",
        f".local/state/{old}",
        size=24 * MB,
        more=f"MimeType=application/x-{p('map')};image/x-outline;\n",
    )
    hero.files |= {
        f"/usr/lib/systemd/system/{old}-tiles.service": unit,
        f"/usr/share/dbus-1/services/{n.domain}.Map7.service": f"[D-BUS Service]\nName={n.domain}.Map7\nExec=/usr/bin/{old} --service\n",
        f"/etc/{old}/tiles.conf": "# where tiles are kept\nstore=fine\nlimit=400\n",
        f"/etc/{old}/pens.conf": "ink=black\nwidth=2\n",
    }
    wants = f"$DPKG_ROOT/etc/systemd/system/multi-user.target.wants/{old}-tiles.service"
    hero.scripts = {
        "postinst": f'#!/bin/sh\nset -e\nif [ "$1" = configure ]; then\n  mkdir -p "$DPKG_ROOT/var/lib/{old}-tiles"\n'
        f'  mkdir -p "$DPKG_ROOT/etc/systemd/system/multi-user.target.wants"\n'
        f'  [ -L "{wants}" ] || ln -s /usr/lib/systemd/system/{old}-tiles.service "{wants}"\nfi\n',
        "prerm": "#!/bin/sh\nset -e\nexit 0\n",
        "postrm": f'#!/bin/sh\nset -e\nif [ "$1" = purge ]; then\n  rm -rf "$DPKG_ROOT/var/lib/{old}-tiles" '
        f'"$DPKG_ROOT/var/log/{old}-tiles"\nfi\n',
    }
    specs.append(hero)
    specs.append(
        _app(
            Spec(
                new,
                "9.0.3",
                "draws distribution maps",
                depends=f"libstipule4, {new}-data, libgeo-fine",
                installed_days=300,
                used_days=40,
                maintainer=maint,
            ),
            f"{a['map']} 9",
            f".config/{vendor}Maps/9.conf",
            f".cache/{p('map')}-tiles/9",
            size=26 * MB,
            more=f"MimeType=application/x-{p('map')};\n",
        )
    )
    # Its name begins like another's.
    specs.append(
        _app(
            Spec(
                f"{old}er",
                "1.1",
                "cuts map sheets to size",
                depends="libstipule4",
                installed_days=350,
                used_days=90,
            ),
            f"{a['map']} 7er",
            f".config/{old}er",
            size=3 * MB,
        )
    )
    label, desk = p("label"), p("desk")
    specs.append(
        _app(
            Spec(
                label,
                "3.3",
                "prints specimen labels",
                depends="libawn1, room-fonts",
                installed_days=620,
                used_days=3,
            ),
            a["label"],
            f".config/{label}",
            size=7 * MB,
        )
    )
    specs.append(
        _app(
            Spec(
                desk,
                "6.0",
                "catalogue of the collection",
                depends=f"{label}, libcalyx2, libtepal5",
                recommends="room-icons",
                installed_days=620,
                used_days=0,
            ),
            a["desk"],
            f".local/share/{desk}",
            f".config/{desk}",
            f".cache/{desk}",
            size=22 * MB,
        )
    )
    quest = p("quest")
    specs.append(
        Spec(
            f"{quest}-data",
            "1.8",
            "worlds of the game",
            {f"/usr/share/games/{quest}/world.pak": 34 * MB},
            section="games",
            automatic=True,
        )
    )
    specs.append(
        _app(
            Spec(
                quest,
                "1.8",
                "adventure game",
                depends=f"{quest}-data, libbract0",
                section="games",
                installed_days=640,
                used_days=560,
            ),
            a["quest"],
            f".local/share/{quest}",
            f".config/{quest}.ini",
            size=8 * MB,
        )
    )
    scan = p("scan")
    for number, installed, used, size in (("4", 200, 5, 14 * MB), ("2", 720, 420, 12 * MB)):
        specs.append(
            _app(
                Spec(
                    f"{scan}{number}",
                    f"{number}.1",
                    "scans herbarium sheets",
                    depends="libawn1",
                    installed_days=installed,
                    used_days=used,
                ),
                f"{a['scan']} {number}",
                f".config/{scan}/{number}",
                f".cache/{scan}{number}",
                size=size,
            )
        )
    mail = p("mail")
    specs.append(
        _app(
            Spec(
                mail,
                "4.4",
                "reads and writes mail",
                depends="libtepal5",
                section="mail",
                installed_days=600,
                used_days=1,
            ),
            a["mail"],
            f".local/share/{mail}",
            f".cache/{mail}",
            size=9 * MB,
        )
    )
    specs.append(
        _app(
            Spec(n.word, "1.2", "collects clippings", installed_days=380, used_days=200),
            n.word.capitalize(),
            f".config/{n.domain}.{n.word.capitalize()}",
            size=4 * MB,
        )
    )
    for role, used in (("pair_a", 20), ("pair_b", 130)):
        specs.append(
            _app(
                Spec(
                    p(role),
                    "2.6",
                    "part of the plate workshop",
                    installed_days=420,
                    used_days=used,
                    maintainer=maint,
                ),
                a[role],
                f".config/{vendor}/{a[role]}",
                f".cache/{vendor}/{a[role]}",
                size=6 * MB,
            )
        )
    specs.append(
        _app(
            Spec(p("match"), "0.9", "compares petals", depends="libawn1", installed_days=330, used_days=160),
            a["match"],
            f".local/share/{p('match')}",
            size=11 * MB,
        )
    )
    specs.append(
        _app(
            Spec(
                p("radio"),
                "2.0",
                "records the radio",
                depends="libbract0",
                section="sound",
                installed_days=690,
                used_days=610,
            ),
            a["radio"],
            f".local/share/{p('radio')}",
            size=6 * MB,
        )
    )
    specs.append(
        _app(
            Spec(p("folder"), "1.0", "sorts pressed sheets", installed_days=250, used_days=12),
            a["folder"],
            f".config/{p('folder')}",
            size=3 * MB,
        )
    )
    for role, size, used in (
        ("small_a", 2, 2),
        ("small_b", 1, 33),
        ("small_c", 2, 150),
        ("small_d", 1, 290),
        ("list", 3, 0),
        ("key", 2, 6),
    ):
        specs.append(
            _app(
                Spec(
                    p(role),
                    "1.0",
                    "small helper of the reading room",
                    depends="libcalyx2",
                    installed_days=500 - ip(size),
                    used_days=used,
                ),
                a[role],
                f".config/{p(role)}.conf",
                size=size * MB,
            )
        )
    specs.append(
        Spec(
            p("count"),
            "3.1",
            "counts sheets on the command line",
            {
                f"/usr/bin/{p('count')}": program(f".config/{p('count')}rc"),
                f"/usr/share/man/man1/{p('count')}.1": "made up\n",
                f"/usr/lib/{p('count')}/tables.bin": MB,
            },
            section="utils",
            installed_days=510,
            used_days=25,
        )
    )
    agent, sync = p("agent"), p("sync")
    specs.append(
        Spec(
            agent,
            "1.5",
            "reports the inventory to the head office",
            {
                f"/usr/sbin/{agent}": program(),
                f"/usr/lib/{agent}/agent.bin": 4 * MB,
                f"/usr/lib/systemd/system/{agent}.service": f"[Service]\nExecStart=/usr/sbin/{agent}\nStateDirectory={agent}\n",
            },
            section="admin",
            installed_days=520,
        )
    )
    specs.append(
        Spec(
            sync,
            "2.3",
            "keeps field notes in step",
            {
                f"/usr/bin/{sync}": program(f".local/share/{sync}"),
                f"/usr/lib/{sync}/sync.bin": 5 * MB,
                f"/usr/lib/systemd/user/{sync}.service": f"[Service]\nExecStart=/usr/bin/{sync}\n",
            },
            depends="libtepal5",
            section="net",
            installed_days=430,
            used_days=8,
        )
    )
    specs.append(
        _app(
            Spec(
                p("session"),
                "11.0",
                "the session of this desktop",
                protected=True,
                section="x11",
                installed_days=900,
                used_days=0,
            ),
            a["session"],
            f".config/{p('session')}",
            size=8 * MB,
        )
    )
    specs.append(
        Spec(
            p("gone"),
            "1.3",
            "measures seeds (given up)",
            {f"/usr/bin/{p('gone')}": program(), f"/etc/{p('gone')}.conf": "scale=1\n"},
            conffiles=[f"/etc/{p('gone')}.conf"],
            installed_days=600,
        )
    )
    for spec in specs:
        spec.maintainer = spec.maintainer or "Reading Room Packagers <room@herbarium.example>"
    return specs
