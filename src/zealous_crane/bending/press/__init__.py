"""The press brake: punch and die, the part turning about them, and the way in and out."""
