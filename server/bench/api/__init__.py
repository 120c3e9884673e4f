"""Addresses of loops and gangs."""
