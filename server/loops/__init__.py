"""Loops, their gangs and what is fitted on them."""
