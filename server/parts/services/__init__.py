"""What is done with the shelf: one file a use case."""
