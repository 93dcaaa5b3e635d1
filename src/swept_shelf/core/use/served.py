"""Sign: what a service served, by its access logs and what it took into its spool."""

from __future__ import annotations

import re

from swept_shelf.core.documents.paths import base, within
from swept_shelf.core.documents.terms import Kind, Share
from swept_shelf.core.use.trace import FAIR, Look, Trace

KIND = "served"
_ACCESS = re.compile(r"(^|[._-])(access|page|xfer|transfer|request)s?[._-]?log([._-]|$)", re.I)


def look(at: Look) -> None:
    for subject in at.subjects:
        if not subject.background:
            continue
        for b in subject.belongings:
            if b.share != Share.SOLE or b.personal or b.kind not in (Kind.LOG, Kind.STATE):
                continue
            at.saw(KIND)
            for i in at.tree.slice(b.path):
                path = at.tree.paths[i]
                told = within(path, "/var/spool") or (b.kind == Kind.LOG and _ACCESS.search(base(path)))
                if told and at.tree.is_file[i] and at.tree.blocks[i]:
                    when = int(at.tree.mtime[i]) // 1_000_000_000
                    at.traces.append(
                        Trace(
                            subject.id,
                            KIND,
                            when,
                            "",
                            path,
                            FAIR,
                            None,
                            0,
                            "who was served is not known",
                            at.timely(when),
                        )
                    )
