"""Lengths, angles, forces and masses: reading and writing them, and sums that open.

Inside the program a length is a float in millimetres, an angle a float in degrees, a force in
newtons.
"""
