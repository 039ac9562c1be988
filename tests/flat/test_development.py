import math

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from zealous_crane.bending.setting import Setting
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.folding import panel_poses
from zealous_crane.flat.marking import mark_out
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.metal.allowance import NeutralLine, OnTheLine
from zealous_crane.part.corner import Corner, ReliefRule, ReliefShape
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge, Measured
from zealous_crane.part.kinds.box import OpenBox
from zealous_crane.units.length import INCH, Units, parse_length

SIZES = st.tuples(st.floats(60, 900), st.floats(60, 600), st.floats(15, 150))
RELIEFS = st.sampled_from(list(ReliefShape))
SCHOOLS = st.sampled_from([OnTheLine(), NeutralLine(k=0.44), NeutralLine(k=0.3)])


def job_of(sizes, school, measured, relief, thickness=1.0, radius=None, gap=None):
    length, width, depth = sizes
    corner = Corner(relief=ReliefRule(shape=relief), gap=gap)
    part = OpenBox(length=length, width=width, depth=depth, measured=measured, corner=corner)
    return Job(
        part=part,
        metal="mild-steel",
        thickness=f"{thickness} mm",
        school=school,
        units=Units.MM,
        radius=radius,
    )


def folded(blank):
    """(lowest, highest) corner of every folded panel with its inside face, by panel name."""
    found = {}
    for panel, pose in zip(
        blank.panels, panel_poses(blank, [f.angle for f in blank.folds]), strict=True
    ):
        inside = np.column_stack([panel.polygon, np.full(len(panel.polygon), blank.thickness)])
        outside = np.column_stack([panel.polygon, np.zeros(len(panel.polygon))])
        found[panel.name] = (pose.apply(inside), pose.apply(outside))
    return found


@settings(max_examples=60)
@given(SIZES, SCHOOLS, st.sampled_from(list(Measured)), RELIEFS, st.floats(0.4, 3), st.floats(0, 4))
def test_folding_the_flat_gives_the_sizes_back(sizes, school, measured, relief, thickness, radius):
    """Measured on the folded faces, not by the development's own sums."""
    blank = develop(job_of(sizes, school, measured, relief, round(thickness, 3), radius))
    if measured is Measured.FLAT:
        # From line to line, and from a line to the edge, as a hand scribes them.
        lines = {fold.name: fold.start for fold in blank.folds}
        base = (
            lines["right wall"][0] - lines["left wall"][0],
            lines["back wall"][1] - lines["front wall"][1],
        )
        assert (*base, lines["front wall"][1]) == pytest.approx(sizes, abs=1e-6)
        return
    faces = folded(blank)
    face = 0 if measured is Measured.INSIDE else 1
    left, right = faces["left wall"][face][:, 0], faces["right wall"][face][:, 0]
    front, back = faces["front wall"][face][:, 1], faces["back wall"][face][:, 1]
    base, wall = faces["base"][face][:, 2], faces["front wall"][face][:, 2]
    assert abs(right.min() - left.max()) == pytest.approx(sizes[0], abs=1e-6)
    assert abs(back.min() - front.max()) == pytest.approx(sizes[1], abs=1e-6)
    assert wall.max() - base.min() == pytest.approx(sizes[2], abs=1e-6)


@settings(max_examples=60)
@given(SIZES, SCHOOLS, RELIEFS, st.integers(0, 3000).map(lambda n: n / 1000))
def test_blank_and_waste_fill_the_rectangle(sizes, school, relief, radius):
    blank = develop(job_of(sizes, school, Measured.INSIDE, relief, radius=radius))
    assert blank.area + blank.waste == pytest.approx(blank.size[0] * blank.size[1], rel=1e-9)
    assert blank.waste > 0


@settings(max_examples=40)
@given(SIZES, SCHOOLS, RELIEFS)
def test_the_outline_is_sound(sizes, school, relief):
    """Against shapely: a simple outline, holding every panel but what the reliefs take."""
    blank = develop(job_of(sizes, school, Measured.INSIDE, relief))
    outline = shapely.Polygon(blank.outline.flattened(math.radians(2)))
    assert outline.is_valid and outline.exterior.is_ccw
    assert outline.area == pytest.approx(blank.area, rel=2e-5)
    cut = shapely.union_all(
        [shapely.Polygon(n.waste.flattened(math.radians(2))) for n in blank.notches]
    )
    for panel in blank.panels:
        polygon = shapely.Polygon(panel.polygon)
        assert polygon.exterior.is_ccw
        assert polygon.difference(outline.buffer(1e-6)).difference(cut.buffer(1e-3)).area < 1e-3
    for one, other in ((a, b) for i, a in enumerate(blank.panels) for b in blank.panels[i + 1 :]):
        assert shapely.Polygon(one.polygon).intersection(shapely.Polygon(other.polygon)).area < 1e-9


