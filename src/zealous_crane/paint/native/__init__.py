"""The compiled depth order of faces. It is built where the program is set up, if a compiler is
there; without one :mod:`zealous_crane.paint.depth` orders them with NumPy."""
