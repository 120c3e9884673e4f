"""Addresses of plans."""
