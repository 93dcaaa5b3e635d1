"""Homes, settings and traces of three people, and what points at the applications, with decoys that must stay."""

from __future__ import annotations

import random
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from pathlib import Path

from swept_shelf.core.demo.names import Names

MB = 1_000_000


@dataclass(slots=True)
class Yard:
    """Writes into the root and remembers what is true of each path, for the tests alone."""

    root: Path
    now: datetime
    scale: float
    chance: random.Random
    truth: dict[str, list[str]] = field(default_factory=dict)
    dated: list[tuple[Path, datetime]] = field(default_factory=list)

    def note(self, group: str, path: str) -> None:
        self.truth.setdefault(group, []).append(path)

    def size(self, path: str, size: int, days: float) -> None:
        """A file of that many bytes, really allocated, last written `days` ago."""
        target = self._make(path)
        count = max(1000, int(size * self.scale))
        with open(target, "wb") as out:
            block = self.chance.randbytes(min(count, 65536))
            for start in range(0, count, len(block)):
                out.write(block[: count - start])
        self.dated.append((target, self.now - timedelta(days=days, minutes=self.chance.randrange(600))))

    def text(self, path: str, text: str, days: float, mode: int = 0o644) -> None:
        target = self._make(path)
        target.write_text(text)
        target.chmod(mode)
        self.dated.append((target, self.now - timedelta(days=days, minutes=self.chance.randrange(600))))

    def link(self, path: str, target: str) -> None:
        self._make(path).symlink_to(target)

    def _make(self, path: str) -> Path:
        target = self.root / path.lstrip("/")
        target.parent.mkdir(parents=True, exist_ok=True)
        return target


def furnish(yard: Yard, n: Names) -> None:
    """Everything that no package brings."""
    _map_user(yard, n)
    _references(yard, n)
    _others(yard, n)
    _left_behind(yard, n)
    _unpacked(yard, n)


