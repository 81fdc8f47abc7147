"""The workshop."""
