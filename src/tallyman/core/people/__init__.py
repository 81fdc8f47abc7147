"""People: what others ask of it."""
