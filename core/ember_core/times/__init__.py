"""How long work takes: class figures, what a firm's own marks say, and sums by simulation."""
