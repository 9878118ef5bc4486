"""Packing: what goes along, which case it goes into, where it lies there, what was really packed and came back."""
