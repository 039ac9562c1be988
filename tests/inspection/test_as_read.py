"""Every size of a finished part against the part folded up in solids by another library: jaws
closed on the metal, no formula of ours."""

from __future__ import annotations

import math
from functools import partial

import manifold3d as m3
import numpy as np
import pytest

from random_jobs import random_jobs
from rebuilt import Part
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.element import MadeBy
from zealous_crane.flat.on_brake import flat_for
from zealous_crane.inspection.inspection import Inspection
from zealous_crane.inspection.model import What
from zealous_crane.inspection.probe import place
from zealous_crane.io.plan_file import blank_record

RACK = shipped_rack()
NEAR = 0.02
"""mm."""

FAR = 20_000.0


class Bench:
    """A part in solids, to be taken between jaws."""

    def __init__(self, job) -> None:
        self.blank = flat_for(job, RACK.find(job.brake))
        self.record = blank_record(self.blank, job)
        self.folds = self.record["folds"]
        self.part = Part(self.record, [f["angle"] for f in self.folds], 0)
        for bend in self.part.bends:
            # Rolled edges are round: as round as a jaw can tell.
            bend.arc = partial(bend.arc, facets=120)
        self.panels = [self.part.panel(i) for i in range(len(self.record["panels"]))]
        self.strips = [self.part.strip(i) for i in range(len(self.folds))]

    def on(self, fold: int, *, rim: bool = False) -> list[m3.Manifold]:
        """What a fold carries, with what goes straight on from it; at a rim only hems, rolled edges
        and lips."""
        f = self.folds[fold]
        found = [self.panels[f["child"]], self.strips[fold]]
        for i, other in enumerate(self.folds):
            ahead = other["parent"] == f["child"] and np.dot(other["outward"], f["outward"]) > 0.97
            ring = np.array(self.record["panels"][other["child"]]["polygon"]) - other["start"]
            lip = abs(other["angle"]) >= 135 or float((ring @ other["outward"]).max()) <= 25.4
            if ahead and (lip or not rim):
                found += self.on(i, rim=rim)
        return [body for body in found if body is not None]

    def jaws(self, bodies, frame, *, at=None, wide=0.002) -> np.ndarray:
        """Least and greatest coordinates (2, 3) of some bodies in a frame (3, 4) of the part, of
        what lies within ``wide`` of ``at`` along its first axis."""
        to = np.column_stack([frame[:, :3].T, -frame[:, :3].T @ frame[:, 3]])
        found = []
        for body in bodies:
            one = body.transform(to)
            if at is not None:
                one = one ^ m3.Manifold.cube((wide, 2 * FAR, 2 * FAR)).translate(
                    (at - wide / 2, -FAR, -FAR)
                )
            if not one.is_empty():
                box = one.bounding_box()
                found.append((box[:3], box[3:]))
        low, high = np.min([f[0] for f in found], axis=0), np.max([f[1] for f in found], axis=0)
        return np.array([low, high])

    def frame(self, panel: int, v) -> np.ndarray:
        """(3, 4) frame on a panel: along, outwards along ``v`` of its flat, up from its outside."""
        out = np.array([*v, 0.0])
        axes = np.column_stack([np.cross(out, [0, 0, 1.0]), out, [0, 0, 1.0]])
        moved = self.part.moved[panel]
        return np.column_stack([moved[:, :3] @ axes, moved[:, 3]])


def leg(bench: Bench, measure) -> float:
    f = bench.folds[measure.fold]
    frame = bench.frame(f["parent"], f["outward"])
    at = place(bench.blank.folds[measure.fold], measure.end)
    low, high = bench.jaws(bench.on(measure.fold), frame, at=at)
    reading = float(high[2]) if f["angle"] > 0 else bench.part.t - float(low[2])
    # A depth gauge stands on the other face of what carries the leg.
    return reading - (bench.part.t if measure.within else 0.0)


def acute(bench: Bench, measure) -> float:
    """Along a leg that leans back over what carries it: from the outermost line of the bend to its
    edge."""
    f = bench.folds[measure.fold]
    frame = bench.frame(f["child"], f["outward"])
    at = place(bench.blank.folds[measure.fold], measure.end)
    foot = bench.jaws([bench.panels[f["child"]], bench.strips[measure.fold]], frame, at=at)
    return float(bench.jaws(bench.on(measure.fold), frame, at=at)[1][1] - foot[0][1])


def walls(measure) -> tuple[int, int]:
    return tuple(int(k) for k in measure.key.split(":")[1:])


