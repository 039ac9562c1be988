"""The flat: development of a job into panels, bend lines, notches and reliefs, and how it folds
up."""
