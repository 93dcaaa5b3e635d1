"""Programs that no registry knows: found by their launchers."""
