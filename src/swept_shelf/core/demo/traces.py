"""What the system and the shells of the made-up machine wrote down of its use: logins, a typed history, opened documents."""

from __future__ import annotations

import struct
from datetime import datetime, timedelta

from swept_shelf.core.demo.homes import Yard
from swept_shelf.core.demo.names import Names
from swept_shelf.core.demo.packages import Spec

_BEFORE, _AFTER = timedelta(minutes=40), timedelta(minutes=35)
_TYPED = ("list", "count", "key")  # of these the first person types, on some days of every month


def leave_traces(yard: Yard, n: Names, specs: list[Spec]) -> None:
    """After everything else stands: logins must cover whatever was used."""
    anna, _, cora = n.people
    used = {s.name: s.used_days for s in specs if s.used_days is not None}
    _type(yard, n, anna, used)
    _open(yard, n, cora, used)
    moments = [(yard.now - timedelta(days=days, hours=1), cora) for days in used.values()]
    moments += [
        (at, next((p for p in n.people if f"/home/{p}/" in str(path)), anna)) for path, at in yard.dated
    ]
    _log_in(yard, moments)


def _type(y: Yard, n: Names, person: str, used: dict[str, int]) -> None:
    rows: list[tuple[datetime, str]] = []
    for role in _TYPED:
        name, first = n.package(role), used[n.package(role)]
        days = [first, *(d for d in range(first + 1, 480) if y.chance.random() < 0.07)]
        rows += [
            (y.now - timedelta(days=d, hours=1, minutes=y.chance.randrange(25)), f"{name} --sheet {d % 40}")
            for d in days
        ]
    rows += [(at + timedelta(minutes=2), f"man {n.package('match')}") for at, _ in rows[:6]]
    text = "".join(f"#{int(at.timestamp())}\n{command}\n" for at, command in sorted(rows))
    y.text(f"/home/{person}/.bash_history", text, 0.1, 0o600)


def _open(y: Yard, n: Names, person: str, used: dict[str, int]) -> None:
    """Documents that the catalogue and the mail program opened, by the list that desktops share."""
    marks: list[str] = []
    for role in ("desk", "mail", "label", "folder"):
        name, first = n.package(role), used[n.package(role)]
        for days in [first, *(d for d in range(first + 2, 600) if y.chance.random() < 0.05)]:
            at = f"{y.now - timedelta(days=days, hours=1, minutes=y.chance.randrange(25)):%Y-%m-%dT%H:%M:%SZ}"
            marks.append(
                f'  <bookmark href="file:///home/{person}/Documents/sheet-{len(marks):03}.txt" '
                f'added="{at}" modified="{at}" visited="{at}">\n'
                '    <info>\n      <metadata owner="http://freedesktop.org">\n        <bookmark:applications>\n'
                f'          <bookmark:application name="{n.app[role]}" exec="&apos;{name} %u&apos;" modified="{at}" count="1"/>\n'
                "        </bookmark:applications>\n      </metadata>\n    </info>\n  </bookmark>\n"
            )
    y.text(
        f"/home/{person}/.local/share/recently-used.xbel",
        '<?xml version="1.0" encoding="UTF-8"?>\n<xbel version="1.0"\n'
        '      xmlns:bookmark="http://www.freedesktop.org/standards/desktop-bookmarks">\n'
        + "".join(marks)
        + "</xbel>\n",
        0.1,
    )


def _log_in(y: Yard, moments: list[tuple[datetime, str]]) -> None:
    """wtmp (utmp(5)): a session around every moment somebody was there."""
    records = []
    for at, person in moments:
        for kind, user, when in ((7, person, at - _BEFORE), (8, "", at + _AFTER)):
            records.append(
                (
                    when,
                    struct.pack(
                        "<hxxi32s4s32s256shhiii16s20x",
                        kind,
                        900,
                        b"tty7",
                        b"7",
                        user.encode(),
                        b":0",
                        0,
                        0,
                        0,
                        int(when.timestamp()),
                        0,
                        b"",
                    ),
                )
            )
    target = y.root / "var/log/wtmp"
    target.write_bytes(b"".join(record for _, record in sorted(records, key=lambda r: r[0])))
