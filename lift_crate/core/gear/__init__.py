"""What a part is made of: interfaces, solids, optics, wiring, supports; a model with its ports;
whether its figures make sense, and how they are measured.
"""
