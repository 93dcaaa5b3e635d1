"""A machine for the bench: 200 applications, five homes and a system with 400,000 files of settings that may point at them."""

from __future__ import annotations

import random
from pathlib import Path

APPLICATIONS, PEOPLE = 200, 5


def names() -> list[str]:
    chance = random.Random(7)
    return [f"quill{chance.getrandbits(20):05x}{i:03}" for i in range(APPLICATIONS)]


def build(root: Path, files: int) -> None:
    chance, known = random.Random(8), names()

    def write(path: str, text: str) -> None:
        place = root / path
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_text(text)

    def some() -> str:
        return chance.choice(known) if chance.random() < 0.02 else f"other{chance.getrandbits(24):06x}"

    write("etc/passwd", "".join(f"p{i}:x:{1000 + i}:{1000 + i}::/home/p{i}:/bin/sh\n" for i in range(PEOPLE)))
    for i in range(300):
        write(f"etc/cron.d/job{i}", f"1 2 * * * root {some()} --x\n")
        write(f"etc/logrotate.d/log{i}", f"/var/log/{some()}/*.log {{\n  weekly\n}}\n")
        write(f"etc/sudoers.d/rule{i}", f"p0 ALL=(root) /usr/bin/{some()}\n")
    for person in range(PEOPLE):
        home = f"home/p{person}"
        types = "".join(f"text/x-{i}={some()}.desktop;{some()}.desktop;\n" for i in range(400))
        write(f"{home}/.config/mimeapps.list", f"[Default Applications]\n{types}")
        write(f"{home}/.bashrc", "".join(f"alias a{i}='{some()} -x'\n" for i in range(400)))
        marks = "".join(
            f'<bookmark href="file:///{i}"><b:application name="{some()}" exec="{some()}"/></bookmark>\n'
            for i in range(500)
        )
        write(f"{home}/.local/share/recently-used.xbel", f'<xbel xmlns:b="b">\n{marks}</xbel>\n')
        for i in range(400):
            entry = f"[Desktop Entry]\nType=Application\nName={i}\nExec={some()}\n"
            write(f"{home}/.local/share/applications/l{i}.desktop", entry)
        left = files // PEOPLE - 400
        for i in range(left):
            text = f"[General]\ncolour={i}\nprogram={some()}\n"
            write(f"{home}/.config/set{i // 100}/part{i % 100}{'.conf' if i % 20 == 0 else ''}", text)
