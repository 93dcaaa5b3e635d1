"""Programs installed by hand into a prefix: what stands beside them in its common folders is theirs, and nothing else."""

from __future__ import annotations

import pytest

from helpers import Job, differences, picture
from registries import write
from staging import copied, staged

LIB = "\x7fELF\0libgrid9.so.1\0"
INSTALLED = {
    "bin/grid9": LIB,
    "etc/grid9.conf": "",
    "include/grid9/grid9.h": "",
    "lib/grid9/plugins/a.so": "",
    "lib/libgrid9.a": "",
    "lib/libgrid9.so.1": LIB,
    "lib/pkgconfig/grid9.pc": "",
    "lib/x86_64-linux-gnu/cmake/grid9-1.2/grid9.cmake": "",
    "libexec/grid9/helper": "",
    "man/man1/grid9.1": "",
    "share/applications/org.example.Grid9.desktop": "[Desktop Entry]\nType=Application\nName=Grid Nine\nExec=grid9 %f\nIcon=org.example.Grid9\n",
    "share/doc/grid9/README": "",
    "share/glib-2.0/schemas/org.example.Grid9.gschema.xml": "<schemalist/>",
    "share/grid9/data.bin": "",
    "share/help/C/grid9/index.page": "",
    "share/icons/hicolor/48x48/apps/org.example.Grid9.png": "",
    "share/icons/hicolor/scalable/mimetypes/application-x-grid9.svg": "",
    "share/icons/hicolor/symbolic/apps/org.example.Grid9-symbolic.svg": "",
    "share/info/grid9.info.gz": "",
    "share/locale/de/LC_MESSAGES/grid9.mo": "",
    "share/man/de/man1/grid9.1.gz": "",
    "share/man/man5/grid9.5": "",
    "share/metainfo/org.example.Grid9.metainfo.xml": "<component/>",
    "share/mime/packages/grid9.xml": "<mime-info/>",
    "share/pixmaps/grid9.png": "",
}
OTHERS = {
    "bin/shared9": "\x7fELF\0libshared9.so.2\0",
    "bin/zeta9": "\x7fELF\0libshared9.so.2\0metainfo\0locale\0pixmaps\0",
    "bin/python9.1": "\x7fELF",
    "include/shared9.h": "",
    "lib/python9.1/site-packages/thing/x.py": "",
    "lib/libshared9.so.2": "\x7fELF\0libshared9.so.2\0",
    "share/icons/Fancy/48x48/apps/grid9.png": "",
    "share/icons/Fancy/index.theme": "[Icon Theme]\nName=Fancy\n",
    "share/locale/de/LC_MESSAGES/grid.mo": "",
    "share/man/man1/grid90.1": "",
    "share/metainfo/org.example.Grid.metainfo.xml": "<component/>",
}


# Whose program somebody deleted: its launcher leads nowhere.
GONE = {
    "share/applications/trellis9.desktop": "[Desktop Entry]\nType=Application\nName=Trellis\nExec=trellis9\n",
    "share/trellis9/data": "x",
    "share/locale/de/LC_MESSAGES/trellis9.mo": "x",
    "share/man/man1/trellis9.1": "x",
    "lib/libtrellis9.so.1": "x",
}
SCRIPTS = {
    "share/quill9/run.py": "#!/usr/bin/python3\n",
    "share/applications/quill9.desktop": "[Desktop Entry]\nType=Application\nName=Quill\nExec=quill9\n",
    "share/locale/de/LC_MESSAGES/quill9.mo": "x",
    "share/quill9/themes/drawn.svg": "<svg/>",
    "share/metainfo/others.xml": "x",
}


# As an installer of a vendor's does it: the program apart, the rest among what packages bring.
BESIDE_PACKAGES = {
    "usr/share/doc/terrain9/README": "x",
    "usr/share/icons/hicolor/48x48/apps/maker-terrain9.png": "x",
    "usr/share/man/man1/terrain9.1.gz": "x",
    "usr/share/metainfo/com.maker.terrain9.metainfo.xml": "x",
    "usr/share/pixmaps/maker-terrain9.png": "x",
}
ENTRY = "[Desktop Entry]\nType=Application\nName={0} Nine\nExec=/opt/maker/{0}9/bin/{0}9\nIcon=maker-{0}9\n"
MAKERS = BESIDE_PACKAGES | {
    "opt/maker/terrain9/bin/terrain9": "\x7fELF",
    "opt/maker/contour9/bin/contour9": "\x7fELF",
    "usr/share/applications/maker-terrain9.desktop": ENTRY.format("terrain"),
    "usr/share/applications/maker-contour9.desktop": ENTRY.format("contour"),
    "usr/share/icons/hicolor/48x48/apps/maker-contour9.png": "x",
}


