"""What was read, as it may stand in a sentence."""

from __future__ import annotations

LONGEST_ECHO = 80
"""Characters of what was read that are said back."""


def cut(text: object) -> str:
    """What was read, printable and of a bearable length."""
    said = "".join(c if c.isprintable() else "?" for c in str(text))
    return said if len(said) <= LONGEST_ECHO else said[: LONGEST_ECHO - 1] + "…"
