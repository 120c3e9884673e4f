"""Handing over: where a loop stands, what a checker is to look at first, and what was frozen."""
