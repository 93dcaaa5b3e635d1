"""A package of a disk that wants out: its scripts run inside the disk's root, behind walls, and reach nothing else."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
from pathlib import Path

import disk
import pytest

from swept_shelf.core.machine import open_machine
from swept_shelf.core.machine.commands import INSIDE, run
from swept_shelf.core.machine.walled import BROUGHT, wall
from swept_shelf.core.registries.debian import change

pytestmark = pytest.mark.skipif(os.geteuid() != 0, reason="a root is serviced by root")
TOOLS = (
    "sh",
    "dpkg",
    "dpkg-deb",
    "dpkg-split",
    "dpkg-query",
    "tar",
    "rm",
    "find",
    "diff",
    "ldconfig",
    "start-stop-daemon",
    "true",
    "cat",
    "mknod",
    "mount",
    "umount",
    "chroot",
    "ls",
    "kill",
    "touch",
    "perl",
    "mkdir",
    "head",
    "ip",
    "gzip",
    "xz",
)
TRIES = r"""#!/bin/sh
exec > /tried 2>&1
echo "uid $(cat /proc/self/status | while read a b c; do case $a in Uid:) echo $b;; esac; done)"
touch @OUTSIDE@/escaped 2>/dev/null && echo REACHED outside
ls / > /seen
[ -e /proc/1/root@OUTSIDE@ ] && echo REACHED by proc
mknod /dev/disk c 1 5 2>/dev/null && head -c 1 /dev/disk >/dev/null 2>&1 && echo REACHED a device
mknod /own-disk c 1 5 2>/dev/null; head -c 1 /own-disk >/dev/null 2>&1 && echo REACHED a device
head -c 1 /planted-disk > /dev/null 2>&1 && echo REACHED a planted device
mount -t tmpfs x /mnt 2>/dev/null && echo REACHED mount
umount /proc 2>/dev/null && echo REACHED umount
kill -0 @PID@ 2>/dev/null && echo REACHED a process
perl -e 'mkdir "/q"; chroot "/q" and do { chdir ".." for 1..60; chroot "."; print "REACHED by chroot\n" if -e "@OUTSIDE@" }'
perl -MSocket -e 'socket(S, PF_INET, SOCK_STREAM, 0) && connect(S, sockaddr_in(@PORT@, inet_aton("127.0.0.1"))) && print "REACHED the network\n"'
perl -MSocket -e 'socket(S, PF_UNIX, SOCK_STREAM, 0) && connect(S, sockaddr_un("\0hostile-@PORT@")) && print "REACHED a socket\n"'
perl -e 'open(F, ">", "/proc/sys/kernel/hostname") && print F "owned" and close(F) and print "REACHED the kernel\n"'
echo done
exit 0
"""


@pytest.fixture
def root(tmp_path):
    """A small root with a dpkg and a shell of its own: the host's, with the libraries they need."""
    made = tmp_path / "disk"
    for place in (
        "usr/bin",
        "usr/lib",
        "etc",
        "var/lib/dpkg/info",
        "var/lib/dpkg/updates",
        "var/lib/dpkg/triggers",
        "var/log",
        "proc",
        "dev",
        "run",
        "tmp",
        "mnt",
    ):
        (made / place).mkdir(parents=True)
    for name in ("bin", "sbin", "lib", "lib64", "usr/sbin", "usr/lib64"):
        (made / name).symlink_to(
            {
                "bin": "usr/bin",
                "sbin": "usr/bin",
                "lib": "usr/lib",
                "lib64": "usr/lib",
                "usr/sbin": "bin",
                "usr/lib64": "lib",
            }[name]
        )
    for tool in TOOLS:
        found = shutil.which(tool, path="/usr/local/bin:/usr/sbin:/usr/bin:/sbin:/bin")
        if not found or (tool == "perl" and not found.startswith("/usr/bin")):
            continue
        copy(Path(found), made)
    perl = Path(
        subprocess.run(
            ["/usr/bin/perl", "-MSocket", "-e", "print $INC{'Socket.pm'}"], capture_output=True, text=True
        ).stdout
    ).parent
    if perl.is_dir():
        shutil.copytree(
            perl,
            made / str(perl)[1:],
            dirs_exist_ok=True,
            ignore=lambda d, names: [n for n in names if n in ("unicore", "pod", "CORE")],
        )
        for library in subprocess.run(
            ["/usr/bin/perl", "-e", "print join ' ', @INC"], capture_output=True, text=True
        ).stdout.split():
            if Path(library).is_dir() and library.startswith("/usr/") and str(perl) not in library:
                shutil.copytree(
                    library,
                    made / library[1:],
                    dirs_exist_ok=True,
                    symlinks=True,
                    ignore=lambda d, names: [
                        n for n in names if n in ("unicore", "pod", "Debian", "CORE") or n.endswith(".pod")
                    ],
                )
    (made / "var/lib/dpkg/available").touch()
    disk.put(made, "var/lib/dpkg/status", disk.STATUS)
    disk.put(made, "var/lib/dpkg/info/lantern.list", "/.\n")
    (made / "etc/passwd").write_text("root:x:0:0::/root:/bin/sh\n")
    return made


