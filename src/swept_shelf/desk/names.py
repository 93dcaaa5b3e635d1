"""The five stations, in the order of work."""

STATIONS = ("Survey", "Order", "Carry out", "Clearance", "Ledger")
