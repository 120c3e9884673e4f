"""Choosing the bypass: the window in which it works, and how parts fare."""
