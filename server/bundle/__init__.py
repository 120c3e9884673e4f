"""Sites and loops out of one copy and into another."""
