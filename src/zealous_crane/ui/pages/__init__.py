"""The pages of the window, one for each stage of the work."""
