"""The only executor: journal, holding shelf, originals, put back. Each part is imported by itself: the desk needs few."""
