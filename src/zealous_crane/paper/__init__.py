"""Printed pages: the bend sheet, the cut sheet, the marking sheet and the full-size template."""
