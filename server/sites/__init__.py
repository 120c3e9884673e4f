"""Sites and their circuits."""
