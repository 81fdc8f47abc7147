"""Upkeep."""
