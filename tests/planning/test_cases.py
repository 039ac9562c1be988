"""Jobs a shop brings: each ends in the verdict a shop expects, with figures that were set against
something else."""

from __future__ import annotations

import dataclasses
import functools
import itertools
import math
import tempfile
from pathlib import Path

import pytest

from bent_again import bent_again
from rebuilt import Part, share
from shared_plans import plan_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.io.dxf_read import read_drawing
from zealous_crane.io.dxf_write import write_dxf
from zealous_crane.io.job_file import read_job
from zealous_crane.io.plan_file import plan_record
from zealous_crane.job.job import FlatPart, Job
from zealous_crane.metal.material import MATERIALS
from zealous_crane.metal.sheet import Sheet
from zealous_crane.part.design import Base
from zealous_crane.part.kinds.strip import Strip
from zealous_crane.planning.gauging import GaugeBy, gauge_stops, settings_of
from zealous_crane.planning.outcome import Outcome
from zealous_crane.planning.planner import make_plan
from zealous_crane.planning.remedies.registry import advise
from zealous_crane.planning.remedies.sizes import least_sizes
from zealous_crane.planning.route import Moves
from zealous_crane.planning.setup import set_up_of

CASES = Path(__file__).parents[1] / "cases"
RACK = shipped_rack()


def case(name):
    return read_job(CASES / f"{name}.json")


def on(job, key):
    return job.model_copy(update={"brake": key})


# --- metal across the bend line -----------------------------------------------------------------


def test_a_base_that_runs_on_past_the_line_is_met_and_named_and_cured():
    job = case("L-beside-the-fold")
    plan = advise(make_plan(job, RACK[job.brake]), RACK)
    assert (
        not plan.feasible
        and "the base, reaching across the bend line, meets the leaf" in plan.sentence
    )
    assert any("Honey House press" in cure for cure in plan.advice), (
        "a die shorter than the notch is wide"
    )
    # Where the leg hangs past the end of the bed, the leaf does not reach it.
    apiary = make_plan(on(job, "apiary-finger-50"), RACK["apiary-finger-50"])
    assert apiary.feasible and apiary.setups[0].tooling.end != 0
    press = make_plan(on(job, "honey-press-2000"), RACK["honey-press-2000"])
    (stroke,) = press.strokes
    # The leg ends 6 mm beside the fold, which is 120 mm long; which way the part is turned is the
    # plan's choice. The leg goes down with the base it belongs to, away from the punch and into the
    # die.
    ends = [x for piece in stroke.die_sections for x in piece]
    assert min(ends) > -66 + 0.4 or max(ends) < 66 - 0.4, "the die stops short of the leg"


def test_ears_that_reach_back_are_met():
    job = case("ears-beside-the-fold")
    plan = plan_of(job, RACK[job.brake])
    assert not plan.feasible and "reaching across the bend line, meets the bed" in plan.sentence


def test_a_wall_that_lies_across_anothers_line_keeps_punch_and_die_short():
    job = case("two-walls-one-line-press")
    plan = plan_of(job, RACK[job.brake])
    assert plan.feasible
    # Bent again in solids: neither wall lies in punch or die while the other is bent.
    strokes, wrong = bent_again(plan)
    assert strokes == 2 and not wrong, wrong


def test_a_plain_box_on_a_press_is_everyday_work():
    for thickness in ("1 mm", "2 mm", "3 mm"):
        job = case("plain-box-press").model_copy(update={"thickness": thickness})
        plan = plan_of(job, RACK[job.brake])
        assert plan.complete and len(plan.strokes) == 4, (thickness, plan.sentence)
        assert all(s.verdict.wanted == pytest.approx(91.0, abs=0.4) for s in plan.strokes), (
            "1° over, not a leaf brake's 5°"
        )


def test_a_hemmed_pan_with_folded_corners_ends_in_a_verdict():
    job = case("hemmed-folded-roof")
    plan = plan_of(job, RACK[job.brake])
    assert plan.sentence.endswith(".") and (plan.feasible or plan.reasons)


# --- one place for the blocks of a set-up -------------------------------------------------------


