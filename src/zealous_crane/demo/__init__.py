"""Demonstration work from an invented beekeeping workshop, one for every kind of part."""

from __future__ import annotations

import json
from importlib import resources

from ..job.job import Job
from ..work.work import Work

DEMOS: tuple[str, ...] = (
    "syrup-tray",
    "deep-feeder",
    "inspection-tray",
    "safety-edge-tray",
    "hive-roof",
    "nucleus-roof",
    "comb-box",
    "extractor-guard",
    "frame-rail",
    "entrance-channel",
    "wax-melter-chimney",
    "chimney-halves",
    "chimney-four-sides",
    "chimney-reducer",
    "warm-air-duct",
    "vise-jaw-cover",
    "hive-scale",
    "observation-skin",
    "hive-stand-angle",
    "drip-pan-in-rail",
)
"""File names of the demonstrations, in the order they are offered."""


SEASON = resources.files(__package__) / "season.json"
"""An invented season's records of the book."""


def demo_work(name: str = "syrup-tray", *, resolved: bool = True) -> Work:
    """The demonstration of that file name, with its fits set; or as it is written, which is there
    at once."""
    data = json.loads((resources.files(__package__) / f"{name}.json").read_text(encoding="utf-8"))
    if "parts" in data:
        work = Work.model_validate(data)
        return work.resolved() if resolved else work
    return Work.of(Job.model_validate(data))


def demo_job(name: str = "syrup-tray") -> Job:
    """The first part of a demonstration."""
    return demo_work(name).parts[0]
