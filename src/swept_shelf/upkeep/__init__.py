"""Keeping it so: a timer that looks, says what grew and what nobody uses, and does only what was chosen. Off until it is turned on."""
