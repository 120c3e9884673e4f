"""The parts shelf as data: entries with the sources of their figures, open formats, typical figures of each class."""
