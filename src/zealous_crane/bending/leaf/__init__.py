"""The leaf brake: the swing of leaf and part past fingers, bed and beam, and the way in and out."""
