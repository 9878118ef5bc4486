"""Practice on the same physics as the rest: a number makes the same drill for everybody."""
