"""Builds a root in which each registry beside Debian's is made by its own real tool, where that tool runs here."""

from __future__ import annotations

import base64
import hashlib
import json
import os
import subprocess
import sys
import zipfile
from collections.abc import Sequence
from pathlib import Path

VERA, OTTO = "home/vera", "home/otto"


def write(root: Path, path: str, text: str | bytes, mode: int = 0o644) -> Path:
    target = root / path
    target.parent.mkdir(parents=True, exist_ok=True)
    target.write_bytes(text.encode() if isinstance(text, str) else text)
    target.chmod(mode)
    return target


def tool(*arguments: str | Path, **env: str) -> str:
    done = subprocess.run(
        [str(a) for a in arguments], capture_output=True, text=True, env={**os.environ, **env}
    )
    assert done.returncode == 0, (arguments, done.stdout, done.stderr)
    return done.stdout


def launcher(name: str, command: str, comment: str = "for the test") -> str:
    return f"[Desktop Entry]\nType=Application\nName={name}\nComment={comment}\nExec={command}\n"


def bare_root(root: Path) -> Path:
    write(
        root,
        "etc/passwd",
        "root:x:0:0::/root:/bin/sh\nvera:x:1001:1001::/home/vera:/bin/sh\notto:x:1002:1002::/home/otto:/bin/sh\n",
    )
    for place in (VERA, OTTO, "root", "usr/bin", "usr/share/applications", "opt", "var/lib"):
        (root / place).mkdir(parents=True, exist_ok=True)
    return root


def build_rpm(work: Path, name: str, files: dict[str, str], more: str = "", version: str = "3.1-2") -> Path:
    """By rpmbuild. `more`: further lines of its head; `version`: with the release behind it."""
    stage = work / f"stage-{name}-{version}"
    stage.mkdir(parents=True)
    for path, text in files.items():
        write(stage, path, text, 0o755 if "/bin/" in path else 0o644)
    number, _, release = version.partition("-")
    spec = write(
        work,
        f"{name}.spec",
        f"""Name: {name}
Version: {number}
Release: {release}
Summary: The {name} of the test
License: none
Vendor: Test Works
URL: https://{name}.example/
BuildArch: noarch
{more}
%description
For tests.
%install
mkdir -p %{{buildroot}}
cp -a {stage}/. %{{buildroot}}/
%files
{chr(10).join("/" + p for p in files)}
""",
    )
    defined = (f"_topdir {work}/top", "_build_id_links none", "__brp_strip /bin/true")
    tool("rpmbuild", "-bb", *(x for d in defined for x in ("--define", d)), spec)
    return work / f"top/RPMS/noarch/{name}-{version}.noarch.rpm"


def install_rpms(root: Path, *packages: Path, scripts: bool = False) -> None:
    more = () if scripts else ("--noscripts",)
    tool("rpm", "--root", root, "--dbpath", "/var/lib/rpm", "--nodeps", *more, "-i", *packages)


def add_rpms(root: Path, work: Path) -> None:
    """`inkwell` (a desktop program) needs `libinkwell`; `ruler` is a terminal program."""
    inkwell = {
        "usr/bin/inkwell": "#!/bin/sh\n",
        "usr/share/applications/inkwell.desktop": launcher("Inkwell", "inkwell"),
        "usr/share/inkwell/nibs.dat": "n" * 9000,
    }
    install_rpms(
        root,
        build_rpm(work, "inkwell", inkwell, "Requires: libinkwell"),
        build_rpm(work, "libinkwell", {"usr/lib/libinkwell.so.1": "l" * 5000}),
        build_rpm(work, "ruler", {"usr/bin/ruler": "#!/bin/sh\n"}),
    )


def add_flatpaks(root: Path, work: Path, more: Sequence[str] = ()) -> None:
    """An application for everyone with its runtime, and the same once more for otto; from a local repository. `more`: others for
    everyone on the same runtime, which has a part then that extends it."""
    repo, name = work / "repo", "org.test.Base"
    runtime, part = work / "runtime", work / "part"
    text = f"[Runtime]\nname={name}\nruntime={name}/x86_64/1\nsdk={name}/x86_64/1\n"
    write(runtime, "metadata", f"{text}\n[Extension {name}.Words]\ndirectory=words\n" if more else text)
    (runtime / "files").mkdir()
    write(runtime, "usr/lib/base.so", "b" * 40_000)
    write(part, "metadata", f"[Runtime]\nname={name}.Words\n\n[ExtensionOf]\nref=runtime/{name}/x86_64/1\n")
    (part / "files").mkdir()
    write(part, "usr/words", "w" * 9_000)
    names = [f"org.test.{n}" for n in ("Drawers", *more)]
    for id in names:
        _flatpak_application(work / id, id)
    for folder in (runtime, *([part] if more else []), *(work / id for id in names)):
        tool("flatpak", "build-export", "--arch=x86_64", "--disable-sandbox", repo, folder, "1")
    system = [*names, f"{name}.Words"] if more else names
    for kind, where, wanted in (
        ("--system", root / "var/lib/flatpak", system),
        ("--user", root / OTTO / ".local/share/flatpak", names[:1]),
    ):
        env = {
            "FLATPAK_SYSTEM_DIR" if kind == "--system" else "FLATPAK_USER_DIR": str(where),
            "HOME": str(work),
            "XDG_DATA_HOME": str(work / "data"),
            "FLATPAK_CONFIG_DIR": str(work / "none"),
        }
        tool("flatpak", kind, "remote-add", "--no-gpg-verify", "shelf", f"file://{repo}", **env)
        for id in wanted:
            words = ("install", "-y", "--noninteractive", "--arch=x86_64", "shelf", f"{id}//1")
            tool("flatpak", kind, *words, **env)
    write(root, f"{VERA}/.var/app/org.test.Drawers/cache/c.bin", "c" * 3000)
    write(root, f"{VERA}/.var/app/org.test.Drawers/config/c.ini", "a=1\n")


