"""The folded part: folded in bending order, cut through, measured, turned without being worked out
anew."""

import itertools

import numpy as np
import pytest
import shapely
from hands import choose, planned
from pictured import depth_at
from PySide6.QtCore import Qt

from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.paint import depth
from zealous_crane.paint.depth import DepthTree
from zealous_crane.paint.folded import (
    CutPlane,
    cut_away,
    faces_at,
    folded_at,
    folded_faces,
    view_axes,
)
from zealous_crane.paint.sizes import sizes_of
from zealous_crane.ui.widgets.folded_view import STEPS


def area(face):
    """mm² of a flat face, by its corners in its own plane (shapely)."""
    along = face.points[1] - face.points[0]
    along = along / np.linalg.norm(along)
    spread = face.points - face.points[0]
    return shapely.Polygon(
        np.column_stack([spread @ along, spread @ np.cross(face.normal, along)])
    ).area


def test_the_slider_folds_in_the_order_it_is_bent(qtbot, window):
    planned(qtbot, window.session)
    window.show_stage("shape")
    view = window.stages["shape"].folded
    strokes = window.session.plan.strokes
    view.slider.setFocus()
    qtbot.keyClick(view.slider, Qt.Key.Key_Home)
    assert not any(view.angles) and view.says == ""
    # A page is a tenth: after seven the first two of four walls stand, the third is under way, the
    # fourth lies.
    for _ in range(7):
        qtbot.keyClick(view.slider, Qt.Key.Key_PageUp)
    order = [next(iter(stroke.verdict.stroke.setting.folds)) for stroke in strokes]
    stands = [view.angles[fold] for fold in order]
    assert stands[:2] == [90, 90] and 0 < stands[2] < 90 and stands[3] == 0
    assert view.says == f"3 of 4: {strokes[2].name}" == view.slider.accessibleDescription()
    qtbot.keyClick(view.slider, Qt.Key.Key_End)
    assert view.angles == tuple(fold.angle for fold in window.session.blank.folds)


def test_the_folding_is_shown_and_stopped(qtbot, window):
    planned(qtbot, window.session)
    window.show_stage("shape")
    view = window.stages["shape"].folded
    qtbot.mouseClick(view.play, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: 0 < view.slider.value() < STEPS, timeout=5000)
    qtbot.mouseClick(view.play, Qt.MouseButton.LeftButton)
    at = view.slider.value()
    qtbot.wait(120)
    assert view.slider.value() == at and "Fold" in view.play.text()
    qtbot.mouseClick(view.play, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: view.slider.value() == STEPS, timeout=60_000)
    assert "Fold" in view.play.text(), "it ends by itself"


def test_sizes_section_and_mate_are_asked_for(qtbot, window):
    planned(qtbot, window.session)
    window.show_stage("shape")
    view = window.stages["shape"].folded
    plain = view.canvas.grab().toImage()
    qtbot.mouseClick(view.sizes, Qt.MouseButton.LeftButton)
    assert view.canvas.grab().toImage() != plain
    part = window.session.job.part
    assert sorted(value for _, value in sizes_of(window.session.blank))[1:] == pytest.approx(
        [part.width, part.length], abs=0.01
    )
    qtbot.mouseClick(view.sizes, Qt.MouseButton.LeftButton)
    choose(view.section, 0)
    assert view.canvas.grab().toImage() != plain
    assert not view.mate.isVisible()
    window.session.start_with(demo_work("hive-scale"))
    window.session.parts.choose(1)
    assert view.mate.isVisible()


@pytest.mark.parametrize("axis", [0, 1])
def test_what_is_cut_is_the_metal_of_the_section(box, axis):
    """A box folded on the line, sharp: across the middle the metal is its base and two walls, each
    as thick as the sheet."""
    blank = develop(box())
    part, t = box().part, blank.thickness
    faces = folded_faces(blank)
    reach = np.concatenate([face.points[:, axis] for face in faces])
    for keeps in (1, -1):
        kept = cut_away(faces, CutPlane(axis, float(reach.mean()), keeps))
        cut = [face for face in kept if face.kind == "cut"]
        across = part.width if axis == 0 else part.length
        metal = t * across + 2 * t * (part.depth + t)
        assert sum(map(area, cut)) == pytest.approx(metal, rel=0.01)
        assert all(
            (face.points[:, axis] - reach.mean()).min() * keeps >= -1e-6 or keeps == -1
            for face in kept
        )
        assert all(face.normal[axis] == -keeps for face in cut)


