"""Lines of services' settings that start it: supervisors, watchers, monitors, agents, what happens at a key or at a login."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from swept_shelf.core.grammars.key_file import groups_of
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import group_entry
from swept_shelf.core.references.kind import Entry, Kind, Place
from swept_shelf.core.references.targets import of_exec, of_setting, of_shell

_DETAIL = "a service’s settings start it"
_LONGEST = 4096  # characters of a line that somebody wrote


@dataclass(frozen=True, slots=True)
class _Form:
    """`line`: a line whose first group is a command; `block`: what begins a block that goes
    whole with such a line; `groups`: so does a group of keys."""

    places: tuple[str, ...]
    line: re.Pattern[str]
    block: re.Pattern[str] | None = None
    groups: bool = False
    whole: bool = False  # without it the file does nothing


def _line(text: str) -> re.Pattern[str]:
    return re.compile(rf"^\s*{text}\s*$", re.I)


_FORMS = (
    _Form(("/etc/inittab",), _line(r"[^:#\s]*:[^:]*:[^:]*:\+?(.+)")),
    _Form(("/etc/acpi/events/*",), _line(r"action\s*=\s*(.+)"), whole=True),
    _Form(("/etc/incron.d/*", "/var/spool/incron/*"), _line(r"\S+\s+[\w,]+\s+(.+)")),
    _Form(
        ("/etc/supervisor/conf.d/*.conf", "/etc/supervisord.d/*.ini"),
        _line(r"command\s*=\s*(.+)"),
        groups=True,
    ),
    _Form(
        ("/etc/monit/conf.d/*", "/etc/monit/conf-enabled/*", "/etc/monit/monitrc", "/etc/monit.d/*"),
        _line(r"(?:.*\s)?(?:start|stop|restart|program|path)\b[^\"/]*\"?(/[^\"]+?)\"?(?:\s.*)?"),
        re.compile(r"^\s*check\s", re.I),
    ),
    _Form(("/etc/nagios/nrpe.cfg", "/etc/nagios/nrpe.d/*.cfg"), _line(r"command\[[^\]]*\]\s*=\s*(.+)")),
    _Form(
        ("/etc/zabbix/*.conf", "/etc/zabbix/*.d/*.conf"),
        _line(r"(?:UserParameter\s*=\s*[^,]+,|(?:LoadModule|SourceIP|PidFile|Include)\s*=)\s*(.+)"),
    ),
    _Form(
        ("/etc/snmp/snmpd.conf", "/etc/snmp/snmpd.conf.d/*"),
        _line(r"(?:extend(?:fix)?|exec|pass(?:_persist)?|sh)\s+(?:[\w.-]+\s+)?(?=\S*/)(.+)"),
    ),
    _Form(("/etc/rsnapshot.conf",), _line(r"(?:cmd_\w+|backup_script|linux_lvm_cmd_\w+)\s+(.+)")),
    _Form(
        ("~/.gnupg/*.conf",),
        _line(r"(?:pinentry-program|scdaemon-program|agent-program|dirmngr-program)\s+(.+)"),
    ),
    _Form(("~/.aws/config", "~/.aws/credentials"), _line(r"credential_process\s*=\s*(.+)")),
    _Form(
        ("/etc/lightdm/*.conf", "/etc/lightdm/lightdm.conf.d/*.conf"),
        _line(r"(?:[\w-]+-(?:script|wrapper|command|hook|session))\s*=\s*(.+)"),
    ),
    _Form(("/etc/sddm.conf", "/etc/sddm.conf.d/*.conf"), _line(r"\w*Command\s*=\s*(.+)")),
    _Form(("/etc/udisks2/*.conf", "/etc/smartd.conf"), _line(r".*-M\s+exec\s+(\S+).*")),
    _Form(
        ("/etc/pulse/default.pa", "/etc/pulse/system.pa", "/etc/pulse/*.pa.d/*.pa", "~/.config/pulse/*.pa"),
        _line(r"(?:load-module|\.include|load-sample\S*)\s+(.+)"),
    ),
    _Form(
        ("~/.xscreensaver",), _line(r"(?:programs:\s*)?(?:-\s+)?(?:GL:\s*)?(?:\"[^\"]*\"\s+)?(.+?)\s*\\n\\")
    ),
    _Form(
        ("/etc/needrestart/needrestart.conf", "/etc/needrestart/conf.d/*.conf"),
        _line(r".*\bqr\(\^?([\w@-]+)(?:\\?\.service)?\$?\)\s*\}?\s*=>?\s*\S+"),
    ),
    _Form(("/etc/firejail/firecfg.config",), _line(r"([\w.+-]+)")),
    _Form(
        ("/etc/network/interfaces", "/etc/network/interfaces.d/*"),
        _line(r"(?:(?:pre|post)-)?(?:up|down)\s+(.+)"),
    ),
    _Form(("/etc/mdadm/mdadm.conf",), _line(r"PROGRAM\s+(.+)")),
    _Form(
        ("/etc/apcupsd/*", "/etc/nut/*.conf"), _line(r"(?:NOTIFYCMD|SHUTDOWNCMD|CMDSCRIPT)\s+\"?([^\"]+)\"?")
    ),
)


def _parse(path: str, text: str) -> Iterator[Entry]:
    form = next(f for f in _FORMS if any(_fits(path, p) for p in f.places))
    if form.groups:
        for group in groups_of(text, comments="#;"):
            for item in group.items:
                if match := form.line.match(item.text):
                    yield group_entry(group, (*of_exec(match[1]), *of_shell(match[1])), _DETAIL)
        return
    starts = [x for x in said_lines(text) if form.block and form.block.match(x.text)]
    for line in said_lines(text):
        if len(line.text) > _LONGEST or not (match := form.line.match(line.text)):
            continue
        targets = of_setting(match[1])
        start, end = line.start, line.end
        if form.whole:
            start, end = 0, len(text)
        if form.block:
            start = max((x.start for x in starts if x.start <= line.start), default=line.start)
            end = min((x.start for x in starts if x.start > line.start), default=len(text))
        yield Entry(line.number, line.text, line.text, targets, _DETAIL, start, end)


def _fits(path: str, pattern: str) -> bool:
    parts = pattern.lstrip("~/").split("/")
    mine = path.split("/")[-len(parts) :]
    return len(mine) == len(parts) and all(
        re.fullmatch(re.escape(p).replace(r"\*", ".*"), m) for p, m in zip(parts, mine, strict=True)
    )


KIND = Kind(
    "service's setting",
    "services",
    ("setting of a service that starts it", "settings of services that start it"),
    tuple(Place(p) for form in _FORMS for p in form.places),
    _parse,
    alone="lines",
    starts="service",
)
