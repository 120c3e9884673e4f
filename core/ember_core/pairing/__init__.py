"""Joining devices to a network: what each needs, in which order one person does it, and what to do after a miss."""
