"""Painting shared by screen and paper: each function draws one view into a rectangle of any
painter."""
