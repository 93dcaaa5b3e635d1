"""A process that reads what others wrote can do nothing else: tried from inside, in a child that gave itself up."""

from __future__ import annotations

import json
import os
import socket
import subprocess
import sys

import pytest

INSIDE = r"""
import json, os, resource, socket, sys
from swept_shelf.core.machine import confine
own, other, bus, port = sys.argv[1:5]
why = confine.look_without_trace(own)
confine.keep_rights(confine.READING)
confine.speak_to_nobody()
confine.limit(5, 64 << 20, 1 << 20, 64)
def tried(act):
    try:
        act()
        return "done"
    except (OSError, MemoryError) as error:
        return type(error).__name__
def connect(family, address):
    s = socket.socket(family)
    s.settimeout(2)
    s.connect(address)
def send():
    s = socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM)
    s.sendto(b"x", bus + ".datagram")
said = {
    "why": why,
    "own folder": tried(lambda: open(own + "/x", "w").write("x")),
    "another's": tried(lambda: open(other + "/x", "w")),
    "chmod": tried(lambda: os.chmod(other, 0o777)),
    "chown": tried(lambda: os.chown(own + "/x", 1, 1)),
    "setuid": tried(lambda: os.setuid(1)),
    "bus": tried(lambda: connect(socket.AF_UNIX, bus)),
    "datagram": tried(send),
    "network": tried(lambda: connect(socket.AF_INET, ("127.0.0.1", int(port)))),
    "chroot": tried(lambda: os.chroot(own)),
    "mknod": tried(lambda: os.mknod(own + "/d", 0o20666, os.makedev(1, 5))),
    "memory": tried(lambda: bytes(256 << 20)),
    "read a secret": tried(lambda: open(own + "/secret").read()),
    "rights": [l.split()[1] for l in open("/proc/self/status") if l.startswith(("CapPrm", "CapBnd", "NoNewPrivs", "Seccomp:"))],
}
print(json.dumps(said))
"""


@pytest.mark.skipif(os.geteuid() != 0, reason="what root gives up is tried by root")
def test_a_reader_of_roots_can_read_and_nothing_else(tmp_path):
    own, other = tmp_path / "own", tmp_path / "other"
    own.mkdir()
    other.mkdir()
    (own / "secret").write_text("x")
    (own / "secret").chmod(0)
    os.chown(own / "secret", 1234, 1234)
    bus = str(tmp_path / "bus")
    stream, datagram, network = (
        socket.socket(socket.AF_UNIX),
        socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM),
        socket.create_server(("127.0.0.1", 0)),
    )
    stream.bind(bus)
    stream.listen()
    datagram.bind(f"{bus}.datagram")
    said = subprocess.run(
        [sys.executable, "-c", INSIDE, str(own), str(other), bus, str(network.getsockname()[1])],
        capture_output=True,
        text=True,
    )
    for each in (stream, datagram, network):
        each.close()
    found = json.loads(said.stdout)
    assert (
        found.pop("why") == "" and found.pop("own folder") == "done" and found.pop("read a secret") == "done"
    )
    permitted, bounding, no_new, filtered = found.pop("rights")
    assert int(permitted, 16) == int(bounding, 16) == (1 << 2 | 1 << 3) and no_new == "1"
    assert filtered == "2" or os.uname().machine not in ("x86_64", "aarch64")
    assert set(found.values()) <= {"PermissionError", "OSError", "MemoryError", "ConnectionRefusedError"}, (
        found
    )
    assert found["bus"] == "PermissionError" and list(other.iterdir()) == []


def test_every_command_that_reads_is_given_up_before_it_becomes_one(tmp_path):
    """By what the kernel says of it, while it runs."""
    from swept_shelf.core.machine.commands import run

    told = run(
        "grep", "-a", "-E", "^(CapPrm|CapBnd|NoNewPrivs|Seccomp|Groups):", "/proc/self/status"
    ).out.decode()
    rights = dict(line.split(":", 1) for line in told.splitlines())
    assert (
        rights["NoNewPrivs"].strip() == "1" and int(rights["CapBnd"], 16) & ~0b1100 == 0
    ) or os.geteuid() != 0
    interfaces = run("grep", "-c", ":", "/proc/self/net/dev").out.decode().strip()
    assert interfaces in ("1", "0") or os.geteuid() != 0  # the loop alone
    limits = run("grep", "-E", "core file|open files|data size", "/proc/self/limits").out.decode()
    assert "1024" in limits and str(768 << 20) in limits
