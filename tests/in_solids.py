"""Parts folded up in solids from the fold tree alone, to hold fits against."""

from __future__ import annotations

import manifold3d as m3

from rebuilt import Part
from zealous_crane.flat.development import develop
from zealous_crane.io.plan_file import blank_record
from zealous_crane.job.job import Job
from zealous_crane.part.kinds.box import FoldedPan, HemmedTray, LockingBox, OpenBox


def job(part, thickness="1 mm"):
    return Job(name=part.kind, part=part, metal="mild-steel", thickness=thickness, units="mm")


def folded(one):
    record = blank_record(develop(one), one)
    part = Part(record, [f["angle"] for f in record["folds"]], 0)
    return part, record


def solid(one):
    part, record = folded(one)
    for panel in record["panels"]:
        panel.pop("rigid", None)  # ears give way on the brake, not in a fit
    # A hair is taken off every face: what touches does not meet.
    bodies = [part.panel(i, 0.005) for i in range(len(record["panels"]))]
    return m3.Manifold.batch_boolean([b for b in bodies if b is not None], m3.OpType.Add)


MASTERS = [
    OpenBox(length=200, width=150, depth=60),
    OpenBox(length=200, width=150, depth=60, measured="outside"),
    OpenBox(length=200, width=150, depth=60, measured="flat"),
    HemmedTray(length=200, width=150, depth=60),
    HemmedTray(length=200, width=150, depth=60, tabs_inside=True, edge="open"),
    LockingBox(length=200, width=150, depth=60),
    FoldedPan(length=200, width=150, depth=60),
    FoldedPan(length=200, width=150, depth=60, ears_outside=False, ears_on="front-back"),
]
