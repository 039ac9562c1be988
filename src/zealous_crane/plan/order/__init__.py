"""The order of strokes: states, moves, what a hand tries first, what was asked for, and the search."""
