"""The process that looks and carries; JSON lines in and out. Imports neither desk, cli nor the ledger."""
