"""A small stand-in for the snap service on a socket of the made-up root: what is installed, removing, installing from a file."""

from __future__ import annotations

import json
import os
import shutil
import socketserver
import threading
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from email import message_from_bytes
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.paths import base

SNAPS = "snaps.json"


@contextmanager
def answer_snaps(folder: Path) -> Iterator[None]:
    """While it lasts, the socket of `folder`/root answers with the rows of `folder`/snaps.json; without them nothing is done."""
    rows = folder / SNAPS
    if not rows.exists():
        yield
        return
    place = folder / "root/run"
    place.mkdir(exist_ok=True)
    known = json.loads(rows.read_text())
    with serve(place, known):
        try:
            yield
        finally:
            rows.write_text(json.dumps(known, indent=1) + "\n")


@contextmanager
def serve(place: Path, rows: list[dict[str, Any]]) -> Iterator[_Server]:
    """Serve on `place`/snapd.socket in a thread; the socket is taken away at the end."""
    fd = os.open(place, os.O_PATH | os.O_DIRECTORY)
    (place / "snapd.socket").unlink(missing_ok=True)
    server = _Server(
        f"/proc/self/fd/{fd}/snapd.socket", _Handler
    )  # a socket's own path may have 107 bytes only
    server.rows, server.root = rows, place.parent
    thread = threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True)
    thread.start()
    try:
        yield server
    finally:
        server.shutdown()
        server.server_close()
        (place / "snapd.socket").unlink(missing_ok=True)
        os.close(fd)


class _Server(socketserver.ThreadingUnixStreamServer):
    rows: list[dict[str, Any]]
    root: Path
    told: set[bytes]
    daemon_threads = True

    def __init__(self, address: str, handler: type[BaseHTTPRequestHandler]) -> None:
        super().__init__(address, handler)
        self.told = set()
        self.gone: list[dict[str, Any]] = []
        self.restarted: list[str] = []
        self.changes: dict[str, dict[str, Any]] = {}

    def change(self, act: Callable[[], None]) -> dict[str, Any]:
        number = str(len(self.changes) + 1)
        change = {"id": number, "ready": True, "status": "Done", "err": "", "tasks": []}
        try:
            act()
        except Failed as error:
            change |= {"status": "Error", "err": str(error)}
        self.changes[number] = change
        return {"type": "async", "status-code": 202, "status": "Accepted", "result": None, "change": number}

    def remove(self, name: str) -> None:
        """As the service does: images, launchers and every data folder."""
        mine = [r for r in self.rows if r["name"] == name]
        if any(r.get("base") == name for r in self.rows):
            raise Failed(f'snap "{name}" is used by other snaps')
        self.gone += mine
        self.rows[:] = [r for r in self.rows if r["name"] != name]
        for row in mine:
            (self.root / f"var/lib/snapd/snaps/{name}_{row['revision']}.snap").unlink(missing_ok=True)
            for app in row.get("apps", []):
                if file := app.get("desktop-file"):
                    (self.root / file.lstrip("/")).unlink(missing_ok=True)
        homes = [*(self.root / "home").glob(f"*/snap/{name}"), self.root / f"root/snap/{name}"]
        for folder in (self.root / f"var/snap/{name}", *homes):
            shutil.rmtree(folder, ignore_errors=True)

    def remove_revision(self, name: str, number: str) -> None:
        """One that is not in use, with what was copied for it."""
        row = next((r for r in self.rows if r["name"] == name and str(r["revision"]) == number), None)
        if row is None or row["status"] == "active":
            raise Failed(f'cannot remove revision {number} of snap "{name}"')
        self.gone.append(row)
        self.rows.remove(row)
        (self.root / f"var/lib/snapd/snaps/{name}_{number}.snap").unlink(missing_ok=True)
        homes = [
            *(self.root / "home").glob(f"*/snap/{name}/{number}"),
            self.root / f"root/snap/{name}/{number}",
        ]
        for folder in (self.root / f"var/snap/{name}/{number}", *homes):
            shutil.rmtree(folder, ignore_errors=True)

    def revert(self, name: str, number: str) -> None:
        row = next((r for r in self.rows if r["name"] == name and str(r["revision"]) == number), None)
        if row is None or row["status"] == "active":
            raise Failed(f'cannot revert snap "{name}" to revision {number}')
        for other in self.rows:
            if other["name"] == name:
                other["status"] = "active" if other is row else "installed"

    def install(self, file: str, image: bytes, dangerous: bool) -> None:
        """What was there before comes back as it was; unsigned it is counted. Data of the one in use is copied for the new one, and
        what stood there is put aside."""
        name, _, number = file.removesuffix(".snap").rpartition("_")
        row = next((r for r in self.gone if r["name"] == name and str(r["revision"]) == number), None)
        if row is None or not (dangerous or self.told):
            raise Failed(f'cannot find signatures with metadata for snap "{file}"')
        mine = [r for r in self.rows if r["name"] == name]
        local = [int(str(r["revision"])[1:]) for r in mine if str(r["revision"]).startswith("x")]
        row = row | {"status": "active"}
        if dangerous:
            row["revision"] = f"x{max(local, default=0) + 1}"
        for other in mine:
            if other["status"] == "active":
                self._copy_data(name, str(other["revision"]), str(row["revision"]))
            other["status"] = "installed"
        self.rows.append(row)
        (self.root / f"var/lib/snapd/snaps/{name}_{row['revision']}.snap").write_bytes(image)
        (self.root / f"var/snap/{name}/{row['revision']}").mkdir(parents=True, exist_ok=True)
        for app in row.get("apps", []):
            if file := app.get("desktop-file"):
                text = f"[Desktop Entry]\nType=Application\nName={row.get('title', name)}\nExec=/snap/bin/{name}\n"
                (self.root / file.lstrip("/")).write_text(text)

    def _copy_data(self, name: str, old: str, new: str) -> None:
        for place in (self.root / f"var/snap/{name}", *(self.root / "home").glob(f"*/snap/{name}")):
            if (place / old).is_dir():
                shutil.rmtree(place / f"{new}.old", ignore_errors=True)
                if (place / new).exists():
                    (place / new).rename(place / f"{new}.old")
                shutil.copytree(place / old, place / new, symlinks=True)


