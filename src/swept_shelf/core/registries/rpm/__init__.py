"""RPM packages: the database by the rpm command, on a private copy; dependencies resolved here."""
