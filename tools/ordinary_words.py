"""Measures how ordinary words are: in how many projects' package descriptions each stands, written small as words are.

    python tools/ordinary_words.py Packages Translation-en > src/swept_shelf/core/belongings/ordinary.txt

Both are a Debian mirror's index files for one release, unpacked. A project is a source package; one that is itself called
by the word does not count for it. Names of programs are written large, or small by few but themselves, and fall out."""

from __future__ import annotations

import re
import sys
from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

FEWEST = 15  # projects
WORD = re.compile(r"(?<![\w./@:+-])[a-z]{4,}(?![\w/@:+-]|\.\w)")


def paragraphs(path: str) -> Iterator[dict[str, str]]:
    """The fields of each paragraph (deb822(5)); lines that go on belong to the field above them."""
    for paragraph in Path(path).read_text("utf-8").split("\n\n"):
        fields = re.split(r"^([\w-]+):", paragraph, flags=re.M)
        yield {name: value.strip() for name, value in zip(fields[1::2], fields[2::2], strict=True)}


def main(packages: str, descriptions: str) -> None:
    project = {p["Package"]: p.get("Source", p["Package"]).split()[0] for p in paragraphs(packages) if p}
    users: dict[str, set[str]] = defaultdict(set)
    seen: set[str] = set()
    for p in paragraphs(descriptions):
        name = p.get("Package", "")
        source = project.get(name, name)
        seen.add(source)
        for word in set(WORD.findall(p.get("Description-en", ""))):
            if word not in source and word not in name:
                users[word].add(source)
    print(
        f"# Words that stand in the descriptions of at least {FEWEST} of {len(seen)} "
        f"projects, and in how many; made by tools/{Path(__file__).name}."
    )
    for word, of in sorted(users.items(), key=lambda row: (-len(row[1]), row[0])):
        if len(of) >= FEWEST:
            print(word, len(of))


if __name__ == "__main__":
    main(*sys.argv[1:])
