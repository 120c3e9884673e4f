"""Proving a loop after it has power again: what is to be tried and watched, and what counts as proved."""
