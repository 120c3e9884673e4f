"""Radio on a site: decibels from end to end, who is reached over whom, and which channel is quiet."""
