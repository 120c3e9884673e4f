"""What is done with loops and gangs."""
