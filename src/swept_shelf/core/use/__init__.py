"""A module per kind of sign of use; the judgement over them."""