class Failed(Exception):
    """A change that ends in an error."""


class _Handler(BaseHTTPRequestHandler):
    server: _Server

    def do_GET(self) -> None:
        place = self.path.split("?")[0]
        if place == "/v2/snaps":
            self._say({"type": "sync", "status-code": 200, "status": "OK", "result": self.server.rows})
        elif place.startswith("/v2/changes/") and (change := self.server.changes.get(base(place))):
            self._say({"type": "sync", "status-code": 200, "status": "OK", "result": change})
        elif place.startswith("/v2/assertions/"):
            self._send(200, f"type: {base(place)}\n\nsigned\n".encode(), "application/x.ubuntu.assertion")
        else:
            self._refuse(404, "not found", "not-found")

    def do_POST(self) -> None:
        body = self.rfile.read(int(self.headers.get("Content-Length", 0)))
        name = self.path.removeprefix("/v2/snaps/")
        if self.path == "/v2/assertions":
            self.server.told.add(body)
            self._say({"type": "sync", "status-code": 200, "status": "OK", "result": None})
        elif self.path == "/v2/snaps":
            parts = message_from_bytes(
                f"Content-Type: {self.headers['Content-Type']}\n\n".encode() + body
            ).get_payload()
            fields = {str(p.get_param("name", header="content-disposition")): p for p in parts}  # type: ignore[union-attr]
            image = fields["snap"]
            file, content = str(image.get_filename()), bytes(image.get_payload(decode=True))  # type: ignore
            self._say(self.server.change(lambda: self.server.install(file, content, "dangerous" in fields)))
        elif self.path == "/v2/apps":
            self.server.restarted += json.loads(body)["names"]
            self._say(self.server.change(lambda: None))
        elif all(r["name"] != name for r in self.server.rows):
            self._refuse(404, f'snap "{name}" is not installed', "snap-not-found")
        else:
            said, server = json.loads(body), self.server
            number = str(said.get("revision", ""))
            if said["action"] == "revert":
                self._say(server.change(lambda: server.revert(name, number)))
            elif number:
                self._say(server.change(lambda: server.remove_revision(name, number)))
            else:
                self._say(server.change(lambda: server.remove(name)))

    def _refuse(self, status: int, message: str, kind: str) -> None:
        self._say({"type": "error", "status-code": status, "result": {"message": message, "kind": kind}})

    def _say(self, answer: dict[str, Any]) -> None:
        self._send(answer["status-code"], json.dumps(answer).encode(), "application/json")

    def _send(self, status: int, body: bytes, kind: str) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def address_string(self) -> str:
        return "local"

    def log_message(self, format: str, *args: Any) -> None:
        pass
