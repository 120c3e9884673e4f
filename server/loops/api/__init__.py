"""Loops over the API."""
