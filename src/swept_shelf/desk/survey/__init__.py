"""The Survey station: lenses over the same applications, the drawer, the order slip."""
