"""What setting up does."""
