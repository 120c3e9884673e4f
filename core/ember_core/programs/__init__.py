"""Programs of a control: days of on and off with sun and clock changes, conflicts, and what a power cut does."""
