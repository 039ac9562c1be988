"""Corner recipes: followed with rule, punch and snips they give the blank; equal corners are said
once."""

from __future__ import annotations

import itertools
import math
import random

import pytest
import shapely

from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.corner_instructions import corner_recipes
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.io.plan_file import blank_record
from zealous_crane.job.job import DrawnPart, Job
from zealous_crane.part.corner import Corner, ReliefRule
from zealous_crane.part.design import Base, Design, Flange
from zealous_crane.part.edge import Edge, Hem
from zealous_crane.units.length import Units


def followed(blank):
    """The sheared rectangle with every corner cut by its recipe, at whichever corner its notch
    is."""
    length, width = blank.size
    left = shapely.box(0, 0, length, width)
    notches = [shapely.Polygon(notch.waste.flattened()) for notch in blank.notches]
    for recipe in corner_recipes(blank):
        for x, y in ((0, 0), (length, 0), (0, width), (length, width)):
            if not any(
                notches[number].distance(shapely.Point(x, y)) < 0.01 for number in recipe.notches
            ):
                continue

            def at(u, v, x=x, y=y):
                return (x + (u if x == 0 else -u), y + (v if y == 0 else -v))

            waste = shapely.Polygon([at(0, 0), *(at(u, v) for u, v in recipe.path)])
            for hole in recipe.punched:
                centre, half = shapely.Point(at(hole.u, hole.v)), hole.size / 2
                square = centre.buffer(half, cap_style="square")
                waste = waste.union(
                    square if hole.shape == "square" else centre.buffer(half, quad_segs=64)
                )
            left = left.difference(waste)
    return left


def outline(blank):
    return shapely.Polygon(blank.outline.flattened())


@pytest.mark.parametrize("seed", range(24))
def test_a_box_cut_by_its_recipe_is_the_blank(seed):
    rng = random.Random(seed)
    relief = ReliefRule(shape=rng.choice(["round", "square", "none"]))
    hems = rng.random() < 0.4
    walls = tuple(
        Flange(
            edge=edge,
            height=rng.uniform(20, 70),
            flanges=(Hem(edge="back", length=9),) if hems else (),
        )
        for edge in Edge
    )
    tree = Design(
        base=Base(length=rng.uniform(120, 300), width=rng.uniform(120, 300)),
        flanges=walls,
        corner=Corner(gap=rng.uniform(0, 2), relief=relief),
    )
    job = Job(
        name="box",
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness=f"{rng.uniform(0.5, 1.2):.2f} mm",
        units="mm",
    )
    try:
        blank = develop(job)
    except DevelopmentError:
        pytest.skip("its corners do not close")
    recipes = corner_recipes(blank)
    assert sum(len(recipe.members) for recipe in recipes) == 4
    # Chords of the drawn arcs leave them by a hair, and slivers beside a hole, thinner than a
    # scribed line, are left to the snips.
    assert (
        followed(blank).symmetric_difference(outline(blank)).area < 0.1 * len(blank.reliefs) + 0.01
    )


@pytest.mark.parametrize("name", DEMOS)
def test_corners_of_the_demonstrations_are_found_by_geometry(name):
    for job in demo_work(name).parts:
        blank = develop(job)
        recipes = corner_recipes(blank)
        numbers = [number for recipe in recipes for number in recipe.notches]
        assert len(numbers) == len(set(numbers)) and set(numbers) <= set(range(len(blank.notches)))
        assert all(len(recipe.members) == len(recipe.notches) for recipe in recipes)
        # What is said as a recipe is not told point by point as well.
        told = sum(len(recipe.notches) for recipe in mark_out(blank).corners)
        assert told < len(blank.notches) or not [
            p for p in mark_out(blank).points if p.kind == "corner"
        ]


def test_four_corners_of_a_tray_are_one_sentence():
    (recipe,) = mark_out(develop(demo_job("syrup-tray"))).corners
    assert len(recipe.members) == 4
    said = recipe.says(Units.FRACTIONS)
    # 2 1/2 fold lines; the notch lines lie a 1/32 gap beyond them; the relief is a 3/32 punch at
    # the crossing.
    assert said == (
        'Four corners alike: scribe 2 ¹⁷⁄₃₂" from both edges; punch ³⁄₃₂" where the 2 ¹⁄₂" lines '
        "cross; "
        "cut along the lines to the hole."
    )
    assert "mm" in recipe.says(Units.MM) and '"' not in recipe.says(Units.MM)