def _flatpak_application(folder: Path, id: str) -> None:
    name = id.rpartition(".")[2]
    write(
        folder,
        "metadata",
        f"[Application]\nname={id}\nruntime=org.test.Base/x86_64/1\nsdk=org.test.Base/x86_64/1\ncommand={name.lower()}\n",
    )
    write(folder, f"files/bin/{name.lower()}", "#!/bin/sh\nexit 0\n", 0o755)
    write(
        folder,
        f"files/share/metainfo/{id}.metainfo.xml",
        f"<component><id>{id}</id><developer_name>Test Works</developer_name><releases><release "
        'version="5.2"/></releases></component>',
    )
    write(folder, f"export/share/applications/{id}.desktop", launcher(name, name.lower()))


def add_appimage(root: Path, work: Path, path: str, name: str) -> Path:
    """A real program with the mark of type 2 and a squashfs image behind it, as the format says."""
    inside = work / f"image-{name}"
    write(inside, f"{name}.desktop", launcher(name, "AppRun") + "Icon=wheel\nX-AppImage-Version=7.7\n")
    tool("mksquashfs", inside, work / f"{name}.squashfs", "-quiet", "-noappend", "-root-owned")
    program = bytearray(Path("/bin/true").read_bytes())
    program[8:11] = b"AI\x02"
    return write(root, path, bytes(program) + (work / f"{name}.squashfs").read_bytes(), 0o755)


def add_pip(root: Path, work: Path) -> None:
    """`tally` with a command needs `tallylib`, which nothing else needs: real wheels, installed by the real pip."""

    def wheel(name: str, needs: str, entry: str) -> Path:
        files = {
            f"{name}/__init__.py": "def main():\n    pass\n",
            f"{name}-1.4.dist-info/METADATA": f"Metadata-Version: 2.1\nName: {name}\nVersion: 1.4\nSummary: counts\n{needs}",
            f"{name}-1.4.dist-info/WHEEL": "Wheel-Version: 1.0\nGenerator: test\nRoot-Is-Purelib: true\nTag: py3-none-any\n",
        }
        if entry:
            files[f"{name}-1.4.dist-info/entry_points.txt"] = f"[console_scripts]\n{entry}\n"
        record = f"{name}-1.4.dist-info/RECORD"
        rows = [
            f"{p},sha256={base64.urlsafe_b64encode(hashlib.sha256(t.encode()).digest()).rstrip(b'=').decode()},{len(t)}"
            for p, t in files.items()
        ]
        target = work / f"{name}-1.4-py3-none-any.whl"
        with zipfile.ZipFile(target, "w") as out:
            for path, text in {**files, record: "\n".join([*rows, f"{record},,"]) + "\n"}.items():
                out.writestr(path, text)
        return target

    made = [wheel("tallylib", "", ""), wheel("tally", "Requires-Dist: tallylib>=1\n", "tally = tally:main")]
    tool(
        sys.executable,
        "-m",
        "pip",
        "install",
        "-q",
        "--no-index",
        "--find-links",
        work,
        "--root",
        root,
        "--prefix",
        f"/{VERA}/.local",
        "--root-user-action=ignore",
        "--ignore-installed",
        "--no-warn-script-location",
        made[1],
    )


