"""Addresses of jobs."""
