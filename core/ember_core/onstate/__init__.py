"""The on state: what a control does to the half-cycle, and what that does to it."""
