"""Processes that plan and compute beside the window, and the messages they exchange with it."""
