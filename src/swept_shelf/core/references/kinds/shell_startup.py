"""Start-up files of shells and of graphical sessions: aliases, sourced files, search paths, variables, commands."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.scripts import start_up_entries
from swept_shelf.core.references.well_formed import why_no_shell


def _parse(_path: str, text: str) -> Iterator[Entry]:
    yield from start_up_entries(text)


_HOME = (
    ".bashrc",
    ".bash_profile",
    ".bash_logout",
    ".profile",
    ".zshrc",
    ".zprofile",
    ".zshenv",
    ".zlogin",
    ".zlogout",
    ".kshrc",
    ".shrc",
    ".cshrc",
    ".tcshrc",
    ".login",
    ".aliases",
    ".*_aliases",
    ".functions",
    ".*_functions",
    ".exports",
    ".shellrc",
)
_SYSTEM = (
    "/etc/profile",
    "/etc/profile.d/*.sh",
    "/etc/profile.d/*.csh",
    "/etc/skel/.bashrc",
    "/etc/skel/.profile",
    "/etc/skel/.bash_aliases",
    "/etc/skel/.bash_logout",
    "/etc/skel/.zshrc",
    "/etc/skel/.config/fish/config.fish",
    "/etc/bash.bashrc",
    "/etc/bashrc",
    "/etc/bash.bash_logout",
    "/etc/zsh/*",
    "/etc/zshrc",
    "/etc/zshenv",
    "/etc/fish/config.fish",
    "/etc/fish/conf.d/*.fish",
    "/etc/csh.cshrc",
    "/etc/csh.login",
)

KIND = Kind(
    "shell line",
    "shell",
    ("line of a shell", "lines of shells"),
    (
        *(Place(f"~/{name}") for name in _HOME),
        Place("~/.bash_login", hidden_by=(".bash_profile",)),
        Place("~/.bashrc.d/*"),
        Place("~/.bash_completion"),
        Place("~/.bash_completion.d/*"),
        Place("~config/zsh/.zsh*"),
        Place("~config/zsh/.zprofile"),
        Place("~config/zsh/*.zsh"),
        Place("~/.zsh/*.zsh"),
        Place("~/.oh-my-zsh/custom/*.zsh"),
        Place("~/.oh-my-zsh/custom/plugins/*/*.zsh"),
        Place("~/.profile.d/*"),
        Place("~config/bash/*"),
        Place("~config/shell/*"),
        Place("~config/direnv/direnvrc"),
        Place("~/.direnvrc"),
        Place("~config/fish/functions/*.fish"),
        Place("~config/fish/config.fish"),
        Place("~config/fish/conf.d/*.fish"),
        Place("~config/fish/fish_variables"),
        *(Place(path) for path in _SYSTEM),
    ),
    _parse,
    why_broken=why_no_shell,
)
