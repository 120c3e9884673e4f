"""The trail of changes."""
