"""The texts of the desk in other languages: words/swept-shelf_XX.ts, kept complete, and what lrelease makes of it.

words.py missing       texts that the desk's code shows and a file does not have
words.py make          the .qm files anew"""

from __future__ import annotations

import ast
import re
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path
from xml.etree import ElementTree as etree

SOURCE = Path(__file__).parents[1] / "src/swept_shelf"
WORDS = SOURCE / "desk/words"
# What is called with a text that is shown, and which of its arguments are such.
_SHOWS = {
    "spoken": (0,), "label": (0,), "button": (0,), "Elided": (0,), "Cell": (0,), "set": (0,), "text": (3,), "text_width": (0,),
    "elide": (0,), "Fold": (0,), "Piece": (0, 1), "RowTable": (0,), "_add": (1,), "Column": (1,), "_field": (0,),
    "show_nothing": (0, 1), "_say": (0, 1, 2), "_chip": (0,), "_menu": (0,),
}  # fmt: skip
SAME = (
    "Swept Shelf",
    "{} · Swept Shelf",
    "Alt+{}",
    "Alt+B",
    "8.88 GB",
    "+000 small",
    "999 bytes",
    "{}\n{} bytes\n{}",
    "group",
)  # in any language
_LETTERS = re.compile(r"[^\W\d_]{2}")


def template(node: ast.expr) -> str:
    """A text as its file has it: what is put in is {}."""
    if isinstance(node, ast.Constant):
        return node.value if isinstance(node.value, str) else ""
    if isinstance(node, ast.JoinedStr):
        return "".join(v.value if isinstance(v, ast.Constant) else "{}" for v in node.values)
    return ""


def texts_of(node: ast.expr) -> Iterator[str]:
    """Every text that an expression may be."""
    if isinstance(node, ast.IfExp):
        yield from texts_of(node.body)
        yield from texts_of(node.orelse)
    elif isinstance(node, ast.BoolOp):
        for value in node.values:
            yield from texts_of(value)
    elif isinstance(node, ast.Call) and getattr(node.func, "id", "") in ("spoken", "printable") and node.args:
        yield from texts_of(node.args[0])
    elif _LETTERS.search(text := template(node)):
        yield text


def shown(folder: Path) -> dict[str, str]:
    """Texts that the code below a folder shows as they stand, with the first place of each."""
    found: dict[str, str] = {}
    for file in sorted(folder.rglob("*.py")):
        for node in ast.walk(ast.parse(file.read_text())):
            if isinstance(node, ast.Call):
                name = (
                    node.func.attr if isinstance(node.func, ast.Attribute) else getattr(node.func, "id", "")
                )
                for at in _SHOWS.get(name, ()):
                    for text in texts_of(node.args[at]) if at < len(node.args) else ():
                        found.setdefault(text.strip(), f"{file.relative_to(SOURCE)}:{node.lineno}")
    return found


def sources(file: Path, context: str = "texts") -> dict[str, list[str]]:
    """What a file has: source to its translations, more than one where it is counted."""
    found = {}
    for part in etree.parse(str(file)).iter("context"):
        if part.findtext("name") == context:
            for message in part.iter("message"):
                said = message.find("translation")
                forms = [f.text or "" for f in said.iter("numerusform")] or [said.text or ""]
                found[message.findtext("source") or ""] = forms
    return found


def make(file: Path, into: Path) -> None:
    tool = Path(sys.executable).parent / "pyside6-lrelease"
    subprocess.run([tool, "-silent", str(file), "-qm", str(into)], check=True, capture_output=True)


def main() -> None:
    for file in sorted(WORDS.glob("*.ts")):
        if sys.argv[1:] == ["make"]:
            make(file, file.with_suffix(".qm"))
            continue
        known = sources(file)
        for text, place in shown(SOURCE / "desk").items():
            if text not in known and text.removesuffix(".") not in known:
                print(f"{file.name}: {place}: {text!r}")


if __name__ == "__main__":
    main()
