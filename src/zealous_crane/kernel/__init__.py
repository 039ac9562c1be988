"""Exact contact of convex solids and outlines: first touch, distance, free intervals. Knows no
machine."""
