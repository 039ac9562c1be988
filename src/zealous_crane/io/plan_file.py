"""Blank and plan as JSON: complete enough for another program to check every stroke again.

The frame and every field are documented in docs/plan-format.md.
"""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..bending.machines import machine_of
from ..bending.stroke import Stroke
from ..flat.bend_lines import half_marks
from ..flat.blank import Blank
from ..flat.folding import pole_height
from ..flat.marking import mark_out
from ..flat.openings import hole_groups
from ..flat.ruler import Striking
from ..job.job import Job
from ..kernel.obstacle import Contact, Obstacle
from ..planning.angle_feedback import first_stop
from ..planning.plan import Plan, PlannedStroke, ToolSetup
from ..planning.setup import record, set_up_of
from .atomic import write_atomically

FORMAT = "zealous-crane-plan"
VERSION = 4


def _list(array: NDArray[np.float64]) -> list[Any]:
    rounded: list[Any] = np.round(array, 9).tolist()
    return rounded


def _finite(value: float) -> float | None:
    return round(value, 9) if math.isfinite(value) else None


def blank_record(blank: Blank, job: Job) -> dict[str, Any]:
    """The blank with its sums and marking, JSON-ready."""
    marking = mark_out(blank, job.units, Striking.of(job))
    return {
        "size": list(blank.size),
        "thickness": blank.thickness,
        "metal": blank.sheet.metal.key,
        "mass_kg": round(blank.mass, 6),
        "area": blank.area,
        "waste": blank.waste,
        "outline": {"points": _list(blank.outline.points), "bulges": _list(blank.outline.bulges)},
        "panels": [
            {"name": p.name, "polygon": _list(p.polygon), "lies_on": p.lies_on}
            | ({"rigid": [_list(piece) for piece in rigid]} if blank.pliable else {})
            for p, rigid in zip(blank.panels, blank.rigid, strict=True)
        ],
        "folds": [
            {
                "name": f.name,
                "parent": f.parent,
                "child": f.child,
                "start": _list(f.start),
                "end": _list(f.end),
                "outward": _list(f.outward),
                "angle": f.angle,
                "made_by": f.made_by.value,
                "inside_radius": f.bend.radius,
                "allowance": f.bend.allowance,
                "deduction": f.bend.deduction,
                "k_factor": f.bend.k_factor,
                "pole_height": pole_height(f.bend),
            }
            for f in blank.folds
        ],
        "notches": [
            {
                "name": n.name,
                "waste": {"points": _list(n.waste.points), "bulges": _list(n.waste.bulges)},
                "points": _list(n.points),
            }
            for n in blank.notches
        ],
        "reliefs": [
            {"name": r.name, "shape": r.shape, "size": r.size, "centre": _list(r.centre)}
            for r in blank.reliefs
        ],
        "holes": [
            {
                "name": h.name,
                "points": _list(h.path.points),
                "bulges": _list(h.path.bulges),
                "centre": _list(h.centre),
                "kind": h.kind,
                "after_bending": h.after_bending,
            }
            for h in blank.holes
        ],
        "creases": [
            {"name": c.name, "start": _list(c.start), "end": _list(c.end), "angle": c.angle}
            for c in blank.creases
        ],
        "marks": [
            {"name": m.name, "start": _list(m.start), "end": _list(m.end), "kind": m.kind}
            for m in blank.marks
        ],
        "sums": [
            {"what": str(s.what), "total": s.total, "sum": s.text(job.units), "rule": str(s.rule)}
            for s in blank.sums
        ],
        "settings": [
            {"setting": s.setting, "for": s.kind, "from": list(s.edges), "face": s.face}
            for s in marking.scribe
        ],
        "half_marks": [
            {"setting": h.setting, "expected": h.expected, "says": h.says(job.units)}
            for h in half_marks(blank, job, [s.setting for s in marking.scribe])
        ],
        "datum": job.strike_from,
        "corners": [
            recipe.record() | {"says": recipe.says(job.units, Striking.of(job))}
            for recipe in marking.corners
        ],
        "edge_notches": [
            recipe.record() | {"says": recipe.says(job.units, Striking.of(job))}
            for recipe in marking.edges
        ],
        "holes_by_tool": [
            {"size": list(group.size), "kind": group.kind, "holes": list(group.names)}
            for group in hole_groups(
                [hole for hole in blank.holes if hole.kind not in ("relief", "fold slot")]
            )
        ],
        "rows": [
            {
                "panel": row.panel,
                "by": row.by.value,
                "size": row.size,
                "hole": row.hole,
                "places": row.places.tolist(),
                "pitch": row.pitch,
                "edge_distance": row.edge,
                "grip": row.grip,
                "through": row.through or None,
                "behind": row.behind.tolist(),
                "hole_behind": row.hole_behind,
                "drilled": row.drilled.value,
                "order": list(row.order),
                "joint": row.joint,
                "says": row.says(job.units),
            }
            for row in blank.rows
        ],
        "points": [
            {"what": p.what, "along": p.along, "across": p.across, "size": p.size, "kind": p.kind}
            for p in marking.points
        ],
        "doubts": list(blank.doubts),
    }


def _obstacle(obstacle: Obstacle) -> dict[str, Any]:
    body, tool = obstacle.body, obstacle.tool
    return {
        "body": body.name or body.kind.value,
        "body_is": body.kind.value,
        "across": body.across,
        "tool": tool if isinstance(tool, str) else tool.name or tool.kind.value,
        "tool_is": "tool" if isinstance(tool, str) else tool.kind.value,
        "phase": obstacle.phase.value,
        "at": obstacle.at,
    }


