"""The shelf over the API."""
