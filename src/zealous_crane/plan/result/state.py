"""The three signs every verdict carries."""

from __future__ import annotations

from enum import StrEnum


class State(StrEnum):
    """What a plan or a stroke comes to."""

    WORKS = "works"
    CARE = "care"
    STOP = "stop"