def add_receipts(root: Path) -> None:
    """What pipx, npm, cargo and gem leave, as each writes it."""
    venv = f"{VERA}/.local/share/pipx/venvs/gauge"
    write(
        root,
        f"{venv}/pipx_metadata.json",
        json.dumps({"main_package": {"package": "gauge", "package_version": "0.3", "apps": ["gauge"]}}),
    )
    write(root, f"{venv}/bin/gauge", "#!/bin/sh\n", 0o755)
    (root / VERA / ".local/bin").mkdir(parents=True, exist_ok=True)
    (root / VERA / ".local/bin/gauge").symlink_to(f"/{venv}/bin/gauge")
    write(
        root,
        "usr/local/lib/node_modules/@test/hem/package.json",
        json.dumps(
            {
                "name": "@test/hem",
                "version": "2.0.1",
                "bin": {"hem": "hem.js"},
                "author": {"name": "Test Works"},
            }
        ),
    )
    write(root, "usr/local/lib/node_modules/@test/hem/hem.js", "// hem\n")
    (root / "usr/local/bin").mkdir(parents=True, exist_ok=True)
    (root / "usr/local/bin/hem").symlink_to("../lib/node_modules/@test/hem/hem.js")
    installs = {
        "awl 0.9.1 (registry+https://registry.example/index)": {"bins": ["awl"], "all_features": False}
    }
    write(root, f"{OTTO}/.cargo/.crates2.json", json.dumps({"installs": installs}))
    write(root, f"{OTTO}/.cargo/bin/awl", "program", 0o755)
    gem = 'Gem::Specification.new do |s|\n  s.name = "seam".freeze\n  s.executables = ["seam".freeze]\n  s.summary = "joins".freeze\nend\n'
    write(root, "var/lib/gems/3.1.0/specifications/seam-1.2.gemspec", gem)
    write(root, "var/lib/gems/3.1.0/gems/seam-1.2/lib/seam.rb", "# seam\n")


def add_games(root: Path) -> None:
    """A game by its library's manifest, and a Wine prefix with one Windows program that its own registry names."""
    library = f"{OTTO}/.local/share/Steam/steamapps"
    write(
        root,
        f"{library}/appmanifest_77.acf",
        '"AppState"\n{\n\t"appid"\t\t"77"\n\t"name"\t\t"Paper Harbour"\n\t"installdir"\t\t"PaperHarbour"\n}\n',
    )
    write(root, f"{library}/common/PaperHarbour/world.pak", "w" * 70_000)
    prefix = f"{OTTO}/.wine"
    write(
        root,
        f"{prefix}/system.reg",
        "WINE REGISTRY Version 2\n\n[Software\\\\Microsoft\\\\Windows\\\\CurrentVersion\\\\Uninstall\\\\Loupe] 1700000000\n"
        '"DisplayName"="Loupe for Plates"\n"DisplayVersion"="1.9"\n'
        '"InstallLocation"="C:\\\\Program Files\\\\Loupe"\n"Publisher"="Test Works"\n',
    )
    write(root, f"{prefix}/drive_c/Program Files/Loupe/loupe.exe", "MZ" + "x" * 20_000)


def add_unregistered(root: Path) -> None:
    """Programs that nobody registered: with a launcher; a folder with only a command on the way; a lone script and a lone program."""
    write(root, "opt/sundial/bin/sundial", "#!/bin/sh\n", 0o755)
    write(
        root, "usr/local/share/applications/sundial.desktop", launcher("Sundial", "/opt/sundial/bin/sundial")
    )
    elf = Path("/bin/true").read_bytes()
    write(root, "opt/vise/libexec/vise", elf, 0o755)
    write(root, "opt/vise/share/jaws.dat", "j" * 8000)
    (root / "usr/local/bin/vise").symlink_to("/opt/vise/libexec/vise")
    write(root, "usr/local/bin/plumb", elf, 0o755)
    write(root, f"{OTTO}/.local/opt/trowel-2.1/trowel", elf, 0o755)
    write(root, f"{OTTO}/Documents/notes.txt", "not a program\n")


SNAPS = [
    {
        "name": "abacus",
        "title": "Abacus",
        "version": "8.1",
        "revision": "41",
        "status": "active",
        "type": "app",
        "base": "ground",
        "summary": "counts beads",
        "install-date": "2026-03-02T10:11:12.123456789+02:00",
        "channel": "stable",
        "publisher": {"display-name": "Test Works"},
        "apps": [
            {
                "snap": "abacus",
                "name": "abacus",
                "desktop-file": "/var/lib/snapd/desktop/applications/abacus_abacus.desktop",
            }
        ],
    },
    {"name": "abacus", "version": "8.0", "revision": "40", "status": "installed", "type": "app", "apps": []},
    {"name": "ground", "version": "1", "revision": "7", "status": "active", "type": "base", "apps": []},
]


def add_snaps(root: Path, work: Path) -> None:
    """The image files, launcher and data that the stand-in's answer tells of; images by mksquashfs."""
    for row in SNAPS:
        inside = work / f"snap-{row['name']}-{row['revision']}"
        write(
            inside,
            "meta/snap.yaml",
            f"name: {row['name']}\nversion: '{row['version']}'\ntype: {row['type']}\nsummary: counts beads\n",
        )
        (root / "var/lib/snapd/snaps").mkdir(parents=True, exist_ok=True)
        tool(
            "mksquashfs",
            inside,
            root / f"var/lib/snapd/snaps/{row['name']}_{row['revision']}.snap",
            "-quiet",
            "-noappend",
            "-root-owned",
        )
    write(
        root,
        "var/lib/snapd/desktop/applications/abacus_abacus.desktop",
        launcher("Abacus", "/snap/bin/abacus", "counts beads"),
    )
    write(root, f"{VERA}/snap/abacus/common/beads.bin", "b" * 9000)
    write(root, "var/snap/abacus/common/state", "s" * 200)
