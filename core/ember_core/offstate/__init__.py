"""Off state: what flows while the control is off, and what lamps and control make of it."""
