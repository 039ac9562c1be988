"""Dialogs over the main window."""