def between_walls(bench: Bench, measure) -> float:
    i, j = walls(measure)
    one, other = bench.folds[i], bench.folds[j]
    panel = ({one["parent"], one["child"]} & {other["parent"], other["child"]}).pop()
    assert one["parent"] == panel == other["parent"]
    up = 1.0 if one["angle"] > 0 else -1.0
    ends = []
    for k in (i, j):
        bodies = (
            bench.on(k, rim=True)
            if measure.what is What.INSIDE
            else [bench.panels[bench.folds[k]["child"]]]
        )
        mine = bench.frame(panel, bench.folds[k]["outward"])
        at = place(bench.blank.folds[k], 0)
        low, high = bench.jaws(bodies, mine, at=at)
        top = high[2] if up > 0 else -low[2]
        # The upper half, or just above the foot: a plate is cut out of all that at that height.
        cut = (0.5 * top, top + 1) if measure.what is What.INSIDE else (0.0, bench.part.t + 8.0)
        lows = cut[0] if up > 0 else bench.part.t - cut[1]
        slab = m3.Manifold.cube((0.02, 2 * FAR, cut[1] - cut[0])).translate((at - 0.01, -FAR, lows))
        to = np.column_stack([mine[:, :3].T, -mine[:, :3].T @ mine[:, 3]])
        boxes = [
            box.bounding_box()
            for body in bodies
            if not (box := body.transform(to) ^ slab).is_empty()
        ]
        inner, outer = min(b[1] for b in boxes), max(b[4] for b in boxes)
        ends.append(inner if measure.what is What.INSIDE else outer)
    return float(sum(ends))


def diagonal(bench: Bench, measure) -> float:
    standing = [
        i
        for i, f in enumerate(bench.folds)
        if f["parent"] == 0 and bench.blank.folds[i].made_by is MadeBy.BRAKE
    ]
    tabs = [
        i
        for i, f in enumerate(bench.folds)
        if f["parent"] in {bench.folds[k]["child"] for k in standing}
    ]
    bodies = [
        b
        for k in (*standing, *tabs)
        for b in (bench.panels[bench.folds[k]["child"]], bench.strips[k])
        if b is not None
    ]
    low, high = -6.0, bench.part.t + 6.0
    points = []
    for body in bodies:
        cut = body ^ m3.Manifold.cube((2 * FAR, 2 * FAR, high - low)).translate((-FAR, -FAR, low))
        if not cut.is_empty():
            points.append(np.asarray(cut.to_mesh().vert_properties)[:, :2])
    every = np.concatenate(points)
    starts = [np.array(bench.folds[k]["start"]) for k in standing]
    wide = [
        np.ptp(
            [
                s[axis]
                for s, k in zip(starts, standing, strict=True)
                if abs(bench.folds[k]["outward"][axis]) > 0.999
            ]
        )
        for axis in (0, 1)
    ]
    way = np.array([wide[0], wide[1] if measure.key.endswith(":0") else -wide[1]]) / math.hypot(
        *wide
    )
    along = every @ way
    return float(np.linalg.norm(every[along.argmax()] - every[along.argmin()]))


def plain_walls(bench: Bench, measure) -> bool:
    i, j = walls(measure)
    return bench.folds[i]["parent"] == bench.folds[j]["parent"]


READERS = {
    What.LEG: (leg, lambda bench, m: True),
    What.APEX: (acute, lambda bench, m: m.mate < 0 and abs(bench.folds[m.fold]["angle"]) > 90.5),
    What.INSIDE: (between_walls, plain_walls),
    What.OUTSIDE: (between_walls, plain_walls),
    What.DIAGONAL: (diagonal, lambda bench, m: True),
}


def wrong_sizes(job, bench=None) -> list[str]:
    bench = Bench(job)
    if bench.blank.creases:
        return []
    wrong = []
    for line in Inspection(job, bench.blank).lines:
        read, can = READERS.get(line.measure.what, (None, None))
        if read is None or not can(bench, line.measure):
            continue
        got = read(bench, line.measure)
        if abs(got - line.wanted) > NEAR:
            wrong.append(
                f"{job.name}: {line.measure.key} {line.measure.says} asks {line.wanted:.3f}, "
                f"solids read {got:.3f}"
            )
    return wrong


@pytest.mark.parametrize("name", DEMOS)
def test_every_size_of_a_demonstration_is_what_jaws_read(name):
    assert [said for job in demo_work(name).parts for said in wrong_sizes(job)] == []


def test_sizes_of_random_parts_are_what_jaws_read():
    assert [said for job, _ in random_jobs(40, seed=361) for said in wrong_sizes(job)] == []
