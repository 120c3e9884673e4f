"""Addresses of setting up."""
