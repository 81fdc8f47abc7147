"""The made-up world of the demo: Merrowdale Water."""
