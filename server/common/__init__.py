"""What every app of the server stands on: problems, shapes, pages, parsing, streaming, heavy work, locks."""
