"""From a wire map to work: steps with their gates, a state that may be left, what is taken along, and how long."""
