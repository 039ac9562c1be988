import itertools
import re

import numpy as np
import pytest
from pictured import depth_at
from PySide6.QtCore import QRectF
from PySide6.QtGui import QFontMetricsF, QImage, QPainter

from shared_plans import plan_of
from zealous_crane.brake.tools import Segment
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.flat.development import develop
from zealous_crane.io.atomic import FileError
from zealous_crane.job.job import Job
from zealous_crane.paint import brake as end
from zealous_crane.paint import flat
from zealous_crane.paint.application import application
from zealous_crane.paint.brake import free_place, rule_words
from zealous_crane.paint.depth import DepthTree
from zealous_crane.paint.folded import folded_faces, view_axes
from zealous_crane.paint.frame import Scale
from zealous_crane.paint.theme import LIGHT
from zealous_crane.paper.sheets import heading_of, write_sheet
from zealous_crane.part.kinds.strip import SingleBend
from zealous_crane.shop.safety_notes import cautions_at, cautions_for
from zealous_crane.units.length import show_length
from zealous_crane.units.quantities import show_angle


def test_a_scale_goes_there_and_back():
    scale = Scale.fitting((-10, -5), (30, 15), QRectF(0, 0, 400, 400))
    assert scale.factor == pytest.approx(10)
    assert scale.back(scale.point(3.5, 7.25)) == pytest.approx((3.5, 7.25))
    assert scale.point(0, 15).y() < scale.point(0, -5).y()


@pytest.mark.parametrize("turn", [0, 28, 133, 250])
@pytest.mark.parametrize("share", [0.0, 0.4, 1.0])
def test_nearer_faces_are_drawn_later(box, turn, share):
    """Wherever two drawn faces cover the same point of the picture, the later one is the nearer."""
    axes = view_axes(turn, 35)
    tree = DepthTree(folded_faces(develop(box()), share))
    ordered = [tree.faces[i] for i in tree.ordered(axes[2])]
    assert all(f.normal @ axes[2] > 0 for f in ordered)
    rng = np.random.default_rng(3)
    seen = [f.points @ axes.T for f in ordered]
    checked = 0
    for _ in range(400):
        face = seen[rng.integers(len(seen))]
        weights = rng.dirichlet(np.ones(len(face)))
        at = weights @ face
        depths = [d for d in (depth_at(f, at[:2]) for f in seen) if d is not None]
        checked += len(depths) > 1
        assert all(a <= b + 1e-6 for a, b in itertools.pairwise(depths))
    assert checked > 20 or share == 0


def test_view_axes_are_square():
    assert np.allclose(view_axes(40, 20) @ view_axes(40, 20).T, np.eye(3))


@pytest.mark.parametrize("depth", ["2 1/2", "3", "4"])
def test_a_sheet_for_every_verdict(box, brake, tmp_path, depth):
    path = tmp_path / "sheet.pdf"
    write_sheet(plan_of(box(depth=depth), brake), path)
    data = path.read_bytes()
    assert data.startswith(b"%PDF") and data.count(b"/Type /Page\n") + data.count(
        b"/Type /Page "
    ) == (2 if depth == "4" else 4)
    with pytest.raises(FileError):
        write_sheet(plan_of(box(depth=depth), brake), tmp_path / "none" / "sheet.pdf")


