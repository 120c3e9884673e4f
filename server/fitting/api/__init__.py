"""Addresses of fitting."""
