"""What points at an application: kinds/ declares each kind, the rest is made from what they declare."""
