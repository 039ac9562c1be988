"""The setback in the end view: its two ends are the bed's edge and the nose of the tools that are
drawn, and the words are the set-up's."""

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter

from shared_plans import plan_of
from zealous_crane.bending.drawing import OutlineKind
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_work
from zealous_crane.paint.brake import beside, paint_end
from zealous_crane.paint.theme import LIGHT


def planned(key):
    job = demo_work(key).parts[0]
    return plan_of(job, shipped_rack()[job.brake])


@pytest.mark.parametrize("key", ["syrup-tray", "hive-roof", "inspection-tray", "comb-box"])
def test_the_nose_stands_behind_the_edge_of_the_bed_that_is_drawn(key):
    plan = planned(key)
    looked = 0
    for stroke in plan.strokes:
        engine = stroke.verdict.stroke
        if engine.setback <= 0:
            continue
        outlines = list(engine.tools_at(0.0))
        bed = outlines[0].outline
        level = bed[bed[:, 1] > bed[:, 1].max() - 0.5]
        assert engine.nose_place - engine.setback == pytest.approx(level[:, 0].min(), abs=0.02)
        section = next(o for o in outlines if o.kind is OutlineKind.SECTION).outline
        foot = section[section[:, 1] < section[:, 1].min() + 0.05]
        # The nose is a little round.
        assert engine.nose_place == pytest.approx(foot[:, 0].min(), abs=0.5)
        assert plan.setups[stroke.setup].setback == pytest.approx(engine.setback)
        looked += 1
    assert looked


def test_it_is_drawn_on_a_leaf_brake_and_on_no_press(qapp):
    def drawn(stroke, plain):
        image = QImage(500, 400, QImage.Format.Format_RGB32)
        image.fill(LIGHT.color("bench"))
        p = QPainter(image)
        paint_end(p, QRectF(0, 0, 500, 400), stroke, stroke.verdict.reach, LIGHT, plain=plain)
        p.end()
        return image

    leaf, press = planned("syrup-tray").strokes[0], planned("frame-rail").strokes[0]
    assert leaf.verdict.stroke.nose_place is not None
    assert press.verdict.stroke.nose_place is None
    assert drawn(leaf, plain=False) != drawn(leaf, plain=True)
    drawn(press, plain=False)


@pytest.mark.parametrize(
    ("lines", "middle"),
    [
        ([], 50.0),
        ([10.0, 95.0], 50.0),
        ([50.0], 25.0),
        ([58.0], 29.0),
        ([30.0, 46.0], 73.0),
        ([12.0, 34.0, 50.0, 66.0, 88.0], 50.0),
    ],
)
def test_a_label_stands_beside_a_line_not_on_it(lines, middle):
    label, room = QRectF(40, 0, 20, 14), QRectF(0, 0, 100, 40)
    at = beside(label, room, lines)
    assert at == pytest.approx(middle)
    if any(hi - lo > 24 for lo, hi in zip([0, *lines], [*lines, 100], strict=True)):
        assert all(abs(at - x) >= 10 for x in lines)
