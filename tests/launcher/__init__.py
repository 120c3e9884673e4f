"""Tests of the launcher."""
