"""The computing commands: loop sheets in, figures out. No database."""
