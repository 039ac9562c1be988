"""Every ready kind, folded up by other code than the program's and measured with solids.

The flat is written down as the plan file has it; ``solids`` folds it with its own kinematics, and
manifold3d gives the boxes the panels fill. Sizes must come back to 0.01 mm under the neutral line.
"""

import random

import numpy as np
import pytest
import shapely

import solids
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.io.plan_file import blank_record
from zealous_crane.job.job import Job
from zealous_crane.metal.allowance import NeutralLine
from zealous_crane.part.edge import HemForm, Measured
from zealous_crane.part.kinds.box import FoldedPan, HemmedTray, LockingBox, OpenBox
from zealous_crane.part.kinds.cover import EnclosureBase, EnclosureLid, JawCover
from zealous_crane.part.kinds.duct import Cap, ReducerHalf, Sleeve
from zealous_crane.part.kinds.strip import LongSkin, SingleBend, SlottedChannel, Strip

CLOSE = 0.01


def job_of(part, thickness=0.8, radius=None, k=0.42, **fields):
    return Job(
        part=part,
        metal="mild-steel",
        thickness=f"{thickness:.3f} mm",
        school=NeutralLine(k=k),
        units="mm",
        radius=radius,
        **fields,
    )


class Folded:
    """A part folded from its record: the box (low, high) every panel and every bent strip fills,
    the base lying at z 0 to T."""

    def __init__(self, job):
        self.blank = develop(job)
        record = blank_record(self.blank, job)
        angles = [f["angle"] for f in record["folds"]]
        self.poses = solids.placed(record, angles, 0)
        self.t = record["thickness"]
        self.panels, self.everything = {}, []
        for panel, pose in zip(record["panels"], self.poses, strict=True):
            body = solids.m3.Manifold.extrude(
                solids.m3.CrossSection([np.array(panel["polygon"])]), self.t
            ).transform(pose)
            self.panels[panel["name"]] = np.array(body.bounding_box()).reshape(2, 3)
            self.everything.append(self.panels[panel["name"]])
        for fold in record["folds"]:
            bent = solids.strip(fold, fold["angle"], self.t, facets=96)
            if bent is not None:
                box = bent.transform(self.poses[fold["parent"]]).bounding_box()
                self.everything.append(np.array(box).reshape(2, 3))

    def top(self, *names):
        """Highest point of some panels (or of everything) above the base's inside face."""
        boxes = [self.panels[n] for n in names] or self.everything
        return max(b[1, 2] for b in boxes) - self.t

    def clear(self, low, high, axis, face="inside"):
        """Distance between the two faces of opposite walls, inner or outer."""
        a, b = self.panels[low], self.panels[high]
        return b[0, axis] - a[1, axis] if face == "inside" else b[1, axis] - a[0, axis]

    def normal(self, name):
        i = [p.name for p in self.blank.panels].index(name)
        return self.poses[i][:, 2]

    def angle(self, one, other):
        """Degrees between two panels' inside normals."""
        return float(np.degrees(np.arccos(np.clip(self.normal(one) @ self.normal(other), -1, 1))))


def sound(blank):
    """The flat is one valid piece, holds its panels but for the reliefs, and no two panels share
    metal."""
    outline = shapely.Polygon(blank.outline.flattened())
    assert outline.is_valid and outline.exterior.is_ccw
    low = outline.bounds
    assert low[:2] == pytest.approx((0, 0), abs=1e-6) and low[2:] == pytest.approx(
        blank.size, abs=1e-6
    )
    reach = max(
        (f.bend.allowance + 3 * (f.bend.radius + f.bend.thickness) for f in blank.folds), default=0
    )
    reliefs = shapely.union_all(
        [shapely.Point(r.centre).buffer(r.size * 0.75 + reach) for r in blank.reliefs]
    )
    shapes = [shapely.Polygon(p.polygon) for p in blank.panels]
    for panel, shape in zip(blank.panels, shapes, strict=True):
        assert shape.is_valid and shape.exterior.is_ccw, panel.name
        assert shape.difference(outline.buffer(1e-3)).difference(reliefs).area < 0.02 + reach**2, (
            panel.name
        )
        assert sum(shapely.Polygon(p).area for p in panel.pieces) == pytest.approx(
            shape.area, rel=1e-9
        )
    for i, one in enumerate(shapes):
        for other in shapes[:i]:
            assert one.intersection(other).area < 1e-3
    assert blank.area + sum(abs(h.path.area) for h in blank.holes) + blank.waste == pytest.approx(
        blank.size[0] * blank.size[1], rel=1e-4, abs=1
    )
    for fold in blank.folds:
        assert (
            fold.length > 0
            and outline.buffer(1e-6).covers(shapely.Point((fold.start + fold.end) / 2))
        ) or blank.holes


