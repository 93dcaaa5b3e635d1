"""The administrator's rights: asked for when they are needed, held by a small helper that takes orders and no commands."""
