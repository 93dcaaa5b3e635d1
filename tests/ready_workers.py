"""Workers from a process in which all they import stands ready: begun by a fork each, where a start of its own takes half a second.

A client takes the worker's place in the eyes of whoever started it: it hands over its standard files, ends with the worker's
own status, and the worker ends when it does. `python ready_workers.py SOCKET` serves; the client is a text for `python -c`."""

from __future__ import annotations

import array
import contextlib
import os
import select
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

_CLIENT = """
import _socket, os, posix
s = _socket.socket(1, 1)
s.connect({path!r})
said = b"\\0\\0".join(k + b"=" + v for k, v in posix.environ.items())
s.sendmsg([len(said).to_bytes(4, "big")], [(1, 1, b"".join(n.to_bytes(4, {order!r}) for n in (0, 1, 2)))])
while said:
    said = said[s.send(said):]
for n in (0, 1):
    os.close(n)
status = int.from_bytes(s.recv(4), "big", signed=True)
if status < 0:
    os.kill(os.getpid(), -status)
os._exit(status)
"""


@contextlib.contextmanager
def ready_workers() -> Iterator[list[str]]:
    """The command that stands for the worker's while the server works."""
    with TemporaryDirectory() as folder:
        path = f"{folder}/socket"
        with subprocess.Popen([sys.executable, "-X", "utf8", __file__, path]) as server:
            while not os.path.exists(path):
                assert server.poll() is None, "the server of workers did not start"
                time.sleep(0.005)
            client = _CLIENT.format(path=path, order=sys.byteorder)
            try:
                yield [sys.executable, "-I", "-S", "-c", client]
            finally:
                server.terminate()


def _serve(path: str) -> None:
    sys.path.insert(0, str(Path(__file__).parent))
    from helpers import ready_to_fork

    ready_to_fork()
    with socket.socket(socket.AF_UNIX, socket.SOCK_STREAM) as listener:
        listener.bind(path + ".part")
        listener.listen(16)
        os.rename(path + ".part", path)
        signal.signal(signal.SIGCHLD, signal.SIG_IGN)
        while True:
            client, _ = listener.accept()
            if os.fork() == 0:
                listener.close()
                _keep(client)
            client.close()


def _keep(client: socket.socket) -> None:
    """One worker for one client, until one of both ends."""
    signal.signal(signal.SIGCHLD, signal.SIG_DFL)
    files = array.array("i")
    length, more, _, _ = client.recvmsg(4, socket.CMSG_LEN(12))
    files.frombytes(more[0][2])
    said = b""
    while len(said) < int.from_bytes(length, "big"):
        said += client.recv(1 << 16)
    worker = os.fork()
    if worker == 0:
        client.close()
        os.setsid()
        for number, fd in enumerate(files):
            os.dup2(fd, number)
            os.close(fd)
        os.environ.clear()
        os.environ.update(os.fsdecode(p).split("=", 1) for p in said.split(b"\0\0"))
        sys.stdin, sys.stdout, sys.stderr = open(0), open(1, "w"), open(2, "w")  # noqa: SIM115
        _work()
    for fd in files:
        os.close(fd)
    ended = os.pidfd_open(worker)
    ready, _, _ = select.select([ended, client], [], [])
    if ended not in ready:
        os.kill(worker, signal.SIGKILL)
    status = os.waitstatus_to_exitcode(os.waitpid(worker, 0)[1])
    with contextlib.suppress(OSError):
        client.sendall(status.to_bytes(4, "big", signed=True))
    os._exit(0)


def _work() -> None:
    from swept_shelf.core.machine import confine
    from swept_shelf.running import begin
    from swept_shelf.worker.__main__ import main

    status, end_with = 70, confine.end_with
    confine.end_with = lambda _: end_with(os.getppid())  # the client's end is the keeper's
    try:
        begin()
        status = main()
    except SystemExit as error:
        status = error.code if isinstance(error.code, int) else 1
    finally:
        for stream in (sys.stdout, sys.stderr):
            with contextlib.suppress(Exception):
                stream.flush()
        os._exit(status)


if __name__ == "__main__":
    _serve(sys.argv[1])