@pytest.mark.parametrize(
    "name", ["frame-rail", "hive-scale", "inspection-tray", "deep-feeder", "vise-jaw-cover"]
)
def test_pieces_keep_their_places_within_a_set_up(name):
    for part in demo_work(name).parts:
        plan = plan_of(part, RACK[part.brake])
        for number, setup in enumerate(plan.setups):
            strokes = [s for s in plan.strokes if s.setup == number]
            assert [s.number for s in strokes] == list(setup.strokes)
            for one, other in itertools.pairwise(strokes):
                for mine, theirs in (
                    (one.sections, other.sections),
                    (one.die_sections, other.die_sections),
                ):
                    shift = {round(b[0] - a[0], 6) for a, b in zip(mine, theirs, strict=True)}
                    assert len(shift) <= 1, "the part is moved along, the pieces are not"
                if one.die_sections:
                    assert other.die_sections[0][0] - one.die_sections[0][0] == pytest.approx(
                        other.sections[0][0] - one.sections[0][0]
                    )
            setbacks = {round(s.verdict.stroke.setback, 2) for s in strokes}
            assert setbacks == {round(setup.setback, 2)}, "the nose is set once for a set-up"


def test_leaf_and_sheet_do_not_overlap_beyond_what_is_stated():
    from zealous_crane.brake.cross_section import LEAF_GIVES

    seen = 0
    for name in ("inspection-tray", "safety-edge-tray", "hive-roof", "extractor-guard"):
        for part in demo_work(name).parts:
            for stroke in plan_of(part, RACK[part.brake]).strokes:
                engine = stroke.verdict.stroke
                hinge, pole = engine.tools.hinge, engine.setting.pole
                t = engine.setting.blank.thickness
                for degrees in (60, 90, 100, stroke.verdict.reach):
                    a = math.radians(min(degrees, stroke.verdict.reach))
                    # Distance of the pole from the leaf's face, against that of the pole from the
                    # sheet's outside.
                    away = (pole[0] - hinge[0]) * math.sin(a) + (pole[1] - hinge[1]) * math.cos(a)
                    assert away >= pole[1] - LEAF_GIVES * t - 1e-9, (name, stroke.name, degrees)
                    seen += 1
    assert seen > 40


# --- figures ------------------------------------------------------------------------------------


def test_the_stop_stands_against_the_outside_of_the_standing_leg():
    # Channel 45/70/45, T 2, r 2, K 0.44: 70 outside, so the stop stands 70 less half the deduction
    # behind the line; by hand.
    job = case("channel-gauge")
    plan = plan_of(job, RACK[job.brake])
    bend = plan.strokes[1].verdict.stroke.setting.line.bend
    stop = gauge_stops(plan)[1]
    assert stop.leg and stop.distance == pytest.approx(
        70 - bend.deduction / 2, abs=0.01
    ) == pytest.approx(68.26, abs=0.005)
    sighted = job.model_copy(
        update={"gauging": "lines", "gauge_at": {plan.strokes[0].name: "near"}}
    )
    stops = gauge_stops(make_plan(sighted, RACK[job.brake]))
    assert [s.sighted for s in stops] == [False, True], (
        "the way of gauging is chosen for the job and for single strokes"
    )
    assert GaugeBy("near") is GaugeBy.NEAR


def test_a_lip_that_hangs_over_the_stop_does_not_count():
    from zealous_crane.job.job import DrawnPart, Job
    from zealous_crane.part.design import Design, Flange

    lip = Flange(edge="back", height=15, angle=-90)
    tree = Design(
        base=Base(length=120, width=80),
        flanges=(Flange(edge="back", height=40, flanges=(lip,)), Flange(edge="front", height=30)),
    )
    job = Job(
        part=DrawnPart(tree=tree),
        metal="mild-steel",
        thickness="1 mm",
        units="mm",
        brake="honey-press-2000",
    )
    plan = plan_of(job, RACK["honey-press-2000"])
    last = next(s for s in plan.strokes if s.name == "front wall")
    made = {s.name for s in plan.strokes if s.number < last.number}
    if {"back wall", "back lip"} <= made and last.verdict.stroke.setting.clamps_parent:
        stop = gauge_stops(plan)[last.number - 1]
        bend = last.verdict.stroke.setting.line.bend
        assert stop.distance < 80 + 1 + 2 * bend.thickness + 2, (
            "the lip reaches 15 mm farther back, above the stop"
        )


def test_the_plan_file_carries_every_figure_and_the_cards_show_these():
    from zealous_crane.planning.setup import set_up_facts

    for name in ("channel-gauge", "deep-box-short-stop"):
        job = case(name)
        plan = plan_of(job, RACK[job.brake])
        for stroke, written in zip(plan.strokes, plan_record(plan)["strokes"], strict=True):
            found, facts = (
                set_up_of(plan, stroke),
                {f.label: f.value for f in set_up_facts(plan, stroke)},
            )
            figures = written["set_up"]
            assert figures["stop_angle"] == pytest.approx(found.stop_angle) and figures[
                "released"
            ] == pytest.approx(found.released)
            wanted = {"stop_angle", "released", "gauge", "over_bend", "sections", "die_sections"}
            press = {"punch_travel", "force", "least_leg"}
            assert wanted | (press if plan.brake.kind == "press" else {"setback"}) <= set(figures)
            angle = facts["Bend to"] if plan.brake.kind == "press" else facts["Stop the leaf at"]
            assert angle.startswith(f"{found.stop_angle:.1f}".rstrip("0").rstrip(".") + "°")
            assert f"{found.stop_angle:.1f}".rstrip("0").rstrip(".") in stroke.sentence(), (
                "one stop, said once"
            )