def furnish(job: Job) -> None:
    root = job.machine.root
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))[1:]
    for prefix in ("usr/local", f"{home}/.local"):
        for path, text in (INSTALLED | OTHERS).items():
            name = path if prefix == "usr/local" else path.replace("rid9", "rey8")
            said = text if prefix == "usr/local" else text.replace("rid9", "rey8")
            write(root, f"{prefix}/{name}", said or "x", 0o755 if "bin/" in path else 0o644)
    for path, text in SCRIPTS.items():
        write(root, f"usr/local/{path}", text, 0o755 if path.endswith(".py") else 0o644)
    for path, text in MAKERS.items():
        write(root, path, text, 0o755 if "/bin/" in path else 0o644)
    write(root, f"{home}/.zephyr9/bin/zephyr9", "\x7fELF", 0o755)
    write(root, f"{home}/.zephyr9/env", 'export PATH="$HOME/.zephyr9/bin:$PATH"\n')
    write(root, f"{home}/.gazette9/bin/gazette9", "\x7fELF", 0o755)
    write(root, f"{home}/.gazette9/articles/first.odt", "mine")
    write(root, f"{home}/.bashrc", '. "$HOME/.zephyr9/env"\nalias ll="ls -l"\n')
    tool = f"{home}/.local/share/uv/tools/lathe9"
    write(root, f"{tool}/pyvenv.cfg", "home = /usr/bin\n")
    write(root, f"{tool}/bin/lathe9", "#!/usr/bin/python3\n", 0o755)
    write(root, f"{home}/projects/pyproject.toml", "")
    write(root, f"{home}/projects/plane9/pyvenv.cfg", "home = /usr/bin\n")
    write(root, f"{home}/projects/plane9/bin/plane9", "#!/usr/bin/python3\n", 0o755)
    for name, leads in (
        ("lathe9", "../share/uv/tools/lathe9/bin/lathe9"),
        ("plane9", "../../projects/plane9/bin/plane9"),
    ):
        (root / home / ".local/bin" / name).symlink_to(leads)
    for path, text in GONE.items():
        write(root, f"usr/local/{path}", text)
    write(root, f"{home}/go/bin/gouge9", "\x7fELF", 0o755)
    (root / "usr/bin/terrain9").symlink_to("/opt/maker/terrain9/bin/terrain9")
    (root / "usr/local/bin/quill9").symlink_to("../share/quill9/run.py")
    job.survey()


@pytest.fixture
def job(tmp_path):
    return copied(staged(furnish), tmp_path / "machine")


def covered(app, path):
    """Whether a path goes with an application: ticked, or a reference that is taken out."""
    going = [b.path for b in app.belongings if b.ticked] + [r.path for r in app.pointers]
    return any(path == g or path.startswith(g + "/") for g in going)


def test_all_that_was_installed_beside_a_program_goes_with_it_and_nothing_else(job):
    root = job.machine.root
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))
    for prefix, name in (("/usr/local", "grid9"), (f"{home}/.local", "grey8")):
        app = job.app(f"files:{prefix}/bin/{name}")
        assert app.name == ("Grid Nine")
        paths = {path: f"{prefix}/{path.replace('rid9', name[1:])}" for path in (*INSTALLED, *OTHERS)}
        assert [p for p in INSTALLED if not covered(app, paths[p])] == []
        assert [p for p in OTHERS if covered(app, paths[p])] == []
    before = picture(root)
    job.carry(job.prepare(job.order("files:/usr/local/bin/grid9")))
    left = {p for p in INSTALLED if (root / "usr/local" / p).exists()}
    assert left == set()
    assert job.clearance().findings == 0
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []


def test_what_was_installed_for_a_language_is_not_its_interpreters(job):
    app = job.app("files:/usr/local/bin/python9.1")
    assert [b.path for b in app.belongings] == ["/usr/local/bin/python9.1"]


