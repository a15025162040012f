"""One router for one kind of thing."""
