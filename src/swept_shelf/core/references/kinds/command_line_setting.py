"""Lines of other programs' settings that start commands: keys of window managers, openers, editors, mail programs."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, continued_lines, lines_of
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.choices import ruled
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_shell, of_words, one

_STARTS = re.compile(
    r"^\s*(?:bindsym|bindcode|bind(?:[a-z]*)?|exec(?:_always|-once)?|spawn|key|super\S*|map|set|macro|source|include|startup|execonce|Exec)\b"
)
_BEHIND = (
    re.compile(
        r"\b(?:exec(?:_always|-once)?|spawn)\s*[,=(\s]\s*(?:--no-startup-id\s+)?[\"']?(.+?)[\"')]*\s*$"
    ),
    re.compile(r"^\s*set\s+(?:\$?\w+)\s*=?\s*[\"']?(.+?)[\"']?\s*$"),
    re.compile(
        r"^\s*(?:map|macro|cmd)\b.*?(?:!|shell\s+-\w+\s+|[&$%]{1,2}|\|)\s*(.+?)(?:<enter>|\\n)?[\"']?\s*$"
    ),
    re.compile(r"^\s*(?:status|i3bar|swaybar|workspace)_command\s+(.+?)\s*$"),
    re.compile(r"^\s*(?:ext|mime|name|has|else|file|directory|label|path)\b[^=]*?=\s*(.+)$"),
)
_PREFERENCE = r"^\s*user_pref\(\"[^\"]*\",\s*\"((?:file://)?/[^\"]+)\"\);\s*$"
_RESOURCE = re.compile(r"^\s*([\w-]+)[*.]")
_OF_THEIR_OWN = {  # by a part of the file's path, how its lines start something
    "fluxbox": r":(?:Exec|ExecCommand|Execute)\s+(.+?)\s*$|^\s*\[exec\]\s*\([^)]*\)\s*\{(.+?)\}",
    "icewm": r"^\s*(?:key|runonce)\s+\"[^\"]+\"\s+(.+?)\s*$|^\s*(?:prog|restart)\s+(?:\"[^\"]*\"|\S+)\s+\S+\s+(.+?)\s*$",
    "tmux": r"\bif(?:-shell)?\s+(?:-\w+\s+)*(?:\"(.+?)\"|'(.+?)')|\b(?:run-shell|run|if-shell|popup|display-popup|new-window|neww|split-window|splitw|pipe-pane|default-command|"
    r"default-shell|respawn-pane|copy-pipe[\w-]*)\b(?:\s+-\w+)*\s+[\"']?(.+?)[\"']?\s*$|#\((.+?)\)",
    "fvwm": r"\bExec\s+(.+?)\s*$|^\s*(?:Style|DestroyFunc)\s+\"?([\w.+-]+)\"?\s",
    "screenrc": r"^\s*(?:shell|exec(?:\s+[.!:|]+)?|screen(?:\s+-[thTesS]\s+\S+|\s+-\w+)*(?:\s+\d+)?|backtick(?:\s+\d+){3}|bind\s+\S+\s+(?:screen|exec))\s+(.+?)\s*$",
    "kitty": r"^\s*map\s+\S+\s+(?:launch|new_window|new_tab|kitten)(?:\s+--\S+)*\s+(.+?)\s*$|^\s*(?:shell|editor|open_url_with)\s+(.+?)\s*$",
    "mpv": r"^\s*\S+\s+(?:run|subprocess)\s+(.+?)\s*$",
    "mc.ext": r"^\s*(?:Open|View|Edit)=(?:%\w+(?:\{[^}]*\})?\s+)?(.+?)\s*$",
    "vifm": r"^\s*(?:filex?type|fileviewer)\s+\S+\s+(.+?)\s*$|^\s*(?:command!?|[nv]?(?:nore)?map)\s+\S+\s+:?!?(.+?)(?:<cr>)?\s*$",
    "newsboat": r"^\s*(?:browser|player|pager|notify-program|\w+-program|macro\s+\S+\s+set\s+browser)\s+\"?(.+?)\"?\s*$",
    "vim": r"^\s*command!?\s+(?:-\S+\s+)*\S+\s+:?(?:silent\s+)?(?:!|term(?:inal)?\s+)(.+?)\s*$|!\s*(?:silent\s+)?(.+?)(?:<CR>)?\s*$|\bsystem\(\s*[\"'](.+?)[\"']|^\s*let\s+\S*(?:cmd|command|prg|program|exec|browser|viewer|bin|path|tool)\w*\s*=\s*[\"'](.+?)[\"']\s*$",
    "inputrc": r"^\s*\"[^\"]+\":\s*\"(.+?)(?:\\n|\\r|\\C-m)\"\s*$",
    "mutt": r"^\s*source\s+[\"'](.+?)\s*\|[\"']\s*$|^\s*macro\b.*?<(?:pipe-message|pipe-entry|shell-escape)>\s*(.+?)\s*<(?:enter|return)>|^\s*set\s+\w*(?:editor|command|pager|visual|shell|"
    r"sendmail|query\w*)\s*=\s*[\"']?(.+?)[\"']?\s*$",
    "urlview": r"^\s*COMMAND\s+(.+?)\s*$",
    "w3m/": r"^\s*(?:ext\w*|editor|mailer)\s+(.+?)\s*$",
    "elinks": r"^\s*set\s+\S*(?:program|editor|command|handler)\S*\s*=\s*\"(.+?)\"\s*$",
    "ncmpcpp": r"^\s*(?:execute_on_\w+|external_editor|visualizer_\w*command)\s*=\s*\"?(.+?)\"?\s*$",
    "xinputrc": r"^\s*run_im\s+(.+?)\s*$",
    "swayidle": r"^\s*(?:timeout\s+\d+|resume|before-sleep|after-resume|lock|unlock|idlehint\s+\d+)\s+[\"'](.+?)[\"']",
    "niri": r"\bspawn(?:-at-startup|-sh)?\s+\"(.+?)\"",
    "river": r"\bspawn\s+[\"']?(.+?)[\"']?\s*$",
    "yazi": r"\brun\s*=\s*['\"](.+?)['\"](?:\s*,|\s*\}|\s*$)",
    "herbstluftwm": r"\bspawn\s+[\"']?(.+?)[\"']?\s*$",
    "nushell": r"^\s*(?:export\s+)?alias\s+\S+\s*=\s*\^?(.+?)\s*$|^\s*(?:source|source-env|use|overlay use)\s+(.+?)\s*$",
    "elvish": r"^\s*fn\s+\S+\s*\{(?:\s*\|[^|]*\|)?\s*(.+?)\s*\}\s*$",
    "lftp": r"^\s*alias\s+\S+\s+[\"']?!(.+?)[\"']?\s*$",
    "mc/menu": r"^\s+(.+?)\s*$",
    "aerc/binds.conf": r"=\s*:(?:pipe|exec|term\w*)(?:\s+-\w+)*\s+(.+?)(?:<\w+>)?\s*$",
    "jgmenu": r"^[^,]*,([^,]+)",
    "irssi": r"\bexec\s+(?:-\s+)?([^\"']+)",
    "prefs.js": _PREFERENCE,
    "user.js": _PREFERENCE,
    "/etc/default/useradd": r"^\s*SHELL\s*=\s*(\S+)",
    "adduser.conf": r"^\s*DSHELL\s*=\s*(\S+)",
    "login.defs": r"^\s*FAKE_SHELL\s+(\S+)",
    "emacs": r"^\s*\((?:setq|setq-default|setopt|defvar)\s+\S+\s+\"([^\"]+)\"\s*\)\s*$",
}
_LONGEST = 4096  # characters of a line that somebody wrote
_PIECES = re.compile(
    r"\$\{(?:texec\w*|exec\w*)\s+(?:\d+\s+)?(.+?)\}"
)  # of a text that is shown again and again
_DESKTOPS_RULE = re.compile(r"^\s*(?:bspc|herbstclient)\s+rule\s+(?:-a\s+|.*\bclass[=~])[\"']?([\w.+-]+)")


def _parse(path: str, text: str) -> Iterator[Entry]:
    if "conky" in path:
        yield from _pieces(text)
        return
    name = path.rpartition("/.")[2] if "/." in path else path
    own = [re.compile(p) for part, p in _OF_THEIR_OWN.items() if part in name]

    def targets(line: Line) -> tuple[Target, ...]:
        found: list[Target] = []
        if len(line.text) > _LONGEST:
            return ()
        for pattern in (*own, *_BEHIND):
            if match := pattern.search(line.text):
                command = next((g for g in match.groups() if g), "")
                found += of_shell(_closed(command.replace("\\ ", " ")))
                break
        if not found and _STARTS.match(line.text):
            found += of_words(line.text)
        found += ruled(line.text)
        if match := _DESKTOPS_RULE.match(line.text):
            found += one(By.COMMAND, match[1].lower())
        if base(path) in (".Xresources", ".Xdefaults") and (match := _RESOURCE.match(line.text)):
            found += one(By.COMMAND, match[1].lower())
        if base(path).endswith("terminals.list"):
            found += one(By.LAUNCHER, line.text.strip().split(":")[0])
        return tuple(dict.fromkeys(found))

    comments = "#" if base(path) in (".inputrc", "picom.conf") else '#"!'
    yield from line_entries(continued_lines(text, comments), targets, "another program's settings start it")


def _closed(command: str) -> str:
    """With the quote at its end that was taken for one around it all."""
    return next((command + mark for mark in "\"'" if command.count(mark) % 2), command)


def _pieces(text: str) -> Iterator[Entry]:
    for line in lines_of(text):
        for match in _PIECES.finditer(line.text):
            at = line.start + match.start(), line.start + match.end()
            yield Entry(line.number, match[0], match[0], of_shell(match[1]), "is shown again and again", *at)


KIND = Kind(
    "line in settings",
    "other_programs",
    ("line in settings", "lines in settings"),
    (
        Place("~config/i3/config"),
        Place("~/.i3/config"),
        Place("~config/sway/config"),
        Place("~config/sway/config.d/*"),
        Place("/etc/i3/config"),
        Place("/etc/sway/config"),
        Place("/etc/sway/config.d/*"),
        Place("~config/hypr/*.conf"),
        Place("~config/*/rifle.conf"),
        Place("~config/*/rc.conf"),
        Place("~config/lf/lfrc"),
        Place("~/.muttrc"),
        Place("~config/mutt/muttrc"),
        Place("~config/neomutt/neomuttrc"),
        Place("~config/*xdg-terminals.list"),
        Place("/etc/xdg/*xdg-terminals.list"),
        Place("~/.vimrc"),
        Place("~config/nvim/init.vim"),
        Place("~/.tmux.conf"),
        Place("~config/tmux/tmux.conf"),
        Place("~/.screenrc"),
        Place("~/.fluxbox/keys"),
        Place("~/.fluxbox/startup"),
        Place("~/.fluxbox/menu"),
        Place("~/.fluxbox/apps"),
        Place("~/.icewm/*"),
        Place("~config/icewm/*"),
        Place("~config/kitty/*.conf"),
        Place("~config/mpv/input.conf"),
        Place("~config/mc/mc.ext*"),
        Place("~config/vifm/vifmrc"),
        Place("~config/newsboat/config"),
        Place("~/.newsboat/config"),
        Place("~/.vim/vimrc"),
        Place("~/.emacs"),
        Place("~/.emacs.d/init.el"),
        Place("~config/emacs/init.el"),
        Place("~/.conkyrc"),
        Place("~config/conky/*.conf"),
        Place("~config/bspwm/bspwmrc"),
        Place("~config/picom.conf"),
        Place("~config/picom/picom.conf"),
        Place("~/.fehbg"),
        Place("~/.urlview"),
        Place("~/.fvwm/config"),
        Place("~/.fvwm/.fvwm2rc"),
        Place("~/.fvwm2rc"),
        Place("~/.w3m/config"),
        Place("~/.elinks/elinks.conf"),
        Place("~config/elinks/elinks.conf"),
        Place("~/.ncmpcpp/config"),
        Place("~config/ncmpcpp/config"),
        Place("~/.xinputrc"),
        Place("~config/swayidle/config"),
        Place("~config/niri/config.kdl"),
        Place("~config/river/init"),
        Place("~config/yazi/yazi.toml"),
        Place("/etc/default/useradd"),
        Place("/etc/adduser.conf"),
        Place("/etc/login.defs"),
        Place("~config/herbstluftwm/autostart"),
        Place("~config/nushell/*.nu"),
        Place("~config/elvish/*.elv"),
        Place("~/.lftprc"),
        Place("~/.lftp/rc"),
        Place("~config/lftp/rc"),
        Place("~config/mc/menu"),
        Place("/etc/mc/mc.ext*"),
        Place("/etc/mc/mc.menu"),
        Place("~config/aerc/binds.conf"),
        Place("~config/jgmenu/*.csv"),
        Place("~config/irssi/config"),
        Place("~/.irssi/config"),
        *(
            Place(f"~/{x}/{name}")
            for x in (".mozilla/firefox/*", ".thunderbird/*")
            for name in ("prefs.js", "user.js")
        ),
        Place("~/.Xresources"),
        Place("~/.Xdefaults"),
        Place("~/.gtkrc-2.0"),
        Place("~/.inputrc"),
        Place("~/.nanorc"),
        Place("~/.lessfilter"),
    ),
    _parse,
)
