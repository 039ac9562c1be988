"""Exercises, set and marked by the same development, engine and model that plan and check parts."""
