"""Upkeep on the desk: what is set, what the last round found, and a timer on this computer's own root alone."""

from __future__ import annotations

import json

from deskwork import Desk
from helpers import cli
from swept_shelf.desk.stations.upkeep_page import UpkeepPage


def test_settings_are_read_refused_in_words_and_kept_and_the_last_round_is_shown(made_up, qtbot):
    root = ("--root", str(made_up.folder), "upkeep")
    cli(*root, "--set", "unused=6m")
    found = json.loads(cli(*root, "--format", "json").stdout)
    with Desk(made_up, qtbot) as desk:
        desk.window.go("Ledger")
        desk.click(desk.window.ledger.upkeep_button)
        page = desk.window.ledger.findChild(UpkeepPage)
        desk.wait(lambda: "round of" in page.last_head.text())
        assert page.fields["unused"].text() == "6m" and page.fields["trim:trash"].text() == "never"
        assert any(found["unused"][0]["name"] in line.text() for line in page.last)
        assert not page.turn_button.isEnabled() and page.turn_button.text() == "Turn it on"
        page.fields["free"].setText("plenty")
        desk.click(page.keep_button)
        assert "plenty is not a size" in page.said.text()
        page.fields["free"].setText("2 GB")
        page.fields["trim:thumbnails"].setText("90d")
        desk.click(page.every.buttons["Every day"])
        desk.click(page.keep_button)
        assert page.said.text() == "Saved."
    said = cli(*root, "--show").stdout
    assert (
        "every day" in said
        and "2.0 GB on every volume" in said
        and "thumbnails, what is older than 90 days" in said
    )


def test_a_wrong_file_of_settings_is_named_and_not_written_over(made_up, qtbot):
    with Desk(made_up, qtbot) as desk:
        file = desk.session.shop.ledger.folder / "upkeep.toml"
        file.write_text("every = 'now'\n")
        desk.window.go("Ledger")
        desk.click(desk.window.ledger.upkeep_button)
        page = desk.window.ledger.findChild(UpkeepPage)
        assert "upkeep.toml" in page.said.text() and not page.keep_button.isEnabled()
        assert file.read_text() == "every = 'now'\n"
