"""Folders that are listed once: whatever stands in them, and however many they are, they are listed as they are."""

from __future__ import annotations

import os

import pytest

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine import near, open_machine


@pytest.mark.parametrize("ready", [0, 3, 10**6])
def test_a_folder_is_listed_alike_however_many_were_listed_before(tmp_path, monkeypatch, ready):
    monkeypatch.setattr(near, "_NAMES", ready)
    for name in ("etc/plain", "etc/new\nline", os.fsdecode(b"etc/b\xffd"), "etc/\u00fcber", "home/x"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text("x")
    (tmp_path / "etc/empty").mkdir()
    (tmp_path / "etc/away").symlink_to("/nowhere")
    os.mkfifo(tmp_path / "etc/pipe")
    expected = {
        "away": "link",
        os.fsdecode(b"b\xffd"): "file",
        "empty": "folder",
        "new\nline": "file",
        "pipe": "other",
        "plain": "file",
        "\u00fcber": "file",
    }
    with near.Near(open_machine(tmp_path)) as folders:
        for _ in range(2):
            assert folders.listed("/etc") == expected and list(folders.listed("/etc")) == sorted(expected)
            assert folders.listed("/etc/empty") == {} and folders.listed("/home") == {"x": "file"}
            with pytest.raises(CouldNotRead):
                folders.listed("/gone")
        (tmp_path / "etc/later").write_text("x")
        assert "later" not in folders.listed("/etc")
