"""Tests of the computing commands."""
