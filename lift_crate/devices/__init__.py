"""Outside devices: protocols, and the simulated stand-ins that ship with the application."""
