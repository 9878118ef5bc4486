"""What holds the rig up: its load, the gimbal with its reach and wind, heads and sticks, hands,
magnets, cups and clamps.
"""
