"""Order, Carry out, Clearance and Ledger."""
