"""Accounts as an administrator keeps them, one's own password, and who is signed in where."""
