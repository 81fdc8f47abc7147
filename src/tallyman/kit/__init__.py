"""What packages import, kept apart in tallyman_kit.py, which stands alone."""
