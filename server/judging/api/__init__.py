"""Addresses of judging without a record."""
