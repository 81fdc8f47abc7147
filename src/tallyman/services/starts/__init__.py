"""What starts a routine: triggers, and the clock that fires them."""
