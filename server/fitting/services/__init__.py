"""What is done with records of fitting."""