def test_cautions_stand_where_the_danger_is(box, brake, rack):
    plain, hand = plan_of(box(), brake), plan_of(box(depth="3"), brake)
    assert "manual" in str(cautions_for(plain)[0].text) and cautions_for(plain)[0].step == "always"
    assert {"cutting", "setting-up", "bending"} <= {c.step for c in cautions_for(plain)}
    # Clamping a part by hand: at every bend, and the first time first of all.
    for stroke in plain.strokes:
        pinch = [c for c in cautions_at(plain, stroke) if "Pinch points" in str(c.text)]
        assert len(pinch) == 1 and pinch[0].first is (stroke.number == 1)
        assert any("test strip" in str(c.text) for c in cautions_at(plain, stroke)) is (
            stroke.number == 1
        )
        assert any("it drops" in str(c.text) for c in cautions_at(plain, stroke)) is (
            stroke.number == plain.setups[stroke.setup].strokes[0]
        )
    assert not any("counterweight" in str(c.text) for c in cautions_for(plain)), (
        "this leaf has none"
    )
    weighted = brake.model_copy(update={"counterweight": True})
    assert any("counterweight" in str(c.text) for c in cautions_for(plan_of(box(), weighted)))
    # A straight leaf brake has no fingers to drop.
    straight = brake.model_copy(
        update={"fingers": (Segment(width=brake.bed_length),), "key": "straight"}
    )
    angle = plan_of(
        Job(
            part=SingleBend(first=60, second=50, length=400),
            metal="galvanized",
            thickness="22 ga",
            brake="straight",
        ),
        straight,
    )
    assert angle.feasible and not any("it drops" in str(c.text) for c in cautions_for(angle))
    assert any(c.step == "by-hand" for c in cautions_for(hand)) and not any(
        c.step == "by-hand" for c in cautions_for(plain)
    )
    # Nothing is welded at a brake.
    assert not any(
        "zinc" in str(c.text).lower() for plan in (plain, hand) for c in cautions_for(plan)
    )


def test_a_narrow_strip_on_a_press_and_a_long_sheet_have_their_own(rack):
    press = rack["honey-press-2000"]
    short, long = (
        plan_of(
            Job(
                part=SingleBend(first=60, second=50, length=length),
                metal="mild-steel",
                thickness="2 mm",
                units="mm",
                brake=press.key,
            ),
            press,
        )
        for length in (50, 1900)
    )
    assert any("narrow piece" in str(c.text) for c in cautions_at(short, short.strokes[0]))
    assert not any("narrow piece" in str(c.text) for c in cautions_for(long)) and any(
        "Two people" in str(c.text) for c in cautions_for(long)
    )
    assert not any("Two people" in str(c.text) for c in cautions_for(short))


@pytest.mark.parametrize("dimensions", [True, False])
def test_tags_of_a_flat_cover_no_name_and_nothing_beside_the_sheet(monkeypatch, dimensions):
    """On every demonstration's flat, with numbers of two figures."""
    application()
    names, tags = [], []
    write, tag = flat._names, flat.paint_tag
    monkeypatch.setattr(flat, "_names", lambda *a: names.extend(found := write(*a)) or found)
    monkeypatch.setattr(flat, "paint_tag", lambda *a: tags.append(found := tag(*a)) or found)
    for demo in DEMOS:
        for job in demo_work(demo).parts:
            blank = develop(job)
            names.clear()
            tags.clear()
            image = QImage(620, 430, QImage.Format.Format_RGB32)
            painter = QPainter(image)
            options = flat.FlatOptions(
                dimensions=dimensions, numbers={i: 10 + i for i in range(len(blank.folds))}, text=12
            )
            scale = flat.paint_flat(
                painter, QRectF(0, 0, 620, 430), blank, job.units, LIGHT, options
            )
            painter.end()
            sheet = QRectF(scale.point(0, blank.size[1]), scale.point(blank.size[0], 0))
            assert tags or not blank.folds, demo
            for number, one in enumerate(tags):
                assert not any(one.intersects(name) for name in names), (demo, job.name)
                assert not any(one.intersects(other) for other in tags[:number]), (demo, job.name)
                wide = min(one.width(), sheet.width()) - 0.01
                assert one.intersected(sheet).width() >= wide, (demo, job.name)


