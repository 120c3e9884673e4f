"""Ways to give a loop its control: each a change of the wiring that was found, with the moves that hands make."""
