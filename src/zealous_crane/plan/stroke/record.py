"""A tool's section as JSON."""

from __future__ import annotations

from typing import Any

from ...brake import Profile


def profile_record(profile: Profile) -> dict[str, Any]:
    """Outline (n, 2) in mm, to nine places, the name of each side, and the corners on the nose."""
    outline = [[round(float(v), 9) for v in corner] for corner in profile.outline]
    return {"outline": outline, "sides": list(profile.parts), "nose_corners": list(profile.nose)}
