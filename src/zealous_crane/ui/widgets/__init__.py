"""Widgets that several pages and dialogs share."""