def test_a_hemmed_box_has_its_45_degrees_said():
    walls = tuple(
        Flange(edge=edge, height=40, flanges=(Hem(edge="back", length=10),)) for edge in Edge
    )
    tree = Design(base=Base(length=200, width=150), flanges=walls, corner=Corner(gap=1.0))
    blank = develop(
        Job(
            name="box",
            part=DrawnPart(tree=tree),
            metal="mild-steel",
            thickness="0.6 mm",
            units="mm",
        )
    )
    (recipe,) = mark_out(blank).corners
    assert recipe.says(Units.MM).count("cut 45° across") == 2
    for (u0, v0), (u1, v1) in zip(recipe.path, recipe.path[1:], strict=False):
        turn = math.degrees(math.atan2(abs(v1 - v0), abs(u1 - u0)))
        assert min(abs(turn - a) for a in (0, 45, 90)) < 0.3


@pytest.mark.parametrize(
    "name", ["inspection-tray", "safety-edge-tray", "comb-box", "nucleus-roof"]
)
def test_corners_no_hand_sets_in_a_few_lines_are_told_once_by_their_points(name):
    """A tapered tab with its reliefs has a dozen corners; at four corners that is said once, not
    forty times."""
    job = demo_job(name)
    blank = develop(job)
    (recipe,) = mark_out(blank).corners
    assert (
        recipe.pointed
        and len(recipe.members) == 4
        and not [p for p in mark_out(blank).points if p.kind == "corner"]
    )
    said = recipe.says(job.units)
    assert (
        said.startswith("Four corners alike: from point to point")
        and f"; {len(recipe.path)} (" in said
    )
    # What the cuts leave: the blank, but for slivers beside the punches.
    assert followed(blank).symmetric_difference(outline(blank)).area < 2.0 * max(
        1, len(blank.reliefs)
    )
    (record,) = blank_record(blank, job)["corners"]
    assert record["by_points"] and len(record["path"]) == len(recipe.path)


def test_a_single_odd_corner_is_told_point_by_point():
    """What stands at one corner alone is no recipe: its points are listed with the holes."""
    blank = develop(demo_job("wax-melter-chimney"))
    assert all(not recipe.pointed for recipe in mark_out(blank).corners)
    assert any(p.kind == "corner" for p in mark_out(blank).points)


def test_another_program_gets_the_recipe():
    job = demo_job("syrup-tray")
    (corner,) = blank_record(develop(job), job)["corners"]
    assert corner["says"].startswith("Four corners alike") and len(corner["path"]) == 3
    assert corner["from_ends"] == pytest.approx([2.53125 * 25.4], abs=0.02)


def test_notches_of_a_lip_are_said_once_with_their_places():
    blank = develop(demo_job("wax-melter-chimney"))
    said = {recipe.edges[0]: recipe.says(Units.FRACTIONS) for recipe in mark_out(blank).edges}
    # Slits between the lips, at the three folds; each ends in the punch at the crossing of the
    # lip's fold and the side's.
    assert said["back"].startswith(
        'Back edge, at 6", 10 ¹⁄₂", 16 ¹⁄₂" from its left end: a slit ¹⁄₁₆" wide'
    )
    assert said["back"].endswith('to a ³⁄₃₂" punch on the ¹⁄₂" line.')
    # A V across the hem at the same three folds, 45° a side.
    assert (
        said["front"].startswith('Front edge, at 6", 10 ¹⁄₂", 16 ¹⁄₂" from its left end: a V')
        and "45° each side" in said["front"]
    )


@pytest.mark.parametrize("name", DEMOS)
def test_a_notch_cut_by_its_recipe_takes_away_what_it_shall(name):
    """The V or slit drawn again from its figures, against the waste of the blank."""
    for job in demo_work(name).parts:
        blank = develop(job)
        for recipe in mark_out(blank).edges:
            wastes = [
                shapely.Polygon(blank.notches[number].waste.flattened())
                for number in recipe.notches
            ]
            assert len(wastes) == len(recipe.edges) * len(recipe.places)
            for edge, place in itertools.product(recipe.edges, recipe.places):
                across = {"left": 0, "right": 0, "front": 1, "back": 1}[edge]
                far = blank.size[across] if edge in ("right", "back") else 0.0
                mouth, foot = recipe.mouth / 2, recipe.foot / 2
                # The sides run off square by the angle until they are a foot apart; from there on
                # they are straight.
                turn = math.tan(math.radians(recipe.angle))
                knee = (mouth - foot) / turn if turn > 1e-3 else recipe.depth
                ring = [
                    (-mouth, 0),
                    (-foot, knee),
                    (-foot, recipe.depth),
                    (foot, recipe.depth),
                    (foot, knee),
                    (mouth, 0),
                ]
                places = [(place + t, abs(far - d)) for t, d in ring]
                cut = shapely.Polygon([p if across else p[::-1] for p in places]).buffer(0)
                waste = min(wastes, key=cut.distance)
                left = waste.difference(cut)
                # What is left is the hole's; without one there is nothing.
                allowed = math.pi * recipe.hole**2 / 4 + 0.05 if recipe.hole else 0.05
                assert left.area < allowed and cut.difference(waste).area < 0.05, (name, recipe)