def sheet(rng):
    t = rng.uniform(0.5, 1.5)
    return {
        "thickness": t,
        "radius": rng.choice([None, rng.uniform(0.3, 2) * t]),
        "k": rng.uniform(0.33, 0.5),
    }


def box_sizes(rng):
    return {
        "length": rng.uniform(120, 400),
        "width": rng.uniform(110, 300),
        "depth": rng.uniform(35, 80),
    }


def check_box(folded, part, measured, top):
    face = "inside" if measured is Measured.INSIDE else "outside"
    assert folded.clear("left wall", "right wall", 0, face) == pytest.approx(part.length, abs=CLOSE)
    assert folded.clear("front wall", "back wall", 1, face) == pytest.approx(part.width, abs=CLOSE)
    extra = 0 if measured is Measured.INSIDE else folded.t
    assert top + extra == pytest.approx(part.depth, abs=CLOSE)


FACES = [Measured.INSIDE, Measured.OUTSIDE]


@pytest.mark.parametrize("seed", range(12))
def test_open_box(seed):
    rng = random.Random(seed)
    part = OpenBox(**box_sizes(rng), measured=rng.choice(FACES))
    folded = Folded(job_of(part, **sheet(rng)))
    check_box(folded, part, part.measured, folded.top())
    sound(folded.blank)


@pytest.mark.parametrize("form", list(HemForm))
@pytest.mark.parametrize("seed", range(5))
def test_hemmed_tray(form, seed):
    rng = random.Random(f"{form}{seed}")
    hem = rng.uniform(18, 22) if form in (HemForm.DOUBLE, HemForm.ROLLED) else rng.uniform(9, 14)
    part = HemmedTray(
        **box_sizes(rng),
        measured=rng.choice(FACES),
        edge=form,
        hem=hem,
        tab=rng.uniform(12, 25),
        tabs_inside=rng.random() < 0.5,
        tabs_on=rng.choice(["left-right", "front-back"]),
        fastening=rng.choice(["none", "spot", "rivet"]),
    )
    if part.tabs_inside and part.depth - hem < 28:
        part = part.model_copy(update={"depth": hem + 40})
    folded = Folded(job_of(part, **sheet(rng)))
    check_box(folded, part, part.measured, folded.top())
    sound(folded.blank)
    tab = next(p for p in folded.panels if p.endswith("tab"))
    wall = f"{tab.split()[0]} wall"
    assert folded.angle(tab, wall) == pytest.approx(90, abs=1e-6)
    # The tab lies flat against the next wall, on the side asked for.
    axis = 1 if wall.startswith(("left", "right")) else 0
    for name, low in (
        (("front wall", True), ("back wall", False))
        if axis
        else (("left wall", True), ("right wall", False))
    ):
        mine = [
            b
            for p, b in folded.panels.items()
            if p.endswith("tab")
            and abs(b[:, axis].mean() - folded.panels[name][:, axis].mean()) < 20
        ]
        for box in mine:
            inner = folded.panels[name][1 if low else 0, axis]
            near = box[0 if low else 1, axis] if part.tabs_inside else box[1 if low else 0, axis]
            outer = folded.panels[name][0 if low else 1, axis]
            assert near == pytest.approx(inner if part.tabs_inside else outer, abs=CLOSE)


