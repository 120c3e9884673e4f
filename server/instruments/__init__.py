"""Meters and hubs: what is asked of one, those that answer over a network, and how a stand-in is found."""
