"""A house as far as somebody noted it: rooms, what lies between them, hubs, access points, devices at their places."""