@pytest.mark.parametrize("name", ["syrup-tray", "wax-melter-chimney", "frame-rail"])
def test_what_is_folded_in_one_stroke_is_told_from_end_to_end(rack, name):
    """Under the view of the brake; against the ends of the fold lines on the flat."""
    job = demo_work(name).parts[0]
    several = False
    for stroke in plan_of(job, rack[job.brake]).strokes:
        folds = [
            fold
            for fold in stroke.verdict.stroke.setting.blank.folds
            if fold.name in re.split(", | and ", stroke.name)
        ]
        ends = np.array([end for fold in folds for end in (fold.start, fold.end)])
        length = show_length(
            max(float(np.hypot(*(a - b))) for a in ends for b in ends), job.units, pretty=True
        )
        said = rule_words(stroke, job.units).split("   ·   ")[0]
        assert said == (
            f"fold {length}"
            if len(folds) == 1
            else f"{len(folds)} folds in one, {length} from end to end"
        )
        several |= len(folds) > 1
    assert several == (name == "wax-melter-chimney")


@pytest.mark.parametrize("name", ["wax-melter-chimney", "frame-rail"])
@pytest.mark.parametrize("room", [600.0, 260.0])
def test_the_angle_to_stop_at_is_whole_however_long_the_names_are(rack, name, room):
    """A card's heading: the figure is read from afar, and was cut off behind the names of four
    hems."""
    application()
    job = demo_work(name).parts[0]
    for stroke in plan_of(job, rack[job.brake]).strokes:
        said, letters = heading_of(stroke, room)
        assert said.endswith(f": stop at {show_angle(stroke.machine_stop)}")
        assert QFontMetricsF(letters).horizontalAdvance(said) <= room + 1
        assert said.startswith(stroke.name) or "…" in said


@pytest.mark.parametrize("name", ["syrup-tray", "wax-melter-chimney", "frame-rail"])
def test_angles_at_the_swing_cover_none_another(rack, name, monkeypatch):
    application()
    image = QImage(660, 480, QImage.Format.Format_RGB32)
    placed = []

    def watched(place, room, taken):
        found = free_place(place, room, taken)
        placed.append((found, room, list(taken)))
        return found

    monkeypatch.setattr(end, "free_place", watched)
    job = demo_work(name).parts[0]
    for stroke in plan_of(job, rack[job.brake]).strokes:
        for share in (0.0, 0.5, 0.9, 1.0):
            painter = QPainter(image)
            end.paint_end(
                painter, QRectF(image.rect()), stroke, stroke.verdict.reach * share, LIGHT
            )
            painter.end()
    assert len(placed) > 8
    for found, room, taken in placed:
        assert room.contains(found) and not any(found.intersects(other) for other in taken)


class Figures(QPainter):
    """Remembers where figures are written in the colour of what is cut."""

    def __init__(self, image):
        super().__init__(image)
        self.written = []

    def drawText(self, box, flags, text):
        if self.pen().color() == LIGHT.color("care"):
            self.written.append((text, self.boundingRect(box, flags, text)))
        super().drawText(box, flags, text)


def test_no_line_runs_through_a_figure_under_the_blank():
    application()
    job = demo_work("safety-edge-tray").parts[0]
    image = QImage(780, 640, QImage.Format.Format_RGB32)
    image.fill(LIGHT.color("bench"))
    painter = Figures(image)
    flat.paint_flat(
        painter, QRectF(0, 0, 780, 640), develop(job), job.units, LIGHT, flat.FlatOptions()
    )
    written = painter.written
    painter.end()
    ink = LIGHT.color("ink")

    def crossed(box):
        seen = [
            image.pixelColor(x, y)
            for x in range(int(box.left()), int(box.right()))
            for y in range(int(box.top()), int(box.bottom()))
        ]
        return sum(
            abs(c.red() - ink.red()) + abs(c.green() - ink.green()) + abs(c.blue() - ink.blue())
            < 60
            for c in seen
        )

    under = [(text, box) for text, box in written if box.top() > 560]
    assert len(under) > 3
    assert not [text for text, box in under if crossed(box)]
