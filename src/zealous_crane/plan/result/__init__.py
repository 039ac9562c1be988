"""The plan that came of a search: strokes, set-ups and their figures, hand work, gauging; wording last."""
