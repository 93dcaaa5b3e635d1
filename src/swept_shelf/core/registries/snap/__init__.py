"""Snap: its public local REST interface where its service answers, else what its folders show."""
