"""Brakes as data: measures, cross-sections, tools and their segments, rated forces."""