@settings(max_examples=25)
@given(SIZES, st.floats(0.3, 3), SCHOOLS)
def test_scaling_the_job_scales_the_blank(sizes, factor, school):
    one = develop(job_of(sizes, school, Measured.OUTSIDE, ReliefShape.NONE, 1.0, 1.0, gap=1.0))
    scaled = tuple(s * factor for s in sizes)
    other = develop(
        job_of(scaled, school, Measured.OUTSIDE, ReliefShape.NONE, factor, factor, gap=factor)
    )
    assert np.allclose(
        other.outline.points, one.outline.points * factor, atol=1e-6 * max(1, factor)
    )


def test_the_open_box_by_hand(box):
    # 8 1/2 + 2 × 2 1/2 and 6 + 2 × 2 1/2, folded on the line. Common practice, no source.
    blank = develop(box("8 1/2", "6", "2 1/2"))
    assert blank.size == pytest.approx((13.5 * INCH, 11 * INCH))
    assert blank.sums[0].text(Units.FRACTIONS) == '8 1/2 + 2 × 2 1/2 = 13 1/2"'


def test_a_neutral_line_box_by_hand():
    # Outside 100 × 80 × 30, 1 mm, r 1, K 0.44: BD = 1.73805 a bend; 100 + 60 − 2·BD and 80 + 60 −
    # 2·BD. Definition of K.
    job = job_of((100, 80, 30), NeutralLine(k=0.44), Measured.OUTSIDE, ReliefShape.ROUND)
    assert develop(job).size == pytest.approx((160 - 2 * 1.738053, 140 - 2 * 1.738053), abs=1e-5)


def test_the_relief_keeps_the_rule():
    # Width at least T, depth at least r + T past the bend tangent. Common practice, no source.
    for thickness, radius in ((0.5, 0.0), (1.0, 1.0), (2.0, 3.0)):
        blank = develop(
            job_of(
                (200, 150, 40), NeutralLine(), Measured.INSIDE, ReliefShape.ROUND, thickness, radius
            )
        )
        relief, bend = blank.reliefs[0], blank.folds[0].bend
        assert relief.size >= 1.5 * thickness
        assert relief.size / 2 - bend.allowance / 2 >= radius + thickness - 1e-9


def test_with_relief_two_folds_share_no_metal():
    blank = develop(
        job_of((200, 150, 40), NeutralLine(), Measured.INSIDE, ReliefShape.SQUARE, 1.0, 2.0)
    )
    strips = []
    for fold in blank.folds:
        across = fold.outward * fold.bend.allowance / 2
        strips.append(
            shapely.Polygon(
                [fold.start - across, fold.end - across, fold.end + across, fold.start + across]
            )
        )
    for i, one in enumerate(strips):
        for other in strips[i + 1 :]:
            assert one.intersection(other).area < 1e-9
    assert any(
        "share metal" in doubt
        for doubt in develop(
            job_of((200, 150, 40), NeutralLine(), Measured.INSIDE, ReliefShape.NONE, 1.0, 2.0)
        ).doubts
    )


@pytest.mark.parametrize(
    ("sizes", "fields", "said"),
    [
        ((200, 150, 1.5), {"radius": 2}, "leaves no flat"),
        ((3, 150, 20), {"radius": 2}, "length of 3 mm leaves no flat"),
        ((200, 150, 20), {"gap": -1}, "less than nothing"),
    ],
)
def test_a_part_that_cannot_lie_flat_says_which_size(sizes, fields, said):
    with pytest.raises(DevelopmentError, match=said):
        develop(job_of(sizes, NeutralLine(), Measured.INSIDE, ReliefShape.ROUND, **fields))


def test_a_relief_too_small_or_too_large_is_answered(box):
    with pytest.raises(DevelopmentError, match="does not reach"):
        develop(box(relief=ReliefRule(size=0.2)))
    with pytest.raises(DevelopmentError, match="right through"):
        develop(box(relief=ReliefRule(size=200)))


def test_scribe_settings_and_running_dimensions(box):
    marking = mark_out(develop(box("14 1/2", "10 1/4", "2 1/2")))
    settings_ = [(s.setting, s.kind, len(s.edges)) for s in marking.scribe]
    assert settings_ == [
        (pytest.approx(2.5 * INCH), "fold", 4),
        (pytest.approx(parse_length("2 17/32")), "cut", 4),
    ]
    assert [s.shown(Units.FRACTIONS) for s in marking.scribe] == ['2 ¹⁄₂"', '2 ¹⁷⁄₃₂"']
    assert {(s.purpose, s.struck_from) for s in marking.scribe} == {
        ("fold lines", "all four edges"),
        ("notches", "all four edges"),
    }
    assert [d.at / INCH for d in marking.along] == pytest.approx(
        [0, 2.5, 2 + 17 / 32, 17 - 1 / 32, 17, 19.5]
    )
    assert [d.at for d in marking.across] == sorted(d.at for d in marking.across)