@pytest.mark.parametrize("seed", range(8))
def test_folded_pan_is_a_plain_rectangle(seed):
    rng = random.Random(seed)
    part = FoldedPan(
        **box_sizes(rng),
        measured=rng.choice(FACES),
        ears_on=rng.choice(["left-right", "front-back"]),
        ears_outside=rng.random() < 0.5,
    )
    folded = Folded(job_of(part, **sheet(rng)))
    check_box(folded, part, part.measured, folded.top("front wall", "left wall"))
    assert (
        len(folded.blank.outline.points) == 4
        and not folded.blank.notches
        and not folded.blank.holes
    )
    assert len(folded.blank.creases) == 4
    # The ear's first half lies along the wall that takes it, its second half back against the
    # first.
    ear = next(p for p in folded.panels if p.endswith("ear"))
    assert folded.angle(ear, f"{ear.split()[0]} wall") == pytest.approx(90, abs=1e-6)
    assert folded.angle(ear, f"{ear}, far half") == pytest.approx(180, abs=0.01)


@pytest.mark.parametrize("radius", [1.0, 2.0, 5.0])
def test_a_wall_between_two_ears_keeps_something_stiff_or_is_refused(radius):
    """Twice 2(r + T) of it give way: what stays is told to the last half millimetre, and below that
    the part is refused."""
    t, met = 0.5, 0
    for length in np.arange(2 * radius + 0.3, 30.0, 0.75):
        part = FoldedPan(length=float(length), width=200.0, depth=10.0, measured="inside")
        job = job_of(part, thickness=t, radius=radius)
        least = 4 * (radius + t) + 0.5
        if length < least:
            with pytest.raises(
                DevelopmentError, match="Beside folded corners its two ends give way"
            ):
                develop(job)
            continue
        met += 1
        blank = develop(job)
        wall = next(i for i, panel in enumerate(blank.panels) if panel.name == "front wall")
        (stiff,) = blank.rigid[wall]
        assert np.ptp(stiff[:, 0]) == pytest.approx(length - 4 * (radius + t), abs=1e-4)
    assert met > 5


@pytest.mark.parametrize("seed", range(8))
def test_locking_box_tabs_fit_under_the_hem(seed):
    rng = random.Random(seed)
    part = LockingBox(**box_sizes(rng), measured=rng.choice(FACES), tab=rng.uniform(15, 35))
    folded = Folded(job_of(part, **sheet(rng)))
    check_box(folded, part, part.measured, folded.top())
    sound(folded.blank)
    assert not [f for f in folded.blank.findings if f.kind == "crossing"]
    tab, hem = folded.panels["left front tab"], folded.panels["front hem"]
    assert tab[1, 2] > hem[0, 2], "the tab reaches up under the hem"
    assert tab[1, 1] <= hem[0, 1] + CLOSE or tab[0, 1] >= hem[1, 1] - CLOSE, (
        "and lies between hem and wall"
    )


@pytest.mark.parametrize("seed", range(12))
def test_strips_turn_by_their_angles(seed):
    rng = random.Random(seed)
    count = rng.randint(2, 6)
    legs = tuple(rng.uniform(25, 90) for _ in range(count))
    angles = tuple(rng.choice([78, 90, 110, 45, -90, -60]) for _ in range(count - 1))
    part = Strip(legs=legs, angles=angles, length=rng.uniform(50, 500), measured="inside")
    folded = Folded(job_of(part, **sheet(rng)))
    sound(folded.blank)
    at = max(range(count), key=lambda i: (legs[i], -abs(i - (count - 1) / 2)))
    names = ["base" if i == at else f"leg {i + 1}" for i in range(count)]
    for i, angle in enumerate(angles):
        assert folded.angle(names[i], names[i + 1]) == pytest.approx(abs(angle), abs=1e-6)


