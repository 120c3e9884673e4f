"""Words: looked up by code when something is shown, never stored."""