def test_no_hand_step_below_the_tolerance():
    job = case("narrow-reversed-legs")
    plan = make_plan(job, RACK[job.brake])
    assert all("0°" not in step.says and "0.1°" not in step.says for step in plan.hand)
    deep = case("deep-box-short-stop")
    loose = make_plan(deep.model_copy(update={"tolerance": 3.0}), RACK[deep.brake])
    assert loose.complete and not loose.hand and "within ±3°" in loose.sentence
    assert (
        "short, within ±3°" in loose.strokes[-1].sentence()
        and loose.strokes[-1].verdict.by_hand == 0
    )
    strict = make_plan(deep.model_copy(update={"tolerance": 0.5}), RACK[deep.brake])
    assert strict.state is Outcome.CARE and strict.strokes[-1].verdict.by_hand == pytest.approx(
        2.5, abs=0.05
    )


def test_ninety_percent_of_a_rating_is_taken_care_of():
    job = case("channel-gauge")
    press = RACK[job.brake]
    plain = make_plan(job, press)
    force = set_up_of(plain, plain.strokes[0]).machine.force
    assert plain.strokes[0].state is Outcome.WORKS and force.share < 0.9
    weak = press.model_copy(update={"force": force.total / 0.95})
    plan = make_plan(job, weak)
    assert plan.strokes[0].state is Outcome.CARE and any(
        "% of a rating" in reason for reason in plan.reasons
    )


# --- every kind, every brake, both ways ---------------------------------------------------------

PARTS = [(f"{name}-{i}", part) for name in DEMOS for i, part in enumerate(demo_work(name).parts)]
QUICK = {"leaf": 15, "press": 4}
"""Strokes judged, by the kind of machine: enough to come through every piece of code; whether there
is an order is not asked here."""


@functools.cache
def drawn_again(name):
    """The flat of a part as it is read from the drawing that was written of it."""
    job = dict(PARTS)[name]
    with tempfile.TemporaryDirectory() as home:
        write_dxf(develop(job), Path(home, "flat.dxf"))
        return FlatPart(flat=read_drawing(Path(home, "flat.dxf")).flat)


# The brakes of a part follow each other, in the same process as a rule: its flat is read once.
@pytest.mark.parametrize("brake", [brake.key for brake in RACK.brakes])
@pytest.mark.parametrize(("name", "part"), PARTS, ids=[name for name, _ in PARTS])
def test_every_kind_and_its_flat_read_again_end_in_a_verdict_on_every_brake(name, part, brake):
    job = on(part, brake)
    quick = {"limit": QUICK["leaf" if "finger" in brake else "press"], "moves": Moves()}
    plan = make_plan(job, RACK[brake], **quick)
    assert plan.sentence.endswith(".") and (
        plan.feasible or plan.open or plan.reasons or plan.stuck is None
    )
    try:
        flat = make_plan(job.model_copy(update={"part": drawn_again(name)}), RACK[brake], **quick)
    except DevelopmentError as error:
        assert str(error).endswith("."), error
        return
    assert flat.sentence.endswith(".")


def test_a_drawn_flat_that_cannot_be_made_gets_advice():
    job = case("L-beside-the-fold")
    plan = plan_of(job, RACK[job.brake])
    assert not plan.feasible and dataclasses.replace(plan).stuck is not None
    assert advise(plan, RACK).cures


def test_a_relief_is_a_cure_for_what_lies_flat_beside_the_line():
    job = read_job(CASES / "two-walls-one-line-press.json").model_copy(
        update={"brake": "bench-finger-1000"}
    )
    rack = shipped_rack()
    plan = make_plan(job, rack["bench-finger-1000"])
    assert not plan.feasible and "meets the leaf" in plan.sentence
    cure = next(c for c in advise(plan, rack).cures if "relief" in str(c.says))
    assert make_plan(cure.job, rack["bench-finger-1000"]).feasible
    # Nothing but the ends of one wall was cut.
    before, after = (j.part.design(j.sheet.thickness) for j in (job, cure.job))
    assert [f.height for f in before.flanges] == [f.height for f in after.flanges]
    assert sum(f.left is not None for f in after.flanges) == 1


