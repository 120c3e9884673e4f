"""Where a loop stands, what is frozen of it, who signed."""
