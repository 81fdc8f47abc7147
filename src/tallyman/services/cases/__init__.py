"""Sizing, business case, promise and what was delivered: nothing asks for it but its own pages."""
