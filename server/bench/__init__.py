"""The bench: gangs kept, looked at, served by the shelf; the loops of the round."""
