"""The made-up machine: the reading-room computer of a small herbarium. Everything in it is invented."""

from swept_shelf.core.demo.build import build_demo

__all__ = ["build_demo"]
