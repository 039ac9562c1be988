"""A hand folder: one stroke, what is set on it, and how it is spoken of."""
