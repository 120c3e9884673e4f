"""What the core says of a loop, in data and words: nothing here is kept."""