def test_a_lip_is_laid_out_past_its_wall():
    lip = Flange(edge=Edge.BACK, height=10)
    design = Design(
        base=Base(length=100, width=80),
        flanges=(Flange(edge=Edge.RIGHT, height=30, flanges=(lip,)),),
    )
    blank = develop(
        Job(part=DrawnPart(tree=design), metal="mild-steel", thickness="0.8 mm", units="mm")
    )
    assert blank.size == pytest.approx((140, 80))
    assert [f.parent for f in blank.folds] == [0, 1]
    inside, _ = folded(blank)["right lip"]
    # The lip comes back over the base: inside height 30 above its face, reaching 10 in from the
    # wall's inside face.
    assert inside[:, 2].min() - blank.thickness == pytest.approx(30, abs=1e-9)
    assert inside[:, 0].max() - inside[:, 0].min() == pytest.approx(10)


def test_the_clamped_side_lies_on_the_bed_in_the_stroke_frame(box):
    blank = develop(box())
    for fold in range(4):
        for clamps_parent in (True, False):
            setting = Setting(blank, fold, clamps_parent, (0.0,) * 4)
            rest, swing = setting.solids
            assert min(s.corners[:, 2].min() for s in rest) == pytest.approx(0)
            assert max(s.corners[:, 2].max() for s in rest) == pytest.approx(blank.thickness)
            assert (
                min(s.corners[:, 1].min() for s in rest)
                >= -1e-9
                >= max(s.corners[:, 1].max() for s in swing) - 1e-6
            )


def test_a_setting_between_two_ticks_says_so():
    from zealous_crane.flat.marking import ScribeSetting

    assert ScribeSetting(42.213, "cut", ("left",)).shown(Units.MM) == "≈42.2 mm"
    assert ScribeSetting(42.2, "cut", ("left", "right")).shown(Units.MM) == "42.2 mm"
    assert ScribeSetting(42.2, "cut", ("left", "right")).struck_from == "left, right edge"
    assert ScribeSetting(42.2, "cut", ("left",)).shown(Units.FRACTIONS).startswith("≈1 ")


@pytest.mark.parametrize("school", ["on-the-line", "neutral-line", "inside-gain", "din-6935"])
@pytest.mark.parametrize("form", ["closed", "open", "teardrop", "double"])
def test_a_flat_size_runs_from_line_to_line_between_hems_too(school, form):
    """29" typed is 29" between the scribed lines, whatever hem stands on either side."""
    hems = [
        {"kind": "hem", "edge": edge, "form": form, "length": "1/2 in"}
        for edge in ("left", "right")
    ]
    job = Job.model_validate(
        {
            "name": "skin",
            "metal": "galvanized",
            "thickness": "24 ga",
            "school": {"school": school},
            "part": {
                "kind": "design",
                "tree": {
                    "base": {"length": "29 in", "width": "10 in", "measured": "flat"},
                    "flanges": hems,
                },
            },
        }
    )
    blank = develop(job)
    first = [
        min(f.start[0] for f in blank.folds if "left" in f.name),
        max(f.start[0] for f in blank.folds if "right" in f.name),
    ]
    if form == "double":
        # The line that is nearer the base is the hem's own.
        first = [
            max(f.start[0] for f in blank.folds if "left" in f.name),
            min(f.start[0] for f in blank.folds if "right" in f.name),
        ]
    assert first[1] - first[0] == pytest.approx(29 * 25.4, abs=1e-6)


@pytest.mark.parametrize("thickness", ["26 ga", "22 ga", "16 ga"])
def test_a_flange_turned_out_has_its_line_at_one_place_as_sleeve_and_as_duct(thickness):
    common = {
        "metal": "galvanized",
        "thickness": thickness,
        "school": {"school": "neutral-line", "k": 0.42},
    }
    sleeve = develop(
        Job.model_validate(
            {
                "name": "s",
                **common,
                "part": {
                    "kind": "sleeve",
                    "length": "10 in",
                    "width": "8 in",
                    "height": "12 in",
                    "piece": "plain-side",
                    "lip": "out",
                },
            }
        )
    )
    duct = develop(
        Job.model_validate(
            {
                "name": "d",
                **common,
                "part": {
                    "kind": "duct-side",
                    "side": "front",
                    "length": "10 in",
                    "width": "8 in",
                    "small_length": "10 in",
                    "small_width": "8 in",
                    "height": "12 in",
                    "first_end": "raw",
                    "second_end": "flange",
                    "flange": "1/2 in",
                },
            }
        )
    )
    lip = next(fold for fold in sleeve.folds if "lip" in fold.name)
    flange = next(fold for fold in duct.folds if "flange" in fold.name)
    far = [blank.size[1] - fold.start[1] for blank, fold in ((sleeve, lip), (duct, flange))]
    assert far == pytest.approx([12.7, 12.7], abs=1e-6)
