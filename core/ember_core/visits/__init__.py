"""Jobs put into visits: whose, in which order, with the least visits, isolations and minutes."""
