"""One file a use case: permission is checked by the view, the rest is here."""
