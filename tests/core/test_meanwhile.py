"""Files of the system that scripts of packages write anew while an order is carried out: they go all the same, and come back; what
somebody else wrote stays, and with it the settings of its own package alone."""

from __future__ import annotations

import os

import pytest

from debs import install
from helpers import Job, built, dpkg_status
from swept_shelf.core.carry.sheet import records_of

PEN, PLOT = "debian:pen", "debian:plot7"
LIST = "etc/plotlist"
MADE = '#!/bin/sh\nL=/etc/plotlist\n[ "$1" = configure ] && echo all > "${DPKG_ROOT:-}$L"\ntrue\n'
GOES = '#!/bin/sh\nL=/etc/plotlist\n[ "$1" = purge ] && rm -f "${DPKG_ROOT:-}$L"\ntrue\n'
ANEW = '#!/bin/sh\n[ "$1" = remove ] || exit 0\necho anew > "$DPKG_ROOT/etc/pl.new"\nf=plot; mv "$DPKG_ROOT/etc/pl.new" "$DPKG_ROOT/etc/${f}list"\n'


@pytest.fixture
def job(tmp_path):
    machine = built(1).copy(tmp_path / "machine")
    plot = {"DEBIAN/postinst": MADE, "DEBIAN/postrm": GOES, "usr/bin/plot7": "#!/bin/sh\n"}
    plot |= {"DEBIAN/conffiles": "/etc/plot7.conf\n", "etc/plot7.conf": "a=1\n"}
    install(machine, tmp_path, "plot7", "7.0", plot)
    install(machine, tmp_path, "pen", "1.0", {"DEBIAN/postrm": ANEW, "usr/bin/pen": "#!/bin/sh\n"})
    return Job(machine)


def test_what_a_script_of_an_earlier_line_wrote_anew_goes_with_its_own_line(job):
    root = job.machine.root
    order = job.order(PEN, PLOT)
    assert f"/{LIST}" in order.line(PLOT).ticks
    run = job.carry(job.prepare(order))
    assert {r.state for r in records_of(run)} == {"done"}
    assert not (root / LIST).exists() and dpkg_status(job.machine, "plot7") == "not-installed"
    assert job.put_back()["left"] == 0
    assert (root / LIST).exists() and dpkg_status(job.machine, "plot7") == "installed"


@pytest.mark.parametrize("how", ["before the run", "by a person"])
def test_what_somebody_wrote_stays_and_only_its_own_package_keeps_its_settings(job, how):
    root = job.machine.root
    order = job.order(PLOT, PEN)
    run = job.prepare(order)
    (root / "etc/other").write_text("somebody's own\n")
    if how == "by a person":
        os.chown(root / "etc/other", 1000, 1000)
    os.rename(root / "etc/other", root / LIST)
    records = {r.where: r for r in records_of(job.carry(run))}
    assert records[f"/{LIST}"].state == "skipped" and (root / LIST).exists()
    assert dpkg_status(job.machine, "plot7") == "config-files"
    assert dpkg_status(job.machine, "pen") == "not-installed"


def test_a_purge_of_several_forgets_those_that_have_nothing_to_do_with_what_stays(job, tmp_path):
    """Both go with one line, and what one of them made was written by somebody."""
    machine, root = job.machine, job.machine.root
    ink = {
        "DEBIAN/control": "Package: ink\nVersion: 1\nArchitecture: all\nMaintainer: T <t@test.example>\nDepends: plot7\nDescription: x\n",
        "DEBIAN/conffiles": "/etc/ink.conf\n",
        "etc/ink.conf": "b=1\n",
        "usr/bin/ink": "#!/bin/sh\n",
    }
    install(machine, tmp_path, "ink", "1", ink)
    states = root / "var/lib/apt/extended_states"
    with open(states, "a") as handle:
        handle.write("\nPackage: plot7\nArchitecture: all\nAuto-Installed: 1\n")
    job.survey()
    order = job.order("debian:ink")
    assert set(order.line("debian:ink").packages) == {"ink", "plot7"}
    run = job.prepare(order)
    (root / "etc/other").write_text("somebody's own\n")
    os.rename(root / "etc/other", root / LIST)
    records = records_of(job.carry(run))
    purge = next(r for r in records if r.what == "Registry forgets its settings")
    assert purge.state == "done" and purge.note == "the registry keeps the settings of plot7"
    assert dpkg_status(machine, "ink") == "not-installed" and dpkg_status(machine, "plot7") == "config-files"
    assert (root / LIST).read_text() == "somebody's own\n"
    assert job.put_back()["left"] == 0
    assert dpkg_status(machine, "ink") == dpkg_status(machine, "plot7") == "installed"
