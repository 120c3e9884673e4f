"""The survey over the API."""
