"""Flatpak: system and per-person installations, read from their documented folders (flatpak-installation(5))."""
