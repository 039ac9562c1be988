"""The hand folder: one stroke, its settings, and its wording."""
