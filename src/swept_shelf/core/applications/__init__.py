"""Packages put together to applications; the dependency graph; what goes with what, why it is here, who needs it."""
