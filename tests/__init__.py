"""Tests that cross the parts of the project; run by Django's runner."""
