"""Cures: changes of the job that were tried through the same engine and found to work, one kind a file."""