def test_a_zed_reads_over_all():
    # Outside sizes: the web of a Z between the outer faces of its flanges is the web given.
    folded = Folded(
        job_of(Strip(legs=(20, 60, 30), angles=(90, -90), length=100), thickness=1.0, radius=1.0)
    )
    ends = np.array([folded.panels[n] for n in ("leg 1", "leg 3")])
    assert ends[:, 1, 0].max() - ends[:, 0, 0].min() == pytest.approx(60, abs=CLOSE)
    assert folded.top("leg 1") + 1.0 == pytest.approx(20, abs=CLOSE)
    assert -folded.panels["leg 3"][0, 2] + 1.0 == pytest.approx(30, abs=CLOSE)


@pytest.mark.parametrize("seed", range(6))
def test_channel_skin_and_plate(seed):
    rng = random.Random(seed)
    web, leg = rng.uniform(40, 90), rng.uniform(40, 90)
    slotted = Folded(
        job_of(SlottedChannel(web=web, leg=leg, length=300, measured="inside"), thickness=3.0)
    )
    assert slotted.clear("left leg", "right leg", 0) == pytest.approx(web, abs=CLOSE)
    assert slotted.top() == pytest.approx(leg, abs=CLOSE)
    assert len([h for h in slotted.blank.holes if h.kind == "fold slot"]) == 8
    skin = Folded(
        job_of(
            LongSkin(first=60, second=50, flange=8, length=900, sharp=rng.uniform(60, 140)),
            **sheet(rng),
        )
    )
    assert skin.angle("base", "leg 3") == pytest.approx(skin.blank.folds[0].angle, abs=1e-6)
    plate = Folded(job_of(SingleBend(first=100, second=60, length=200), thickness=6.0, radius=6.0))
    assert plate.panels["leg 2"][1, 0] - plate.panels["base"][0, 0] == pytest.approx(100, abs=CLOSE)
    assert plate.top() + 6 == pytest.approx(60, abs=CLOSE)


@pytest.mark.parametrize("lip", ["none", "in", "out"])
@pytest.mark.parametrize("seed", range(4))
def test_sleeve_closes_on_itself(lip, seed):
    rng = random.Random(f"{lip}{seed}")
    a, b, high = rng.uniform(120, 300), rng.uniform(120, 300), rng.uniform(100, 300)
    part = Sleeve(
        length=a,
        width=b,
        height=high,
        lip=lip,
        hem=rng.choice([None, 12.7]),
        measured=rng.choice(FACES),
    )
    folded = Folded(job_of(part, **sheet(rng)))
    sound(folded.blank)
    assert not [f for f in folded.blank.findings if f.kind == "crossing"]
    inside = part.measured is Measured.INSIDE
    across = folded.panels["side 3"][0 if inside else 1, 2] - (folded.t if inside else 0)
    assert across == pytest.approx(b, abs=CLOSE)
    side2, side4 = folded.panels["side 2"], folded.panels["side 4"]
    wide = side2[0, 0] - side4[1, 0] if inside else side2[1, 0] - side4[0, 0]
    assert wide == pytest.approx(a, abs=CLOSE)
    # The tab's outside lies on the inside of the first side.
    assert folded.panels["seam tab"][0, 2] == pytest.approx(folded.t, abs=CLOSE)


def test_sleeve_blanks_of_the_trade():
    # Common practice, no source: half of a 10 1/2 × 16 sleeve, 7 1/2 high, 1" pocket, 1/4" plain
    # seam, 1" of double hem; sides of a 13 1/2 × 21 sleeve 36 long.
    inch = 25.4
    fields = {"metal": "galvanized", "thickness": "26 ga"}
    half = Sleeve(
        length=10.5 * inch,
        width=16 * inch,
        height=7.5 * inch,
        piece="half",
        hem=inch,
        hem_form="double",
    )
    assert np.array(develop(Job(part=half, **fields)).size) / inch == pytest.approx((27.75, 8.5))
    whole = {"length": 13.5 * inch, "width": 21 * inch, "height": 36 * inch}
    assert np.array(
        develop(Job(part=Sleeve(**whole, piece="plain-side"), **fields)).size
    ) / inch == pytest.approx((14, 36))
    assert np.array(
        develop(Job(part=Sleeve(**whole, piece="pocket-side"), **fields)).size
    ) / inch == pytest.approx((23, 36))


