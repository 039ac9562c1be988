"""The command line: the same work without a window."""

from .commands import app, main

__all__ = ["app", "main"]
