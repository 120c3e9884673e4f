"""Settings, addresses and the shapes shared by every part of the server."""
