"""Handing over, over the API."""
