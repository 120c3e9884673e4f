"""What the work is made of, without the web."""