def test_seams_are_chosen():
    # 1" for S and drive edges. Common practice, no source.
    part = Sleeve(
        length=300, width=200, height=150, piece="plain-side", left_seam="s", right_seam="drive"
    )
    blank = develop(Job(part=part, metal="galvanized", thickness="26 ga"))
    assert blank.size == pytest.approx((300 + 2 * 25.4, 150))
    assert [m.kind for m in blank.marks] == ["formed"]


def test_the_hemmed_pan_of_the_trade():
    # Common practice, no source: 24 × 24 inside, 2" high after a 1/2" hem all round: blank 29 × 29,
    # wall line at 2 1/2.
    inch = 25.4
    part = HemmedTray(length=24 * inch, width=24 * inch, depth=2 * inch, hem=inch / 2)
    blank = develop(Job(part=part, metal="galvanized", thickness="24 ga"))
    assert np.array(blank.size) / inch == pytest.approx((29, 29))
    wall = next(f for f in blank.folds if f.name == "front wall")
    assert wall.start[1] / inch == pytest.approx(2.5)
    assert next(s for s in blank.sums if str(s.what) == "Blank length").total == pytest.approx(
        29 * inch
    )
    # 8" base, 3/4" walls, 3/8" safety edges: 8 + 2(3/4) + 2(3/8).
    tray = HemmedTray(
        length=8 * inch, width=8 * inch, depth=0.75 * inch, edge="rolled", hem=0.375 * inch, tab=10
    )
    assert develop(Job(part=tray, metal="galvanized", thickness="26 ga")).size[
        0
    ] / inch == pytest.approx(10.25)


@pytest.mark.parametrize("seed", range(6))
def test_cap_goes_into_its_sleeve(seed):
    rng = random.Random(seed)
    part = Cap(
        length=rng.uniform(150, 400),
        width=rng.uniform(150, 300),
        clearance=rng.uniform(3, 6),
        depth=25,
        hem=rng.choice([None, 9]),
    )
    folded = Folded(job_of(part, **sheet(rng)))
    sound(folded.blank)
    assert folded.clear("left wall", "right wall", 0, "outside") == pytest.approx(
        part.length - part.clearance, abs=CLOSE
    )
    assert folded.clear("front wall", "back wall", 1, "outside") == pytest.approx(
        part.width - part.clearance, abs=CLOSE
    )
    said = next(s for s in folded.blank.sums if str(s.what) == "Cap length, outside")
    assert said.total == pytest.approx(part.length - part.clearance) and "clearance" in {
        str(t.what) for t in said.terms
    }


@pytest.mark.parametrize("half", ["front-right", "back-left"])
@pytest.mark.parametrize("seed", range(6))
def test_reducer_meets_both_openings(half, seed):
    """The inside corners of the folded half are those of two rectangles in parallel planes, found
    from distances alone."""
    rng = random.Random(seed)
    part = ReducerHalf(
        length=rng.uniform(200, 400),
        width=rng.uniform(200, 400),
        small_length=rng.uniform(100, 190),
        small_width=rng.uniform(100, 190),
        height=rng.uniform(150, 300),
        half=half,
        edge=None,
        offset_length=rng.uniform(-40, 40),
        offset_width=rng.uniform(-40, 40),
    )
    job = job_of(part, **sheet(rng))
    folded = Folded(job)
    sound(folded.blank)
    fold = folded.blank.folds[0]
    # True length of the slanted edge by Pythagoras, and the fold line parallel to it and as long on
    # the metal.
    ring = {"front-right": (1, -1), "back-left": (-1, 1)}[half]
    shift = np.array([part.offset_length, part.offset_width, part.height])
    low = np.array([ring[0] * part.length / 2, ring[1] * part.width / 2, 0])
    high = np.array([ring[0] * part.small_length / 2, ring[1] * part.small_width / 2, 0]) + shift
    assert part.true_length() == pytest.approx(np.linalg.norm(high - low))
    assert fold.length == pytest.approx(part.true_length(), rel=0.02)
    # Angle between the two faces from their normals in space.
    one = np.cross([1, 0, 0], high - low)
    two = np.cross([0, 1, 0], high - low)
    between = np.degrees(np.arccos(abs(one @ two) / np.linalg.norm(one) / np.linalg.norm(two)))
    assert min(abs(fold.angle - between), abs(180 - fold.angle - between)) < 1e-6


