"""Folders in which every shell looks for a command by its bare name (environ(7), PATH as distributions set it)."""

COMMAND_FOLDERS = (
    "/usr/bin",
    "/bin",
    "/usr/games",
    "/usr/sbin",
    "/sbin",
    "/usr/local/bin",
    "/usr/local/sbin",
    "/usr/local/games",
)
