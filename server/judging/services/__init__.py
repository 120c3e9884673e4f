"""Judging, with words."""