@pytest.mark.skipif(depth.compiled is None, reason="no compiler was at hand when this was set up")
@pytest.mark.parametrize("name", [*DEMOS, "bare"])
def test_faces_are_parted_alike_compiled_and_with_numpy(name, monkeypatch):
    """The same planes in the same order, the same pieces; what hangs where is the same."""
    faces = () if name == "bare" else folded_faces(develop(demo_work(name).parts[0]), 0.7)
    compiled = DepthTree(faces)
    monkeypatch.setattr("zealous_crane.paint.depth.compiled", None)
    other = DepthTree(faces)
    assert compiled._levels == other._levels and compiled._hung == other._hung
    assert len(compiled.faces) == len(other.faces) >= len(faces)
    for mine, its in zip(compiled.faces, other.faces, strict=True):
        assert mine.points == pytest.approx(its.points, abs=1e-9) and mine.outlines == its.outlines
        assert (mine.kind, mine.panel, mine.body) == (its.kind, its.panel, its.body)
    shown = [compiled.faces[i] for level in compiled._levels for i in level]
    assert sum(map(area, shown)) == pytest.approx(sum(map(area, faces)), rel=1e-6), (
        "nothing is lost"
    )


def test_what_is_no_face_is_refused_by_what_is_compiled():
    square, up = (
        np.array([(0, 0, 0), (1, 0, 0), (1, 1, 0), (0, 1, 0)], float),
        np.array([(0, 0, 1.0)]),
    )
    if depth.compiled is None:
        pytest.skip("no compiler was at hand when this was set up")
    pieces, nodes = depth.compiled(square, [4], up, b"\x01" * 4, 1e-6)
    assert pieces == [] and nodes == [([0], -1, -1)]
    for counts, normals, outlined in (
        ([3], up, b"1111"),
        ([4, 4], np.vstack([up, up]), b"1111"),
        ([4], np.vstack([up, up]), b"1111"),
    ):
        with pytest.raises(ValueError, match="corners of every face"):
            depth.compiled(square, counts, normals, outlined, 1e-6)
    with pytest.raises(TypeError):
        depth.compiled(square, [4], up, b"111", 1e-6)


@pytest.mark.parametrize(
    ("name", "part"), [("inspection-tray", 0), ("hive-scale", 0), ("safety-edge-tray", 0)]
)
def test_a_cut_part_too_is_drawn_from_the_back(name, part):
    blank = develop(demo_work(name).parts[part])
    axes = view_axes(28, 35)
    faces = folded_faces(blank)
    middle = float(np.concatenate([face.points[:, 0] for face in faces]).mean())
    tree = DepthTree(cut_away(faces, CutPlane(0, middle, -1)))
    seen = [tree.faces[i].points @ axes.T for i in tree.ordered(axes[2])]
    rng = np.random.default_rng(5)
    checked = 0
    for _ in range(150):
        face = seen[rng.integers(len(seen))]
        at = rng.dirichlet(np.ones(len(face))) @ face
        depths = [d for d in (depth_at(f, at[:2]) for f in seen) if d is not None]
        checked += len(depths) > 1
        assert all(a <= b + 0.02 for a, b in itertools.pairwise(depths)), (
            "an opening is drawn a hundredth before its face"
        )
    assert checked > 20


def test_turning_it_only_orders_what_is_known(qtbot, window):
    window.show_stage("shape")
    view = window.stages["shape"].folded
    view.canvas.grab()
    before = folded_at.cache_info().misses
    view.canvas.setFocus()
    for key in (Qt.Key.Key_Left, Qt.Key.Key_Up, Qt.Key.Key_Right):
        qtbot.keyClick(view.canvas, key)
        view.canvas.grab()
    assert folded_at.cache_info().misses == before


def test_seams_between_the_pieces_of_a_panel_are_no_edges_and_holes_are_seen():
    job = demo_work("hive-scale").parts[0]
    blank = develop(job)
    notched = next(panel for panel in blank.panels if len(panel.pieces) > 1)
    number = blank.panels.index(notched)
    top = [
        f
        for f in faces_at(blank, (0.0,) * len(blank.folds))
        if f.panel == number and f.kind == "inside"
    ]
    length = sum(
        np.linalg.norm(face.points[(k + 1) % len(face.points)] - face.points[k])
        for face in top
        for k, outlined in enumerate(face.outlines)
        if outlined
    )
    ring = notched.polygon
    assert length == pytest.approx(
        np.linalg.norm(np.roll(ring, -1, axis=0) - ring, axis=1).sum(), rel=1e-3
    )
    holes = [f for f in folded_faces(blank) if f.kind == "hole"]
    assert len({f.panel for f in holes}) == len({h.panel for h in blank.holes if h.panel >= 0})
    assert sum(map(area, holes)) == pytest.approx(
        2 * sum(abs(h.path.area) for h in blank.holes if h.panel >= 0), rel=0.02
    )


def test_a_strip_of_many_folds_has_its_states(rack):
    from zealous_crane.planning.planner import make_plan

    job = demo_job("extractor-guard")
    plan = make_plan(job, rack[job.brake])
    states = [angles for _, angles in plan.folding]
    assert not any(states[0]) and len(states) == len(plan.strokes)
    for before, after in itertools.pairwise(states):
        assert sum(abs(b - a) > 1e-9 for a, b in zip(before, after, strict=True)) >= 1
