"""Stand-ins for outside devices, spoken to through interfaces that real ones could implement."""
