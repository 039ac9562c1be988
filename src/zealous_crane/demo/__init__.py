"""Demonstration jobs from an invented beekeeping workshop."""

from __future__ import annotations

from importlib import resources

from ..job import Job


def demo_job(name: str = "syrup-tray") -> Job:
    """The demonstration job of that file name."""
    text = (resources.files(__package__) / f"{name}.json").read_text(encoding="utf-8")
    return Job.model_validate_json(text)
