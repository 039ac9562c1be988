"""Every demonstration and case in figures: what is cut, scribed and set. A change of the file is a
change of what a person reads at the machine, and is explained where it is committed.

`python -m pytest tests/planning/test_goldens.py` writes what it found beside the file when they
differ; take it over once every line of the difference is understood.
"""

from pathlib import Path

import pytest

from shared_plans import plan_of
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.bend_lines import half_marks
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.inspection import Inspection
from zealous_crane.io.job_file import read_work
from zealous_crane.planning.setup import set_up_of

HERE = Path(__file__).parents[1]
GOLDENS = HERE / "goldens.txt"
RACK = shipped_rack()


def figures(job, brake):
    """Lines of one part: the flat, the scribe, the strokes, the sizes to measure. Lengths in mm,
    angles in degrees."""
    try:
        plan = plan_of(job, brake)
    except DevelopmentError as error:
        return [f"  cannot be laid flat: {error}"]
    blank = plan.blank
    length, width = blank.sheared
    found = [
        f"  blank {length:.3f} x {width:.3f}, metal "
        f"{blank.outline.area - sum(abs(h.path.area) for h in blank.holes):.1f} mm2,"
        f" {len(blank.outline.points)} edges, {len(blank.holes)} holes, {blank.mass * 1000:.1f} g"
    ]
    marking = mark_out(blank, job.units, Striking.of(job))
    found += [f"  scribe {s.setting:.3f} {s.purpose}, from {s.struck_from}" for s in marking.scribe]
    found += [f"  corner {recipe.says(job.units, Striking.of(job))}" for recipe in marking.recipes]
    found += [
        f"  rounded {mark.says(job.units)}"
        for mark in half_marks(blank, job, [s.setting for s in marking.scribe])
    ]
    found.append(f"  {plan.sentence}")
    for stroke in plan.strokes:
        set_up = set_up_of(plan, stroke)
        sections = " ".join(
            f"{a:.2f}..{b:.2f}" for a, b in (*set_up.sections, *set_up.die_sections)
        )
        gauge = (
            f", stop at {set_up.gauge.distance:.3f} against {set_up.gauge.against}"
            if set_up.gauge.against
            else ", sighted"
        )
        by_hand = f", {stroke.verdict.by_hand:.2f} by hand" if stroke.verdict.by_hand else ""
        draw = f", draw {set_up.hand_work.draw:.2f}" if set_up.hand_work.draw else ""
        found.append(
            f"  {stroke.number} {stroke.name}: machine {set_up.machine_stop:.2f}, sheet "
            f"{set_up.stop_angle:.2f},"
            f" out {set_up.released:.2f}, greatest {set_up.greatest:.2f}{gauge}{by_hand}{draw}; "
            f"sections {sections}"
        )
        force = getattr(set_up.machine, "force", None)
        if force is not None:
            found.append(f"    force {force.total:.2f} kN")
    found += [
        f"  measure {line.measure.says}: {line.wanted:.3f} +- {line.allowed:.3f}"
        for line in Inspection(job, blank).lines[:8]
    ]
    return found


def parts():
    for name in DEMOS:
        for number, job in enumerate(demo_work(name).parts, start=1):
            yield f"{name} {number}", job
    for path in sorted((HERE / "cases").glob("*.json")):
        for number, job in enumerate(read_work(path).parts, start=1):
            yield f"{path.stem} {number}", job


def test_every_figure_is_as_it_was(tmp_path):
    found = []
    for title, job in parts():
        brake = RACK.find(job.brake)
        if brake is not None:
            found += [f"{title}: {job.name}, on {brake.key}", *figures(job, brake), ""]
    text = "\n".join(found)
    if GOLDENS.exists() and GOLDENS.read_text(encoding="utf-8") == text:
        return
    beside = tmp_path / "goldens.txt"
    beside.write_text(text, encoding="utf-8")
    old = GOLDENS.read_text(encoding="utf-8").splitlines() if GOLDENS.exists() else []
    changed = [line for line in found if line not in old][:12]
    pytest.fail(f"figures changed; the new ones are in {beside}:\n" + "\n".join(changed))
