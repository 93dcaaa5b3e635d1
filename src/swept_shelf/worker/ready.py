"""The word by which a worker is started before it is known what it is to look at."""

READY = "--ready"