@pytest.mark.parametrize("seed", range(8))
def test_jaw_cover_tabs_meet_over_the_fold(seed):
    rng = random.Random(seed)
    part = JawCover(
        length=rng.uniform(80, 200),
        first=rng.uniform(40, 80),
        second=rng.uniform(40, 80),
        angle=rng.uniform(30, 120),
        tab=rng.uniform(8, 14),
    )
    folded = Folded(job_of(part, **sheet(rng)))
    sound(folded.blank)
    assert folded.clear("left wall", "right wall", 0) == pytest.approx(part.length, abs=CLOSE)
    assert folded.angle("base", "second face") == pytest.approx(part.angle, abs=1e-6)
    assert not [f for f in folded.blank.findings if f.kind == "crossing"]
    assert folded.panels["second face right tab"][:, 0] == pytest.approx(
        folded.panels["right wall"][:, 0], abs=CLOSE
    )


@pytest.mark.parametrize("seed", range(6))
def test_the_lid_goes_over_the_base(seed):
    rng = random.Random(seed)
    fields = sheet(rng)
    length, width, height = rng.uniform(100, 250), rng.uniform(80, 200), rng.uniform(40, 90)
    base = Folded(job_of(EnclosureBase(length=length, width=width, height=height), **fields))
    sound(base.blank)
    assert base.clear("left wall", "right wall", 0, "outside") == pytest.approx(length, abs=CLOSE)
    assert base.top() + base.t == pytest.approx(height, abs=CLOSE)
    lips = np.array(
        [b for n, b in base.panels.items() if n.endswith("left lip") or n.endswith("right lip")]
    )
    assert lips[:, 1, 1].max() - lips[:, 0, 1].min() == pytest.approx(width, abs=CLOSE)
    lid = Folded(job_of(EnclosureLid(length=length, width=width + 1.0, height=height), **fields))
    assert lid.clear("front wall", "back wall", 1) - (
        lips[:, 1, 1].max() - lips[:, 0, 1].min()
    ) == pytest.approx(1.0, abs=2 * CLOSE)
    # The holes are given from the finished lip and lie there once it is bent.
    assert len(base.blank.holes) == 4


@pytest.mark.parametrize("name", DEMOS)
def test_every_line_of_a_sum_is_a_line_of_the_blank(name):
    """Fold lines and notch lines that are said from an edge lie there: measured on the developed
    blank."""
    said = 0
    for part in demo_work(name).parts:
        blank = develop(part)
        for item in blank.sums:
            if " from the " not in str(item.what) or not str(item.what).endswith(" edge"):
                continue
            side = str(item.what).split(" from the ")[-1].split()[0]
            axis = 0 if side in ("left", "right") else 1
            points = [p for f in blank.folds for p in (f.start, f.end)] + [
                p for n in blank.notches for p in n.waste.points
            ]
            points += [h.centre for h in blank.holes]
            away = [
                p[axis] if side in ("left", "front") else blank.size[axis] - p[axis] for p in points
            ]
            assert min(abs(a - item.total) for a in away) < 0.02, (part.name, item.what)
            said += 1
    assert said or name == "chimney-reducer", "slanted folds stand square to no edge"
