"""Whether halves join: joints with their loads and sag, chains of adapters, what runs into what."""
