"""What jobs do, and who does them."""
