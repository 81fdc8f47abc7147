"""Tallyman: the desk of the person who leads a company's automation team."""
