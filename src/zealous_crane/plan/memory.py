"""What the engine keeps of the pieces of a blank, let go of when another blank is planned."""

from __future__ import annotations

import sys

from .geometry.known import Known


def forget() -> None:
    """Drop every answer kept of pieces, tools and strokes: nothing is asked again of a job that was put away."""
    for name, module in list(sys.modules.items()):
        if not name.startswith(__package__ or "zealous_crane.plan"):
            continue
        for kept in list(vars(module).values()):
            if isinstance(kept, Known):
                kept.forget()
            elif callable(getattr(kept, "cache_clear", None)):
                kept.cache_clear()
