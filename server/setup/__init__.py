"""Setting up: the radio of a site, joining, names, programs, and what works when something fails."""
