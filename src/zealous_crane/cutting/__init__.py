"""Cutting blanks from sheets and off-cuts on a shear."""
