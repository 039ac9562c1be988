"""One stroke of any machine: where the part lies, what it meets, which sections stand, and the verdict."""