@pytest.mark.parametrize("base", [(5, 3), (6, 4), (7, 6), (9, 5)])
@pytest.mark.parametrize("wall", [2, 3, 4])
@pytest.mark.parametrize("lip", ["3/8 in", "1/2 in", "5/8 in"])
def test_the_four_corners_of_a_box_with_lips_all_round_are_one_recipe(base, wall, lip):
    """Lips beside the walls reach the rectangle's edge but for rounding: their notches hung
    together by nothing, and two were lost."""
    lips = [
        {"kind": "flange", "edge": edge, "height": lip, "measured": "outside"}
        for edge in ("left", "right")
    ]
    walls = [
        {
            "kind": "flange",
            "edge": e,
            "height": f"{wall} in",
            "measured": "outside",
            "flanges": lips,
        }
        for e in ("left", "right")
    ]
    ends = [
        {"kind": "flange", "edge": edge, "height": lip, "measured": "outside"}
        for edge in ("front", "back")
    ]
    size = {"length": f"{base[0]} in", "width": f"{base[1]} in", "measured": "outside"}
    job = Job.model_validate(
        {
            "name": "chassis",
            "part": {"kind": "design", "tree": {"base": size, "flanges": [*ends, *walls]}},
            "metal": "mild-steel",
            "thickness": "0.040 in",
            "radius": "1/16 in",
        }
    )
    blank = develop(job)
    marking = mark_out(blank)
    assert (
        len(blank.notches) == 4
        and len(marking.recipes) == 1
        and len(marking.recipes[0].notches) == 4
    )
    assert marking.points == ()


@pytest.mark.parametrize("corner", ["left front", "right front", "left back", "right back"])
def test_with_a_datum_every_line_is_struck_from_its_two_edges(corner):
    blank = develop(demo_job("wax-melter-chimney"))
    plain, marking = mark_out(blank), mark_out(blank, Units.FRACTIONS, Striking(corner))
    assert {edge for setting in marking.scribe for edge in setting.edges} <= set(corner.split())
    assert len({e for s in plain.scribe for e in s.edges}) == 4, "else each from its nearest"
    assert any(f"{corner} corner on both faces" in step for step in marking.steps)
    # The running sums begin at the datum: 0 there, the whole span at the other end, and every line
    # as far as it lies.
    for row, span, far in (
        (marking.along, blank.size[0], "right"),
        (marking.across, blank.size[1], "back"),
    ):
        figures = [d.figure for d in row]
        assert (min(figures), max(figures)) == (pytest.approx(0.0), pytest.approx(span))
        assert all(d.figure == pytest.approx(span - d.at if far in corner else d.at) for d in row)
    # The same lines, wherever they are struck from.
    at = {
        round(s.setting if "left" in s.edges else blank.size[0] - s.setting, 3)
        for s in marking.scribe
        if {"left", "right"} & set(s.edges)
    }
    before = {round(d.at, 3) for d in plain.along if d.kind != "edge"}
    assert at == before
    for recipe in marking.edges:
        assert f"from its {corner.split()[0]} end" in recipe.says(Units.FRACTIONS, Striking(corner))


def test_what_a_scribe_does_not_reach_is_measured():
    marking = mark_out(
        develop(demo_job("wax-melter-chimney")), Units.FRACTIONS, Striking("left front")
    )
    long = [s for s in marking.scribe if s.setting > 6 * 25.4 + 0.01]
    assert long and all("rule and straight-edge" in s.purpose for s in long)
    assert all("straight-edge" not in s.purpose for s in marking.scribe if s not in long)


def test_holes_are_taken_tool_by_tool():
    job = demo_job("hive-scale")
    blank = develop(job)
    record = blank_record(blank, job)
    groups = record["holes_by_tool"]
    made = [hole.name for hole in blank.holes if hole.kind not in ("relief", "fold slot")]
    assert sorted(name for group in groups for name in group["holes"]) == sorted(made)
    assert [group["size"] for group in groups] == sorted(group["size"] for group in groups)
    step = next(step for step in mark_out(blank, job.units).steps if "Centre-punch" in step)
    assert all(f"{len(group['holes'])} of" in step for group in groups)
    # On the list of points the holes of one tool stand together.
    sizes = [p.size for p in mark_out(blank, job.units).points if p.kind == "hole"]
    assert sizes == sorted(sizes)
