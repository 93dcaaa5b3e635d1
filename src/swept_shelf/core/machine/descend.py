"""Every folder below another one, without recursion: nobody's depth of folders is a limit but the number of open files."""

from __future__ import annotations

import errno
import os
import resource
from collections.abc import Iterator

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


def room_to_descend() -> None:
    """Raise the limit of open files as far as it may be: each level takes one."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (hard, hard))


def folders_below(top: int, unreadable_too: bool = False) -> Iterator[tuple[str, int, list[str]]]:
    """(path below `top`, descriptor, names in it), `top` itself first as "", each folder before what is below it.

    No link is followed; of the list of names the caller may take away folders that are not to be entered. What goes away
    meanwhile is left out. Raises OSError for a folder that may not be listed
    (`unreadable_too`: it is passed over) and where too many are open at once."""
    frames: list[tuple[str, int, list[str], set[str]]] = []
    try:
        fd = _opened(".", top)
        frames.append(("", fd, *_names(fd)))
        yield frames[-1][:3]
        while frames:
            path, fd, names, others = frames[-1]
            if not names:
                os.close(frames.pop()[1])
                continue
            if (name := names.pop()) in others:
                continue
            try:
                inner = _opened(name, fd)
            except (NotADirectoryError, FileNotFoundError):
                continue
            except OSError as error:
                if error.errno == errno.ELOOP or (unreadable_too and error.errno == errno.EACCES):
                    continue
                raise
            frames.append((f"{path}/{name}" if path else name, inner, *_names(inner)))
            yield frames[-1][:3]
    finally:
        for _, fd, _, _ in frames:
            os.close(fd)


def _opened(name: str, folder: int) -> int:
    """A folder to list; its access time stays where it is, wherever that is ours to ask for."""
    try:
        return os.open(name, _FOLDER | os.O_NOATIME, dir_fd=folder)
    except PermissionError as error:
        if error.errno != errno.EPERM:
            raise
        return os.open(name, _FOLDER, dir_fd=folder)


def _names(fd: int) -> tuple[list[str], set[str]]:
    """What is in a folder, last first, and what of it is no folder."""
    with os.scandir(fd) as entries:
        folders = {e.name: e.is_dir(follow_symlinks=False) for e in entries}
    return sorted(folders, reverse=True), {name for name, is_folder in folders.items() if not is_folder}
