"""Helpers for the models people write: how their fields are read, and complaints a person can act
on."""
