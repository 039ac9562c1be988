"""Remedies: changes of a job that were tried through the same engine and found to work."""
