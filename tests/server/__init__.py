"""Tests of the server against the real database."""
