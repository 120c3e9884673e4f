"""What works when something fails: ways from hand to lamp as paths through parts."""
