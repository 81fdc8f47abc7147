"""Open formats in and out: pure functions on bytes."""
