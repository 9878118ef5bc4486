"""What a lens does on a body: mount, framing, coverage and light, follow focus, every lens on every body."""