# --- sizes that limit ---------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("part", "brake", "thickness", "said"),
    [
        # A reversed leg needs the leaf's bar, 16 or 12.7 mm, and the nose's setback between the two
        # bends.
        (
            Strip(legs=(8, 10, 30), angles=(90, -90), length=200),
            "bench-finger-1000",
            "1 mm",
            "Leg 2: 10 mm is 8 mm too small; at 18 mm",
        ),
        (
            Strip(legs=(18, 8, 40), angles=(90, -90), length=200),
            "apiary-finger-50",
            "1 mm",
            "Leg 2: 8 mm is 8 mm too small; at 16 mm",
        ),
        # Both legs are too short for any V of the rack: neither alone would do.
        (
            Strip(legs=(10, 40, 10), angles=(90, 90), length=200),
            "honey-press-2000",
            "3 mm",
            "Leg 1 and Leg 3: 10 mm is 2.5 mm too small; at 12.5 mm",
        ),
    ],
)
def test_a_size_that_limits_is_named_with_the_nearest_that_works(part, brake, thickness, said):
    job = Job(part=part, brake=brake, thickness=thickness, units="mm", metal="mild-steel")
    plan = advise(make_plan(job, RACK[brake]), RACK)
    cure = next(c for c in plan.cures if said in c.says)
    assert not plan.feasible and make_plan(cure.job, RACK[brake]).feasible
    # One tick nearer to what was wanted does not work: it is the nearest.
    new, old = cure.job.part.legs, part.legs
    nearer = tuple(
        n if n == o else n + (0.5 if o > n else -0.5) for n, o in zip(new, old, strict=True)
    )
    again = cure.job.model_copy(update={"part": part.model_copy(update={"legs": nearer})})
    assert not make_plan(again, RACK[brake]).feasible


def test_lips_of_a_cap_are_turned_last_with_a_hand_seamer():
    (job,) = (part for part in demo_work("wax-melter-chimney").parts if part.name == "Chimney cap")
    plan = plan_of(job, RACK[job.brake])
    assert plan.feasible and len(plan.strokes) == 8
    last = plan.hand[-1]
    assert (
        last.by == "hand-seamer"
        and last.after == 8
        and len(last.folds) == 4
        and '1/2" deep' in last.says
    )
    strokes, wrong = bent_again(plan)
    assert strokes == 8 and not wrong, wrong
    # Too thick for the jaws it is refused as before.
    thick = job.model_copy(update={"thickness": "18 ga"})
    assert not any(step.by == "hand-seamer" for step in make_plan(thick, RACK[job.brake]).hand)


@pytest.mark.parametrize("name", ["half-sleeve-double-hem", "half-sleeve-single-hem"])
def test_half_sleeves_with_hems_are_made(name):
    plan = plan_of(case(name), RACK[case(name).brake])
    assert plan.feasible, plan.sentence
    _, wrong = bent_again(plan)
    assert not wrong, wrong


def test_a_sharp_skin_is_closed_over_a_lath():
    plan = plan_of(case("thin-skin-sharp"), RACK["apiary-finger-50"])
    assert (
        plan.feasible
        and "over a lath on the table" in plan.hand[-1].says
        and plan.strokes[-1].name == "leg 5"
    )
    # Half a millimetre of the same metal is past it.
    thicker = case("thin-skin-sharp").model_copy(update={"thickness": "0.9 mm"})
    assert not any(step.by == "lath" for step in make_plan(thicker, RACK["apiary-finger-50"]).hand)


def test_what_a_protractor_cannot_tell_is_no_work_for_the_hand():
    plan = make_plan(case("three-sides-slanted"), RACK["apiary-finger-50"])
    assert plan.complete and not plan.hand and "within ±1°" in plan.sentence


# --- cures --------------------------------------------------------------------------------------


def test_a_hem_that_keeps_a_flange_from_the_brake_is_made_narrower():
    """A half inch hem on a flange turned out leaves it to the hand seamer; a sixteenth less, and
    the brake turns it."""
    job = case("half-sleeve-flange-out")
    plan = advise(make_plan(job, RACK[job.brake]), RACK)
    assert plan.by_seamer and not plan.complete
    cure = next(c for c in plan.cures if "hem" in str(c.says))
    assert 'at 7/16"' in cure.says and "nothing is left to finish by hand" in cure.says
    cured = make_plan(cure.job, RACK[job.brake])
    assert cured.complete and not cured.by_seamer and not cured.hand


