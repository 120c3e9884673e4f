"""Planning, and what follows from a plan."""
