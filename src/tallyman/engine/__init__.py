"""The engine: loops that start what is due, end what is lost, and carry out effects."""
