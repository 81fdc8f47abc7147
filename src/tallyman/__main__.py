"""`python -m tallyman`."""

from tallyman.cli import app

app()
