"""Installed games and Windows programs: by the manifests their launchers leave as plain files, and Wine prefixes."""
