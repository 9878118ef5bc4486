"""Balance on a gimbal: readings, loads and hours, what stands against them, zoom, step cards,
and what changed since.
"""
