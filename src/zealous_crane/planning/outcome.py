"""The three signs every verdict carries. The window shows them before it imports a plan."""

from __future__ import annotations

from enum import StrEnum


class Outcome(StrEnum):
    """What a plan or a stroke comes to."""

    WORKS = "works"
    CARE = "care"
    STOP = "stop"
