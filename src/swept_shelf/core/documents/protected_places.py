"""Places that are never an operation and never anybody's belonging, whatever a registry, a file or a person says."""

from __future__ import annotations

from collections.abc import Iterable

from swept_shelf.core.documents.paths import is_clean, parent

_PROTECTED = frozenset(
    {
        "/",
        "/bin",
        "/boot",
        "/dev",
        "/etc",
        "/home",
        "/lib",
        "/lib32",
        "/lib64",
        "/libx32",
        "/lost+found",
        "/media",
        "/mnt",
        "/opt",
        "/proc",
        "/root",
        "/run",
        "/sbin",
        "/snap",
        "/srv",
        "/sys",
        "/tmp",
        "/usr",
        "/var",
        "/usr/bin",
        "/usr/sbin",
        "/usr/lib",
        "/usr/lib32",
        "/usr/lib64",
        "/usr/libexec",
        "/usr/share",
        "/usr/local",
        "/usr/local/bin",
        "/usr/local/sbin",
        "/usr/local/lib",
        "/usr/local/share",
        "/usr/games",
        "/usr/include",
        "/usr/src",
        "/var/lib",
        "/var/cache",
        "/var/log",
        "/var/spool",
        "/var/tmp",
        "/var/mail",
        "/var/lib/dpkg",
        "/var/lib/apt",
        "/var/lib/rpm",
        "/var/lib/flatpak",
        "/etc/passwd",
        "/etc/shadow",
        "/etc/group",
        "/etc/gshadow",
        "/etc/fstab",
        "/etc/sudoers",
        "/etc/hostname",
        "/etc/hosts",
        "/etc/machine-id",
        "/etc/systemd",
        "/etc/systemd/system",
        "/etc/systemd/user",
        "/etc/apt",
        "/etc/cron.d",
        "/etc/pam.d",
        "/etc/ssl",
        "/etc/xdg",
        "/etc/default",
    }
)
# Of these single lines may be taken out, never the whole.
_EDITED = frozenset(
    {"/etc/passwd", "/etc/shadow", "/etc/group", "/etc/gshadow", "/etc/fstab", "/etc/sudoers", "/etc/hosts"}
)
_PROTECTED_BELOW = ("/dev", "/proc", "/sys", "/boot", "/var/lib/dpkg", "/var/lib/apt")
_HOME_PLACES = (
    "",
    "/.config",
    "/.cache",
    "/.local",
    "/.local/share",
    "/.local/state",
    "/.local/bin",
    "/.ssh",
    "/.gnupg",
    "/Desktop",
    "/Documents",
    "/Downloads",
    "/Music",
    "/Pictures",
    "/Videos",
    "/Public",
    "/Templates",
    "/bin",
)


def why_never(path: str, homes: Iterable[str], mounts: Iterable[str] = (), edited: bool = False) -> str:
    """The reason why `path` may never be taken, or, `edited`, why nothing may be taken out of it; "" when it may."""
    if edited and path in _EDITED:
        return ""
    known = list(homes)
    if not is_clean(path):
        return "is not a plain absolute path"
    if path in _PROTECTED or any(path == p or path.startswith(p + "/") for p in _PROTECTED_BELOW):
        return "is a protected place"
    if any(path == home + place for home in known for place in _HOME_PLACES):
        return "is a home or one of its standard folders"
    if path in mounts:
        return "is a volume’s top"
    if any(parent(path) == home and not path.rsplit("/", 1)[1].startswith(".") for home in known):
        return "is a person’s own folder"
    return ""
