"""Language package tools: what pipx, pip, npm, cargo and gem installed, by their receipts."""
