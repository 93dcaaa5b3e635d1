"""A small stand-in for the snap service: answers GET /v2/snaps on a socket of the made-up root."""

from __future__ import annotations

import json
import os
import socketserver
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler
from pathlib import Path
from typing import Any

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
    with serve(place, json.loads(rows.read_text())):
        yield


@contextmanager
def serve(place: Path, rows: list[dict[str, Any]]) -> Iterator[None]:
    """Serve on `place`/snapd.socket in a thread; the socket is taken away at the end."""
    fd = os.open(place, os.O_PATH | os.O_DIRECTORY)
    (place / "snapd.socket").unlink(missing_ok=True)
    server = _Server(
        f"/proc/self/fd/{fd}/snapd.socket", _Handler
    )  # a socket's own path may have 107 bytes only
    server.rows = rows
    thread = threading.Thread(target=server.serve_forever, args=(0.05,), daemon=True)
    thread.start()
    try:
        yield
    finally:
        server.shutdown()
        server.server_close()
        (place / "snapd.socket").unlink(missing_ok=True)
        os.close(fd)


class _Server(socketserver.ThreadingUnixStreamServer):
    rows: list[dict[str, Any]]
    daemon_threads = True


class _Handler(BaseHTTPRequestHandler):
    server: _Server

    def do_GET(self) -> None:
        known = self.path.split("?")[0] == "/v2/snaps"
        result: Any = self.server.rows if known else {"message": "not found", "kind": "not-found"}
        status = 200 if known else 404
        body = json.dumps(
            {
                "type": "sync" if known else "error",
                "status-code": status,
                "status": "OK" if known else "Not Found",
                "result": result,
            }
        ).encode()
        self.send_response(status)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def address_string(self) -> str:
        return "local"

    def log_message(self, format: str, *args: Any) -> None:
        pass
