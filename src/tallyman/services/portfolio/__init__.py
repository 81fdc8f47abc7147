"""What to build first."""
