"""Setting up and running on one machine, on Python's standard library alone."""
