"""Days of work: which loops, whose, in which order, what is taken along, on paper and in a calendar."""
