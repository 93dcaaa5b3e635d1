"""Places that are never an operation, whatever a registry, a file's content or an order file says."""

from __future__ import annotations

from swept_shelf.core.documents.paths import is_clean, parent
from swept_shelf.core.documents.survey import Survey

_PROTECTED = frozenset({
    "/", "/bin", "/boot", "/dev", "/etc", "/home", "/lib", "/lib32", "/lib64", "/libx32", "/lost+found", "/media", "/mnt", "/opt",
    "/proc", "/root", "/run", "/sbin", "/snap", "/srv", "/sys", "/tmp", "/usr", "/var", "/usr/bin", "/usr/sbin", "/usr/lib",
    "/usr/lib32", "/usr/lib64", "/usr/libexec", "/usr/share", "/usr/local", "/usr/local/bin", "/usr/local/sbin", "/usr/local/lib",
    "/usr/local/share", "/usr/games", "/usr/include", "/usr/src", "/var/lib", "/var/cache", "/var/log", "/var/spool", "/var/tmp",
    "/var/mail", "/var/lib/dpkg", "/var/lib/apt", "/var/lib/rpm", "/var/lib/flatpak", "/etc/passwd", "/etc/shadow", "/etc/group",
    "/etc/gshadow", "/etc/fstab", "/etc/sudoers", "/etc/hostname", "/etc/hosts", "/etc/machine-id", "/etc/systemd",
    "/etc/systemd/system", "/etc/systemd/user", "/etc/apt", "/etc/cron.d", "/etc/pam.d", "/etc/ssl", "/etc/xdg", "/etc/default",
})  # fmt: skip
_PROTECTED_BELOW = ("/dev", "/proc", "/sys", "/boot", "/var/lib/dpkg", "/var/lib/apt")
_HOME_PLACES = ("", "/.config", "/.cache", "/.local", "/.local/share", "/.local/state", "/.local/bin", "/.ssh", "/.gnupg", "/Desktop",
                "/Documents", "/Downloads", "/Music", "/Pictures", "/Videos", "/Public", "/Templates", "/bin")  # fmt: skip


def why_protected(path: str, survey: Survey) -> str:
    """The reason why `path` may never be an operation; "" when it may."""
    if not is_clean(path):
        return "is not a plain absolute path"
    if path in _PROTECTED or any(path == p or path.startswith(p + "/") for p in _PROTECTED_BELOW):
        return "is a protected place"
    if any(path == p.home + place for p in survey.people for place in _HOME_PLACES):
        return "is a home or one of its standard folders"
    if any(path == v.mount for v in survey.volumes):
        return "is a volume’s top"
    if any(parent(path) == p.home and not path.rsplit("/", 1)[1].startswith(".") for p in survey.people):
        return "is a person’s own folder"
    return ""
