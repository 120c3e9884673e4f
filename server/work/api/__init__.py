"""The work over the API."""
