"""The back end that needs no compiler: the questions of the kernel answered with NumPy."""
