"""The made-up machine: the reading-room computer of a small herbarium, with three people."""

from swept_shelf.core.demo.build import build_demo
from swept_shelf.core.demo.earlier import as_it_was
from swept_shelf.core.demo.snap_service import answer_snaps

__all__ = ["as_it_was", "answer_snaps", "build_demo"]
