"""One file for each step, named by its number."""
