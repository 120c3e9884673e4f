"""The demo: a made-up mill and cannery with their loops, parts and accounts."""
