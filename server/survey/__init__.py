"""The survey of a loop: the visit, isolation, the box, its conductors and readings."""
