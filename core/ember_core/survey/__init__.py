"""The survey: the box, its conductors and what readings say of them, depth, isolation, the visit."""
