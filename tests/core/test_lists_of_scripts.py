"""Lists that maintainer scripts write to while an order is carried out: what they took is gone already, what still stands is
taken out where it stands then, and nothing of what they wrote is lost."""

from __future__ import annotations

import pytest

from debs import install
from helpers import Job, built
from swept_shelf.core.carry.sheet import records_of

ID = "debian:plot7"
POSTRM = r"""#!/bin/sh
[ "$1" = remove ] || exit 0
sed -i '\#^/usr/bin/plot7$#d' "$DPKG_ROOT/etc/shells"
sed -i '1i aline:5:5' "$DPKG_ROOT/etc/subuid"
echo 'later:7:7' >> "$DPKG_ROOT/etc/subuid"
"""


@pytest.fixture
def job(tmp_path):
    machine = built(1).copy(tmp_path / "machine")
    root = machine.root
    install(
        machine,
        tmp_path,
        "plot7",
        "7.0",
        {
            "DEBIAN/postrm": POSTRM,
            "usr/bin/plot7": "#!/bin/sh\n",
            "usr/lib/sysusers.d/plot7.conf": "u _plot - -\n",
        },
    )
    (root / "etc/shells").write_text("/bin/sh\n/usr/bin/plot7\n")
    (root / "etc/subuid").write_text("edda:1:9\n_plot:10:9\nlast:2:2\n")
    with (root / "etc/passwd").open("a") as people:
        people.write("_plot:x:120:120::/nonexistent:/bin/false\n")
    return Job(machine)


def test_what_a_script_took_is_gone_already_and_what_stands_is_taken_where_it_stands(job):
    root = job.machine.root
    run = job.carry(job.prepare(job.order(ID, answers={f"pointed_at:{ID}": "go_too"})))
    records = {r.where.split(",")[0]: r for r in records_of(run)}
    assert {r.state for r in records.values()} == {"done"}
    assert "gone already" in records["/etc/shells"].note
    assert (root / "etc/subuid").read_text() == "aline:5:5\nedda:1:9\nlast:2:2\nlater:7:7\n"
    assert "_plot" not in (root / "etc/passwd").read_text()
    assert job.put_back()["left"] == 0
    assert (root / "etc/subuid").read_text() == "aline:5:5\nedda:1:9\n_plot:10:9\nlast:2:2\nlater:7:7\n"
    assert "_plot:x:120" in (root / "etc/passwd").read_text()


def test_any_other_file_that_was_written_to_meanwhile_is_left(job):
    """Only those lists: a person's file must be what was surveyed."""
    root = job.machine.root
    (root / "etc/cron.d/night").write_text("1 2 * * * root plot7\n1 3 * * * root true\n")
    job.survey()
    run = job.prepare(job.order(ID, answers={f"pointed_at:{ID}": "they_stay"}))
    (root / "etc/cron.d/night").write_text("0 0 * * * root own\n1 2 * * * root plot7\n1 3 * * * root true\n")
    records = {r.where.split(",")[0]: r for r in records_of(job.carry(run))}
    assert records["/etc/cron.d/night"].state == "skipped"
    assert "written to" in records["/etc/cron.d/night"].note
    assert (root / "etc/cron.d/night").read_text().startswith("0 0 * * * root own\n1 2 * * * root plot7\n")
