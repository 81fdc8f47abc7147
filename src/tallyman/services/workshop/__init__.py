"""Packages, and the routines that set them up."""