def _contact(contact: Contact | None) -> dict[str, Any] | None:
    return (
        None
        if contact is None
        else {"angle": round(contact.angle, 9), **_obstacle(contact.obstacle)}
    )


def stroke_record(
    stroke: Stroke,
    sections: Sequence[tuple[float, float]],
    under: Sequence[tuple[float, float]] = (),
) -> dict[str, Any]:
    """Where part and tools stand in one stroke: what another program needs to look at it again.

    Args:
        stroke: the stroke.
        sections: where segments stand, intervals of x in mm.
        under: what the die's segments leave free, intervals of x in mm.
    """
    setting = stroke.setting
    brake = stroke.tooling.brake
    return {
        "fold": setting.fold,
        "folds": list(setting.folds),
        "clamped": setting.clamped,
        "folding": setting.folding,
        "clamped_panels": sorted(setting.clamped_panels),
        "folding_panels": sorted(setting.folding_panels),
        "swinging": sorted(setting.swinging),
        "behind": {str(panel): off for panel, off in sorted(setting.offsets.items()) if off},
        "frame": {"turn": _list(setting.frame.turn), "shift": _list(setting.frame.shift)},
        "angles_before": list(setting.angles),
        "start": setting.start,
        "pole": _list(setting.pole),
        "sections": [list(section) for section in sections],
        "greatest_angle": stroke.greatest,
        "machine": brake.kind,
        **machine_of(brake).record(stroke, under or sections),
    }


def _stroke(plan: Plan, stroke: PlannedStroke) -> dict[str, Any]:
    v = stroke.verdict
    drawn = machine_of(plan.brake).drawn_off(v.stroke, v.released, v.way)
    more: dict[str, Any] = {} if drawn is None else {"drawn_forward": drawn}
    return {
        "number": stroke.number,
        "name": stroke.name,
        "state": stroke.state.value,
        "says": stroke.sentence(),
        **stroke_record(v.stroke, stroke.sections, stroke.die_sections),
        "set_up": _rounded(
            record(set_up_of(plan, stroke))
            | {"first_stop": first_stop(stroke, set_up_of(plan, stroke))}
        ),
        "angles_after": list(v.stroke.setting.after(v.stands)),
        "target": v.target,
        "springback": {"angle": v.springback.angle, "why": str(v.springback.why)},
        "wanted": v.wanted,
        "reach": v.reach,
        "released": v.released,
        "by_hand": v.by_hand,
        "off": v.off,
        "tolerance": v.tolerance,
        "way": v.way,
        "limit": _contact(v.limit),
        "contact": _contact(stroke.contact),
        "clearance": _finite(stroke.clearance),
        "kept_clearance": v.stroke.keep,
        "free": [list(interval) for interval in v.free],
        "setup": stroke.setup,
        "tooling": str(v.tooling.says),
        **more,
    }


def _stuck(stroke: PlannedStroke) -> dict[str, Any]:
    """The stroke no order gets past: where part and tools stand, and what is met."""
    v = stroke.verdict
    return {
        "name": stroke.name,
        **stroke_record(v.stroke, stroke.sections, stroke.die_sections),
        "target": v.target,
        "wanted": v.wanted,
        "reach": v.reach,
        "way": v.way,
        "limit": _contact(v.limit),
        "blocked": None if v.blocked is None else v.blocked.text(stroke.units),
        "free": [list(interval) for interval in v.free],
        "tooling": str(v.tooling.says),
    }


def _rounded(value: Any) -> Any:
    """Figures to nine places, wherever they stand."""
    if isinstance(value, float):
        return _finite(value)
    if isinstance(value, dict):
        return {key: _rounded(item) for key, item in value.items()}
    return [_rounded(item) for item in value] if isinstance(value, list | tuple) else value


def _setup(setup: ToolSetup) -> dict[str, Any]:
    return {
        "tooling": str(setup.tooling.says),
        "blocks": [
            {"widths": list(b.widths), "gap": b.gap, "total": b.total} for b in setup.blocks
        ],
        "die_blocks": [
            {"widths": list(b.widths), "gap": b.gap, "total": b.total} for b in setup.die_blocks
        ],
        "offsets": [round(offset, 6) for offset in setup.offsets],
        "setback": setup.setback,
        "station": setup.station,
        "strokes": list(setup.strokes),
    }


def plan_record(plan: Plan) -> dict[str, Any]:
    """The whole plan, JSON-ready."""
    return {
        "format": FORMAT,
        "version": VERSION,
        "verdict": {
            "feasible": plan.feasible,
            "state": plan.state.value,
            "says": plan.sentence,
            "reasons": list(plan.reasons),
            "advice": list(plan.advice),
            "strokes_judged": plan.judged,
        },
        "job": plan.job.model_dump(mode="json"),
        "brake": plan.brake.model_dump(mode="json"),
        "blank": blank_record(plan.blank, plan.job),
        "strokes": [_stroke(plan, stroke) for stroke in plan.strokes],
        "stuck": None if plan.stuck is None else _stuck(plan.stuck),
        "setups": [_setup(setup) for setup in plan.setups],
        "hand": [
            {"after": h.after, "folds": list(h.folds), "says": h.says, "by": h.by.value}
            for h in plan.hand
        ],
    }


def write_plan(plan: Plan, path: Path) -> None:
    """Write the plan as JSON.

    Raises:
        FileError: it could not be written.
    """
    text = json.dumps(plan_record(plan), indent=1, ensure_ascii=False)
    write_atomically(Path(path), (text + "\n").encode())
