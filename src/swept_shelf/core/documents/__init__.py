"""What is known: frozen dataclasses, ids, paths, sizes and errors. No input or output."""
