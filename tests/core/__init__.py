"""Core tests: no database."""
