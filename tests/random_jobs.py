"""Random jobs on every machine that ships."""

from __future__ import annotations

import contextlib
import random

from random_work import random_job, random_part
from zealous_crane.brake.library import shipped_rack
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.on_brake import flat_for

RACK = shipped_rack()


def random_jobs(count: int, seed: int = 35):
    """Random parts on every machine of the rack, most with nothing said of school or radius, now
    and then bottomed or on a die asked for."""
    rng, found = random.Random(seed), []
    while len(found) < count:
        brake = rng.choice(RACK.brakes)
        job = (random_job if rng.random() < 0.6 else random_part)(rng)
        thickness = f"{rng.choice((0.5, 0.7, 0.9, 1.2, 1.45, 1.6, 2.0, 2.5)):g} mm"
        fields = {
            "brake": brake.key,
            "thickness": thickness,
            "name": f"part {len(found)}",
            "bottomed": rng.random() < 0.2,
        }
        if rng.random() < 0.7:
            fields |= {"school": None, "radius": None}
        if rng.random() < 0.3 and getattr(brake, "dies", ()):
            die = rng.choice(brake.dies).name
            fields["tools"] = job.tools.choosing(
                brake.key, "die", die, None if rng.random() < 0.5 else "front wall"
            )
        job = job.model_copy(update=fields)
        with contextlib.suppress(DevelopmentError):
            flat_for(job, brake)
            found.append((job, brake))
    return found