def _map_user(y: Yard, n: Names) -> None:
    """The application with belongings of every kind: maps 7, used by the first person, once by the second."""
    anna, bert, _ = n.people
    old, vendor, tiles = f"{n.package('map')}7", n.vendor, f"{n.package('map')}-tiles"
    for person, days in ((anna, 470), (bert, 610)):
        y.text(f"/home/{person}/.config/{vendor}Maps/7.conf", "zoom=4\nlast=valley\n", days)
        y.note("map_sole", f"/home/{person}/.config/{vendor}Maps/7.conf")
    y.size(f"/home/{anna}/.local/share/{old}/symbols.bin", 14 * MB, 480)
    y.size(f"/home/{anna}/.local/share/{old}/grid/fine.bin", 6 * MB, 475)
    y.size(f"/home/{anna}/.local/share/{old}/Cache/relief.bin", 5 * MB, 471)
    y.size(f"/home/{anna}/.cache/{tiles}/7/north.tile", 18 * MB, 470)
    y.size(f"/home/{anna}/.cache/{tiles}/7/south.tile", 11 * MB, 470)
    y.text(f"/home/{anna}/.local/state/{old}/window", "geometry=12,40\n", 470)
    y.text(f"/home/{anna}/.local/state/{old}/{old}.log", "opened valley\n" * 400, 470)
    for path in (f".local/share/{old}", f".cache/{tiles}/7", f".local/state/{old}"):
        y.note("map_sole", f"/home/{anna}/{path}")
    y.size(f"/var/lib/{old}-tiles/store.db", 9 * MB, 470)
    y.size(f"/var/cache/{old}-tiles/render.bin", 4 * MB, 470)
    y.text(f"/var/log/{old}-tiles/tiles.log", "served 12 tiles\n" * 900, 470)
    for path in (f"/var/lib/{old}-tiles", f"/var/cache/{old}-tiles", f"/var/log/{old}-tiles"):
        y.note("map_sole", path)
    y.text(f"/etc/{old}/pens.conf", "ink=sepia\nwidth=3\n# set for the valley survey\n", 500)
    # Personal work inside its folder, and what both versions share: stays.
    for i in range(12):
        y.size(f"/home/{anna}/.local/share/{old}/Drawings/valley-{i:02}.svg", MB // 3, 520 - i)
    y.note("personal", f"/home/{anna}/.local/share/{old}/Drawings")
    y.text(f"/home/{anna}/.config/{vendor}Maps/pens.json", '{"pens": ["fine", "broad"]}\n', 41)
    y.note("shared", f"/home/{anna}/.config/{vendor}Maps/pens.json")
    y.text(f"/home/{anna}/.config/{vendor}Maps/9.conf", "zoom=5\n", 40)
    y.size(f"/home/{anna}/.cache/{tiles}/9/north.tile", 16 * MB, 40)
    y.note("others", f"/home/{anna}/.cache/{tiles}/9")


def _references(y: Yard, n: Names) -> None:
    anna, bert, _ = n.people
    title, old, new = n.app["map"], f"{n.package('map')}7", f"{n.package('map')}9"
    desk, word, domain = n.package("desk"), n.word, n.domain
    home = f"/home/{anna}"

    def entry(name: str, command: str) -> str:
        return f"[Desktop Entry]\nType=Application\nName={name}\nExec={command}\n"

    y.text(f"{home}/.config/autostart/{old}.desktop", entry(f"{title} 7", f"/usr/bin/{old} --tray"), 600)
    y.text(
        f"{home}/.config/autostart/{n.package('radio')}.desktop",
        entry(n.app["radio"], n.package("radio")),
        600,
    )
    y.text(f"{home}/.config/autostart/{new}.desktop", entry(f"{title} 9", new), 250)
    y.text(
        f"{home}/Desktop/{old}.desktop",
        entry(f"Maps of {anna.capitalize()}", f"env MAPS=valley {old} %f"),
        590,
        0o755,
    )
    y.text(
        f"{home}/.local/share/applications/{old}-valley.desktop",
        entry("Valley maps", f"{old} --open valley"),
        590,
    )
    y.text(
        f"{home}/.config/mimeapps.list",
        f"[Default Applications]\napplication/x-{n.package('map')}={old}.desktop\nimage/x-outline={old}.desktop;{new}.desktop;\n"
        f"text/x-sheet={desk}.desktop\n\n[Added Associations]\n# {old}.desktop was here first\n"
        f"image/x-outline={new}.desktop;{old}.desktop;\ntext/x-{old}={old}er.desktop;\n",
        400,
    )
    y.text(
        "/etc/cron.d/room-jobs",
        f'# jobs of the reading room; {old} draws the tiles at night\nMAILTO=""\n17 * * * * root room-list --check\n'
        f"5 2 * * * root /usr/bin/{old} --tiles >/dev/null\n20 3 * * 1 root room-list /srv/{old} && true\n",
        650,
    )
    y.text(
        f"/var/spool/cron/crontabs/{anna}",
        f"30 6 * * 1 {old} --export\n40 6 * * 1 {new} --export\n",
        640,
        0o600,
    )
    y.link("/usr/local/bin/maps", f"/usr/bin/{old}")
    y.link("/usr/local/bin/maps-new", f"/usr/bin/{new}")
    y.text(
        f"{home}/.bashrc",
        f"# {old} is the old one, {new} the new one\nexport EDITOR=room-edit\nalias plot='{old} --quick'\n"
        f"alias {old}-notes='less notes-about-{old}.txt'\nexport PATH=\"$HOME/bin:/usr/lib/{old}:$PATH\"\nalias ll='ls -l'\n",
        580,
    )
    y.text(
        f"{home}/.local/share/dbus-1/services/{domain}.Map7.service",
        f"[D-BUS Service]\nName={domain}.Map7\nExec=/usr/bin/{old} --service\n",
        590,
    )
    y.text(
        f"{home}/.config/gtk-3.0/bookmarks",
        f"file://{home}/.local/share/{old}/grid Grid\nfile://{home}/Documents Documents\nfile://{home}/{title} {title}\n",
        410,
    )
    y.text(f"{home}/.local/share/recently-used.xbel", _recents(home, old, new, desk), 40)
    y.note("decoys", f"{home}/{title}")
    y.size(f"{home}/{title}/field-notes.txt", MB // 10, 30)
    y.size(f"{home}/Documents/{old}.txt", MB // 10, 200)
    y.note("decoys", f"{home}/Documents/{old}.txt")
    y.text(f"/home/{bert}/.profile", f"# nothing of {old} here\nexport LANG=C.UTF-8\n", 700)
    y.text(f"/home/{bert}/{word}/list.txt", "a person's own folder, called like an application\n", 60)
    y.note("decoys", f"/home/{bert}/{word}")


def _recents(home: str, old: str, new: str, desk: str) -> str:
    def mark(path: str, *apps: str) -> str:
        rows = "".join(
            f'          <bookmark:application name="{a}" exec="&apos;{a} %u&apos;" modified="2025-03-01T10:00:00Z" count="2"/>\n'
            for a in apps
        )
        return (
            f'  <bookmark href="file://{home}/{path}" added="2025-03-01T10:00:00Z" modified="2025-03-01T10:00:00Z" '
            'visited="2025-03-01T10:00:00Z">\n'
            '    <info>\n      <metadata owner="http://freedesktop.org">\n        <bookmark:applications>\n'
            f"{rows}        </bookmark:applications>\n      </metadata>\n    </info>\n  </bookmark>\n"
        )

    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<xbel version="1.0"\n'
        '      xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks">\n'
        + mark("Documents/valley.map", old)
        + mark("Documents/ridge.map", old, new)
        + mark(f"Documents/{old}.txt", desk)
        + "</xbel>\n"
    )


def _others(y: Yard, n: Names) -> None:
    anna, bert, cora = n.people
    p, vendor = n.package, n.vendor
    quest, mail, desk, scan = p("quest"), p("mail"), p("desk"), p("scan")
    y.size(f"/home/{bert}/.local/share/{quest}/shaders.bin", 12 * MB, 560)
    for i in range(5):
        y.size(f"/home/{bert}/.local/share/{quest}/saves/slot-{i}.sav", MB // 2, 570 - i)
    y.note("personal", f"/home/{bert}/.local/share/{quest}/saves")
    y.text(f"/home/{bert}/.config/{quest}.ini", "difficulty=2\n", 560)
    for person, days in ((anna, 1), (cora, 30)):
        for i in range(6):
            y.size(f"/home/{person}/.local/share/{mail}/Mail/inbox/cur/{i}.eml", MB // 4, days + i)
        y.note("personal", f"/home/{person}/.local/share/{mail}/Mail")
        y.size(f"/home/{person}/.cache/{mail}/index.bin", 7 * MB, days)
    y.size(f"/home/{anna}/.local/share/{desk}/catalogue.idx", 8 * MB, 0.2)
    y.text(f"/home/{anna}/.config/{desk}/settings.ini", "theme=paper\n", 0.2)
    y.size(f"/home/{anna}/.cache/{desk}/thumbs.bin", 22 * MB, 0.2)
    y.text(f"/home/{bert}/.config/{desk}/settings.ini", "theme=plain\n", 15)
    for number, person, days in (("4", cora, 5), ("2", cora, 420)):
        y.text(f"/home/{person}/.config/{scan}/{number}/profile.xml", "<profile/>\n", days)
        y.size(f"/home/{person}/.cache/{scan}{number}/strips.bin", (9 if number == "4" else 13) * MB, days)
    for role, days in (("pair_a", 20), ("pair_b", 130)):
        y.text(f"/home/{cora}/.config/{vendor}/{n.app[role]}/layout.ini", "left=1\n", days)
        y.size(f"/home/{cora}/.cache/{vendor}/{n.app[role]}/plates.bin", 4 * MB, days)
    y.text(f"/home/{cora}/.config/{vendor}/licence.txt", "workshop licence\n", 400)
    y.note("shared", f"/home/{cora}/.config/{vendor}/licence.txt")
    y.text(f"/home/{anna}/.config/{n.domain}.{n.word.capitalize()}/state.ini", "open=3\n", 200)
    y.size(f"/home/{bert}/.local/share/{p('radio')}/schedule.bin", 2 * MB, 610)
    y.size(f"/home/{anna}/.local/share/{p('match')}/model.bin", 10 * MB, 160)
    y.text(f"/home/{cora}/.config/{p('folder')}/order.ini", "by=family\n", 12)
    y.size(f"/home/{cora}/.local/share/{p('sync')}/notes.idx", 3 * MB, 8)
    for role, seen in (
        ("small_a", 2),
        ("small_b", 33),
        ("small_c", 150),
        ("small_d", 290),
        ("list", 0.1),
        ("key", 6),
    ):
        y.text(f"/home/{cora}/.config/{p(role)}.conf", "seen=1\n", seen)
    y.text(f"/home/{anna}/.config/{p('count')}rc", "unit=sheet\n", 25)
    y.text(f"/home/{bert}/.config/{n.package('map')}7er/sizes.ini", "a3=1\n", 90)
    # A folder that is a link to elsewhere: never followed, never carried along.
    y.size(f"/home/{cora}/Pictures/sheets/plate-1.tif", 15 * MB, 70)
    y.size(f"/home/{cora}/Pictures/sheets/plate-2.tif", 12 * MB, 70)
    y.link(f"/home/{cora}/.local/share/{p('folder')}", f"/home/{cora}/Pictures/sheets")
    y.note("decoys", f"/home/{cora}/Pictures/sheets")
    # Shared stores.
    y.size(f"/var/cache/apt/archives/{p('list')}_1.0_all.deb", 6 * MB, 45)
    y.size(f"/var/cache/apt/archives/{desk}_5.9_all.deb", 9 * MB, 80)
    y.size(f"/home/{bert}/.local/share/Trash/files/old-plates.zip", 12 * MB, 210)
    y.text(
        f"/home/{bert}/.local/share/Trash/info/old-plates.zip.trashinfo",
        f"[Trash Info]\nPath=/home/{bert}/old-plates.zip\nDeletionDate=2026-04-01T09:00:00\n",
        210,
    )
    y.size(f"/var/crash/_usr_bin_{p('small_c')}.crash", 3 * MB, 150)
    y.size(f"/home/{anna}/.cache/thumbnails/large/1.png", 2 * MB, 4)
    for person, days in ((anna, 2), (bert, 100), (cora, 9)):
        y.size(f"/home/{person}/Documents/report.odt", 2 * MB, days)
        y.size(f"/home/{person}/Downloads/sheet-{person}.zip", 3 * MB, days + 20)


def _left_behind(y: Yard, n: Names) -> None:
    """Of an application gone for a year, and of one of which only the log still knows."""
    anna, _, _ = n.people
    gone, long_gone = n.package("gone"), n.package("gone_long")
    y.size(f"/home/{anna}/.local/share/{gone}/seeds.db", 4 * MB, 390)
    y.size(f"/home/{anna}/.local/share/{long_gone}/media.bin", 15 * MB, 430)
    y.size(f"/home/{anna}/.cache/{long_gone}/previews.bin", 6 * MB, 430)
    y.text(f"/home/{anna}/.config/{long_gone}/view.ini", "grid=1\n", 430)
    for path in (f".local/share/{long_gone}", f".cache/{long_gone}", f".config/{long_gone}"):
        y.note("left", f"/home/{anna}/{path}")


def _unpacked(y: Yard, n: Names) -> None:
    """A program unpacked under /opt with only a launcher."""
    _, bert, _ = n.people
    name = n.package("unpacked")
    y.text(f"/opt/{name}/bin/{name}", f'#!/bin/sh\nplace="$HOME/.config/{name}"\nexit 0\n', 300, 0o755)
    y.size(f"/opt/{name}/lib/all.pak", 19 * MB, 300)
    y.text(
        f"/usr/local/share/applications/{name}.desktop",
        f"[Desktop Entry]\nType=Application\nName={n.app['unpacked']}\n"
        f"Comment=draws leaf outlines\nExec=/opt/{name}/bin/{name} %f\n"
        f"Icon=/opt/{name}/icon.png\n",
        300,
    )
    y.text(f"/home/{bert}/.config/{name}/outline.ini", "smooth=1\n", 240)
