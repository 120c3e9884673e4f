"""Accounts, roles and who may do what."""