def copy(program: Path, root: Path) -> None:
    target = root / "usr/bin" / program.name
    if not target.exists():
        shutil.copy2(program.resolve(), target)
    said = subprocess.run(["ldd", str(program)], capture_output=True, text=True).stdout
    for word in said.split():
        if word.startswith("/") and ".so" in word:
            for place in (root / "usr/lib" / Path(word).name, root / word[1:]):
                place.parent.mkdir(parents=True, exist_ok=True)
                if not place.exists():
                    shutil.copy2(Path(word).resolve(), place)


def package(tmp_path: Path, script: str) -> Path:
    tree = tmp_path / "tree"
    disk.put(tree, "usr/share/thorn/x", "thorn")
    disk.put(
        tree,
        "DEBIAN/control",
        "Package: thorn\nVersion: 1\nArchitecture: all\nMaintainer: x\nDescription: a thorn\n",
    )
    for name in ("postinst", "prerm", "postrm"):
        disk.put(tree, f"DEBIAN/{name}", script).chmod(0o755)
    kept = tmp_path / "originals"
    kept.mkdir(mode=0o700)
    subprocess.run(
        ["dpkg-deb", "--root-owner-group", "-Zgzip", "-b", str(tree), str(kept / "thorn.deb")],
        check=True,
        capture_output=True,
    )
    return kept / "thorn.deb"


def test_a_script_of_the_disk_reaches_nothing_outside_its_root(root, tmp_path):
    outside = tmp_path / "outside"
    outside.mkdir()
    listening = socket.create_server(("127.0.0.1", 0))
    port = listening.getsockname()[1]
    abstract = socket.socket(socket.AF_UNIX)
    abstract.bind(f"\0hostile-{port}")
    abstract.listen()
    os.mknod(root / "planted-disk", 0o20666, os.makedev(1, 5))  # any device: a disk’s would do as well
    script = TRIES
    for name, value in {"OUTSIDE": outside, "PID": os.getpid(), "PORT": port}.items():
        script = script.replace(f"@{name}@", str(value))
    deb = package(tmp_path, script)
    disk.put(root, "alone", script).chmod(0o755)  # a chroot alone is no wall: the same tries succeed
    subprocess.run(["unshare", "--mount", "chroot", str(root), "/alone"], check=False)
    reached = (root / "tried").read_text()
    assert {"by chroot", "the network", "a socket", "a device", "a planted device", "mount", "a process"} <= {
        x[8:] for x in reached.splitlines()
    }, reached
    for name in ("tried", "own-disk", "dev/disk"):
        (root / name).unlink(missing_ok=True)
    machine = open_machine(root)
    assert change.cannot_work_inside(machine) == ""
    with machine.folder("/") as fd:
        done = run(INSIDE, "-i", f"{BROUGHT}/thorn.deb", timeout=60, walled=wall(fd, str(deb.parent)))
    assert done.status == 0, done.err
    assert (root / "usr/share/thorn/x").read_text() == "thorn" and (
        root / "usr/share/thorn/x"
    ).stat().st_uid == 0
    assert change.states(machine, ["thorn"])["thorn"][0] == "installed"
    for act in (lambda *_: None, change.remove, change.purge):
        act(machine, ["thorn"])
        tried = (root / "tried").read_text()
        assert "REACHED" not in tried and tried.endswith("done\n"), tried
        assert set((root / "seen").read_text().split()) >= {"usr", "proc", "tried"}
        (root / "tried").unlink()
    assert list(outside.iterdir()) == [] and sorted(p.name for p in deb.parent.iterdir()) == ["thorn.deb"]
    assert not Path("/mnt/x").exists() and os.uname().nodename != "owned"
    listening.close()
    abstract.close()


def test_what_the_root_links_to_is_never_mounted_over_or_written_outside(root, tmp_path):
    """/proc, /run, /dev and the tools that start services, as links to the host's."""
    outside = tmp_path / "outside"
    outside.mkdir()
    (outside / "keep").write_text("kept")
    for name in ("proc", "run", "dev"):
        shutil.rmtree(root / name)
        (root / name).symlink_to(outside)
    (root / "usr/bin/invoke-rc.d").symlink_to(outside / "keep")
    deb = package(tmp_path, "#!/bin/sh\nexit 0\n")
    machine = open_machine(root)
    with machine.folder("/") as fd:
        run(INSIDE, "-i", f"{BROUGHT}/thorn.deb", timeout=60, walled=wall(fd, str(deb.parent)))
    assert sorted(p.name for p in outside.iterdir()) == ["keep"] and (outside / "keep").read_text() == "kept"


def test_a_root_without_a_shell_is_refused_before_anything(tmp_path):
    machine = open_machine(disk.plain_root(tmp_path / "disk"))
    assert "no shell or no dpkg" in change.cannot_work_inside(machine)
