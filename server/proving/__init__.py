"""Proving a loop, and finding what is wrong with it: marks and cases on record."""
