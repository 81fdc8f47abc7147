"""The rules Tallyman computes by: pure functions of their arguments."""