def test_a_kind_that_asks_for_no_corner_is_offered_the_gap_its_own_tree_has():
    job = case("small-tray-tabs-outside")
    plan = advise(make_plan(job, RACK[job.brake]), RACK)
    assert plan.feasible and not plan.complete
    cure = next(c for c in plan.cures if "corner gap" in str(c.says))
    assert '1/16"' in cure.says and make_plan(cure.job, RACK[job.brake]).complete
    # Nothing else of the part was changed.
    before, after = (j.part.design(j.sheet.thickness) for j in (job, cure.job))
    assert (
        after.corner.gap == pytest.approx(25.4 / 16)
        and after.model_copy(update={"corner": before.corner}) == before
    )


@pytest.mark.parametrize(
    "name", ["comb-box", "deep-feeder", "hive-scale", "safety-edge-tray", "vise-jaw-cover"]
)
def test_what_a_cure_promises_is_held_by_the_plan_of_its_job(name):
    """Work by hand is what is cured here, and the first order that goes without is taken as proof:
    the plan must take such a one too."""
    job = demo_work(name).parts[0]
    plan = advise(make_plan(job, RACK[job.brake]), RACK)
    assert plan.feasible and not plan.complete and plan.cures
    for cure in plan.cures:
        assert make_plan(cure.job, cure.brake or plan.brake).complete, cure.says


@pytest.mark.parametrize("key", ["apiary-finger-50", "bench-finger-1000", "honey-press-2000"])
def test_the_least_return_is_where_the_engine_turns_from_no_to_yes(key):
    sheet = Sheet.read(MATERIALS["galvanized"], "24 ga")
    found = next(one for one in least_sizes(RACK[key], sheet) if str(one.what).startswith("return"))
    lip = 12.7 if RACK[key].marked_in.is_inch else 12.0

    def plan(web):
        strip = Strip(legs=(lip, web, 8 * lip), angles=(90, 90), length=8 * lip, measured="outside")
        return make_plan(
            Job(part=strip, metal="galvanized", thickness="24 ga", units="mm", brake=key), RACK[key]
        )

    assert plan(found.size + 0.1).feasible and plan(found.size + 20).complete
    assert not plan(found.size - 0.5).complete, "narrower it does not go, or is left to the hand"


def test_a_chassis_takes_two_settings_of_the_stop_where_the_fewest_are_asked_for():
    """Edge to the stop: the lips from their own edges, the walls from theirs, all edges the shear
    left. Common practice, no source."""
    job = case("chassis-lips-all-round")
    # The press has no stop of its own in the rack; a shop that has one says how far it reaches.
    press = RACK[job.brake].model_copy(update={"gauge_reach": 400.0})
    usual, few = (make_plan(job.model_copy(update={"gauging": by}), press) for by in (None, "few"))
    assert settings_of(gauge_stops(usual)) > 2
    stops = gauge_stops(few)
    assert settings_of(stops) == 2 and all(stop.true and not stop.moved_by for stop in stops)
    # Outside sizes less what the bend takes: from the edge to the line of a half inch lip, of a
    # four inch wall.
    lip, wall = sorted({round(float(stop.distance), 2) for stop in stops})
    for stroke, stop in zip(few.strokes, stops, strict=True):
        fold = stroke.verdict.stroke.setting.line
        child = few.blank.panels[fold.child].polygon
        assert float(stop.distance) == pytest.approx(
            float(((child - fold.start) @ fold.outward).max()), abs=0.02
        )
    assert lip < 12.7 and 95 < wall < 101.6
    hand = [sum(stroke.verdict.by_hand for stroke in plan.strokes) for plan in (usual, few)]
    assert hand[1] <= hand[0] + 0.05


def test_ends_that_run_through_each_other_are_cut_back_by_as_little_as_will_do():
    """A lip and the wall beside it lie in one place by a millimetre: cut back half of one at both
    ends they do not, and solids agree."""
    job = case("lip-over-a-gap")
    plan = advise(make_plan(job, RACK[job.brake]), RACK)
    assert not plan.feasible and "runs through itself" in plan.sentence
    cure = next(c for c in plan.cures if "cut back by" in str(c.says))
    cured = make_plan(cure.job, RACK[job.brake])
    assert cured.feasible
    rooms = []
    for one in (plan, cured):
        blank = plan_record(one)["blank"]
        part = Part(blank, [fold["angle"] for fold in blank["folds"]], 0)
        at = {panel["name"]: i for i, panel in enumerate(blank["panels"])}
        rooms.append(share(part.panel(at["front wall"]), part.panel(at["left lip"])))
    assert rooms[0] > 0.05 and rooms[1] < rooms[0] / 20
