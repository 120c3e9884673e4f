"""Whether a control and its lamps go together: the matrix, the findings with their figures, trims and load limits."""
