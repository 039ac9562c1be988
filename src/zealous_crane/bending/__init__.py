"""One stroke of any machine: how the part is held, what it meets, which segments stand, and the
verdict."""