def test_a_library_that_another_program_needs_is_said_and_stays(job):
    app = job.app("files:/usr/local/bin/shared9")
    lent = {b.path: b for b in app.belongings if "other programs may need it" in b.reason}
    assert set(lent) == {"/usr/local/lib/libshared9.so.2", "/usr/local/include/shared9.h"}
    assert not any(b.ticked for b in lent.values())


def test_a_script_that_a_link_in_the_prefix_leads_to_is_a_program_of_it(job):
    """Pictures that an installer brought are no person's own work; folders of the standard are nobody's, whoever names them."""
    app = job.app("files:/usr/local/share/quill9")
    ticked = {b.path for b in app.belongings if b.ticked}
    assert {"/usr/local/bin/quill9", "/usr/local/share/locale/de/LC_MESSAGES/quill9.mo"} < ticked
    assert not [b.path for b in app.belongings if b.personal]
    standard = {f"/usr/local/share/{name}" for name in ("metainfo", "locale", "pixmaps")}
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))
    standard |= {path.replace("/usr/local", f"{home}/.local") for path in standard}
    named = {b.path for a in job.surveyed.survey.applications for b in a.belongings}
    assert not standard & named


def test_what_a_vendors_installer_puts_among_what_packages_brought_is_found_too(job):
    root = job.machine.root
    app = job.app("files:/opt/maker/terrain9")
    assert [p for p in (*BESIDE_PACKAGES, "usr/bin/terrain9") if not covered(app, f"/{p}")] == []
    assert not any("contour9" in b.path for b in app.belongings), "each of a maker's programs is one"
    assert job.app("files:/opt/maker/contour9").name == "contour Nine"
    job.carry(job.prepare(job.order("files:/opt/maker/terrain9")))
    assert [
        p for p in (*BESIDE_PACKAGES, "usr/bin/terrain9") if (root / p).is_symlink() or (root / p).exists()
    ] == []
    assert (root / "opt/maker/contour9/bin/contour9").exists()


def test_a_tool_that_lives_in_a_hidden_folder_of_a_home_is_a_program(job):
    """Unless somebody's work lies there: then nothing says that the folder is the tool's."""
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))
    app = job.app(f"files:{home}/.zephyr9")
    assert app.name == "zephyr9"
    assert [b.path for b in app.belongings if b.ticked] == [f"{home}/.zephyr9"]
    assert (f"{home}/.bashrc", 1) in {(r.path, r.line) for r in app.references}
    assert job.surveyed.survey.find(f"files:{home}/.gazette9") is None


def test_a_command_in_an_environment_of_its_own_is_a_program_and_a_project_is_none(job):
    home = next(p.home for p in job.surveyed.survey.people if p.home.startswith("/home/"))
    app = job.app(f"files:{home}/.local/share/uv/tools/lathe9")
    assert {b.path for b in app.belongings if b.ticked} >= {
        app.id.removeprefix("files:"),
        f"{home}/.local/bin/lathe9",
    }
    assert not [a.id for a in job.surveyed.survey.applications if "plane9" in a.id]
    assert job.app(f"files:{home}/go/bin/gouge9").type == "terminal"


def test_of_a_program_that_somebody_deleted_all_that_stood_beside_it_is_left_behind(job):
    root = job.machine.root
    left = next(e for e in job.surveyed.survey.left_behind if e.name == "trellis9")
    assert not any(b.ticked for b in left.belongings), "nobody knows who deleted it, and why"
    going = [b.path for b in left.belongings]
    assert [p for p in GONE if not any(f"/usr/local/{p}".startswith(g) for g in going)] == []
    before = picture(root)
    job.carry(job.prepare(job.order(left.id, ticked=frozenset(going))))
    assert [p for p in GONE if (root / "usr/local" / p).exists()] == []
    assert job.put_back()["why"] == []
    assert differences(before, picture(root)) == []


def test_a_command_of_the_prefix_is_what_a_launcher_without_a_path_starts(job):
    """Also where a package has a command of that name: the prefix comes first on the path."""
    app = job.app("files:/usr/local/bin/grid9")
    assert [x.path for x in app.launchers] == ["/usr/local/share/applications/org.example.Grid9.desktop"]
    assert app.type == "desktop"
