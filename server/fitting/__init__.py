"""Fitting what was chosen: steps ticked with their gates, trouble, what is left half done, kits, minutes."""
