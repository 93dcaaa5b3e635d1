"""Debian packages: read through dpkg-query, changed through dpkg."""
