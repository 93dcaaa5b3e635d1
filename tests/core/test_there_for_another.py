"""Files that are there for another program and name an application only besides: none of them is taken out whole unasked."""

from __future__ import annotations

import pytest

from planted import ASH, EDDA, PLOT, plant
from swept_shelf.core.machine import open_machine
from swept_shelf.core.references.find import find_references
from swept_shelf.core.references.pointees import Pointees

HOME, UNITS = "/home/edda", "/etc/systemd/system"
ENTRY = "[Desktop Entry]\nType=Application\nName=q\nExec=q\n"
FOR_ANOTHER = [
    (f"{UNITS}/q.service", "[Service]\nExecStart=/usr/bin/q\nSockets=q.socket plot7.socket\n"),
    (f"{UNITS}/q.service", "[Service]\nType=dbus\nExecStart=/usr/bin/q\nBusName=example.Plot7\n"),
    (f"{UNITS}/q.service", "[Service]\nExecStart=/usr/bin/q\nExecStartPost=/usr/bin/plot7\n"),
    (f"{UNITS}/q.path", "[Path]\nPathChanged=/srv/in\nPathExists=/opt/plot/in\nUnit=q.service\n"),
    (f"{UNITS}/q.path", "[Path]\nPathChanged=/opt/plot/in\nUnit=q.service\n"),
    (f"{UNITS}/q.socket", "[Socket]\nListenStream=1\nExecStartPre=/usr/bin/plot7\nService=q.service\n"),
    (f"{UNITS}/q.timer", "[Unit]\nAfter=plot7.service\n[Timer]\nOnCalendar=daily\nUnit=q.service\n"),
    (f"{UNITS}/q.mount", "[Mount]\nWhat=/dev/sdb1\nWhere=/srv/q\nType=ext4\nExecStartPre=plot7\n"),
    ("/etc/dbus-1/system-services/q.service", "[D-BUS Service]\nName=example.Plot7\nExec=/usr/bin/q\n"),
    (
        "/etc/dbus-1/system-services/q.service",
        "[D-BUS Service]\nName=q\nExec=/usr/bin/q\nSystemdService=plot7.service\n",
    ),
    ("/etc/xinetd.d/q", "service q\n{\n  server = /usr/bin/q\n  server_args = /opt/plot/x\n}\n"),
    ("/etc/inetd.conf", "q stream tcp nowait root /usr/bin/q plot7\n"),
    (f"{HOME}/.local/share/thumbnailers/q.thumbnailer", "[Thumbnailer Entry]\nTryExec=plot7\nExec=q %u\n"),
    (f"{HOME}/.local/share/applications/q.desktop", f"{ENTRY}TryExec=plot7\n"),
    (f"{HOME}/.local/share/applications/q.desktop", f"{ENTRY}Actions=a;\n[Desktop Action a]\nExec=plot7\n"),
    (
        "/etc/apparmor.d/q",
        "abi <abi/3.0>,\nprofile q /usr/bin/q {\n  /etc/q r,\n}\nprofile p /usr/bin/plot7 {\n  /srv/** r,\n}\n",
    ),
    (
        f"{HOME}/.local/share/kio/servicemenus/q.desktop",
        "[Desktop Entry]\nActions=p;q;\n[Desktop Action p]\nExec=plot7 %F\n[Desktop Action q]\nExec=q %F\n",
    ),
    ("/var/spool/cron/atjobs/a0000102", "#!/bin/sh\nq --once\nplot7 --x\n"),
    ("/etc/cron.daily/q", "#!/bin/sh\nq --rotate\nplot7 --x\nq --y\n"),
    ("/etc/logrotate.d/q", "/var/log/q/*.log {\n weekly\n su _plot adm\n}\n"),
    ("/etc/supervisor/conf.d/q.conf", "[program:q]\ncommand=/usr/bin/q\nuser=_plot\n"),
    ("/etc/apache2/conf-enabled/q.conf", "<Directory /opt/plot/www>\nRequire all granted\n</Directory>\n"),
]
ITS_OWN = [
    (f"{UNITS}/p.service", "[Service]\nExecStart=/usr/bin/plot7\nSockets=q.socket\n"),
    (f"{UNITS}/p.socket", "[Socket]\nListenStream=1\nService=plot7.service\n"),
    (
        "/etc/dbus-1/system-services/p.service",
        "[D-BUS Service]\nName=p\nExec=/bin/false\nSystemdService=plot7.service\n",
    ),
    ("/etc/apparmor.d/p", "abi <abi/3.0>,\nprofile p /usr/bin/plot7 {\n  /opt/plot/** r,\n}\n"),
    (f"{HOME}/.local/share/kio/servicemenus/p.desktop", "[Desktop Entry]\nActions=p;\n[Desktop Action p]\nExec=plot7 %F\n"),
    ("/etc/xinetd.d/p", "service p\n{\n  server = /usr/sbin/tcpd\n  server_args = /usr/bin/plot7 -i\n}\n"),
    ("/etc/inetd.conf", "p stream tcp nowait root /usr/sbin/tcpd /usr/bin/plot7 -i\n"),
    (f"{HOME}/.local/share/applications/p.desktop", ENTRY.replace("=q\n", "=x-terminal-emulator -T q -e 'plot7 -x'\n")),
    (f"{HOME}/.local/share/thumbnailers/p.thumbnailer", "[Thumbnailer Entry]\nTryExec=plot7\nExec=plot7 %u\n"),
]  # fmt: skip


def pointing(tmp_path, path, text):
    (root := tmp_path / "root").mkdir()
    plant(root, [(path, text)])
    found = find_references(open_machine(str(root)), [EDDA], {}, Pointees([PLOT, ASH]))
    return found.references.get(PLOT.id, [])


@pytest.mark.parametrize(("path", "text"), FOR_ANOTHER)
def test_what_is_there_for_another_is_asked_about_or_loses_a_line(tmp_path, path, text):
    found = pointing(tmp_path, path, text)
    whole = [r for r in found if r.action == "take_out" and (r.whole or text.count("\n") == 1)]
    assert found and whole == []


@pytest.mark.parametrize(("path", "text"), ITS_OWN)
def test_what_is_there_to_start_it_goes_without_a_question(tmp_path, path, text):
    found = pointing(tmp_path, path, text)
    assert "take_out" in {r.action for r in found}
    assert not path.endswith((".service", ".desktop", "apparmor.d/p")) or any(r.whole for r in found)
