"""Convex solids and outlines: where what turns or shifts first touches, how near it comes, and which stretches along the fold are free."""
