"""Many authors on a real server: a soak that kills it, and fifty people who type. ``python -m tests.load --help``."""
