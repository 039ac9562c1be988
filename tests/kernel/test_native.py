"""The two back ends of the kernel asked the same: other code, the same answers. Without a compiler
there is nothing to compare."""

import importlib
import math
import os
import subprocess
import sys

import numpy as np
import pytest
import shapely

from zealous_crane.bending import passage
from zealous_crane.bending import passage as batch
from zealous_crane.bending.press import passage as press_passage
from zealous_crane.bending.press.passage import DieRise, PressSwing, PunchRise
from zealous_crane.kernel import advance, contact, outline, solid
from zealous_crane.kernel import obstacle as polar
from zealous_crane.kernel import self_contact as meeting
from zealous_crane.kernel import swept_prism as clearway
from zealous_crane.kernel.back_end import COMPILED
from zealous_crane.kernel.obstacle import Way
from zealous_crane.kernel.plain import questions as plain
from zealous_crane.kernel.solid import ToolPart

MODULES = (
    advance,
    clearway,
    contact,
    meeting,
    outline,
    polar,
    solid,
    passage,
    press_passage,
)

pytestmark = pytest.mark.skipif(not COMPILED, reason="no compiler was at hand when this was set up")


@pytest.fixture
def both(monkeypatch):
    """Asks a question both ways: (compiled, NumPy)."""

    def ask(question):
        ours = question()
        with monkeypatch.context() as other:
            for module in MODULES:
                other.setattr(module, "geometry", plain)
            return ours, question()

    return ask


def ring(rng, low, high, corners=6):
    return contact.hull(rng.uniform(low, high, (corners, 2)))


def tool(rng, low=(-30, 20), high=(40, 90), name="punch"):
    """An outline that is not convex: a star about a point, counter-clockwise."""
    angles = np.sort(rng.uniform(0, 2 * math.pi, 9))
    middle = rng.uniform(low, high)
    points = middle + (rng.uniform(6, 40, 9) * np.array([np.cos(angles), np.sin(angles)])).T
    return outline.ToolOutline(ToolPart(name), points, ("side",) * 9, frozenset())


def prism(rng, at=(0.0, 0.0, 0.0)):
    """A plate of any direction."""
    flat = ring(rng, (-30, -20), (30, 20))
    first = rng.normal(size=3)
    first /= np.linalg.norm(first)
    second = np.cross(first, rng.normal(size=3))
    second /= np.linalg.norm(second)
    face = flat[:, :1] * first + flat[:, 1:] * second + np.array(at)
    return solid.Solid("p", 0, np.concatenate([face, face + 1.2 * np.cross(first, second)]))


def close(one, other, within=1e-9):
    """None both, or a touch at the same angle and place."""
    assert (one is None) == (other is None), (one, other)
    if one is not None:
        assert one.angle == pytest.approx(other.angle, abs=within)
        assert (one.index, one.corner) == (other.index, other.corner)
        assert one.place == pytest.approx(other.place, abs=1e-6)


@pytest.mark.parametrize("seed", range(40))
def test_hulls_and_what_they_share(both, seed):
    rng = np.random.default_rng(seed)
    points = np.round(rng.uniform(-20, 20, (int(rng.integers(1, 40)), 2)), int(rng.integers(0, 3)))
    ours, theirs = both(lambda: contact.hull(points))
    assert np.array_equal(ours, theirs)
    shape = tool(rng, (-20, -20), (20, 20))
    met = set()
    for _ in range(25):
        convex = ring(rng, (-60, -60), (60, 60)) * rng.uniform(0.1, 0.6) + rng.uniform(-40, 40, 2)
        ours, theirs = both(lambda c=convex: shape.meets(c))
        assert ours == theirs
        met.add(ours)
    assert met == {True, False}


@pytest.mark.parametrize("seed", range(60))
def test_turns_meet_alike(both, seed):
    rng = np.random.default_rng(100 + seed)
    outlines = [ring(rng, (-80, -10), (-20, 15)) for _ in range(3)]
    rest, pole = tool(rng), rng.uniform(-3, 3, 2)
    marks = [rng.random(9) < 0.7, rng.random(9) < 0.7] if seed % 2 else [None, None]
    about = np.concatenate(outlines) * 0.1 if seed % 3 == 0 else pole
    back = rest.outline * 0.1 if seed % 3 == 0 else None
    ours, theirs = both(
        lambda: contact.first_touches(
            outlines,
            rest.outlines,
            2.4,
            about=about,
            back_about=back,
            backwards=bool(seed % 5),
            sides=marks[0],
            corners=marks[1],
        )
    )
    for one, other in zip(ours, theirs, strict=True):
        close(one, other)
    ours, theirs = both(
        lambda: contact.least_distance(
            outlines[0], pole, rest.outline, 0.3, counted=None, sides=marks[0]
        )
    )
    assert ours == pytest.approx(theirs, abs=1e-9)
    ours, theirs = both(
        lambda: contact.least_distance(
            rest.outline, pole, outlines[0], 0.3, backwards=True, counted=marks[1]
        )
    )
    assert ours == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize("seed", range(60))
def test_rising_tools_are_met_alike(both, seed):
    rng = np.random.default_rng(200 + seed)
    outlines = [ring(rng, (-90, -5), (-25, 12)) for _ in range(4)]
    turns = [
        advance.OutlineTurn((float(o), 0.7), float(s), float(o))
        for o, s in zip(rng.choice([0, 0, 3.0], 4), (1, 1, -1, 1), strict=True)
    ]
    rise = (
        DieRise(float(rng.uniform(4, 20)), 0.8)
        if seed % 2
        else PunchRise(1.0, float(rng.uniform(0, 3)), -0.4)
    )
    rest = tool(rng).outlines
    begin = float(rng.choice([0.0, 0.3]))
    ours, theirs = both(lambda: advance.first_advances(outlines, turns, rest, rise, begin, 1.2))
    for one, other in zip(ours, theirs, strict=True):
        close(one, other, 1e-7)


@pytest.mark.parametrize("seed", range(60))
def test_pieces_meet_alike(both, seed):
    rng = np.random.default_rng(300 + seed)
    one, other = prism(rng), prism(rng, rng.uniform(-40, 40, 3))
    ask = meeting.Meeting(float(rng.choice([0.0, 0.4])), float(rng.choice([0.0, 0.2])), 2.0)
    ours, theirs = both(lambda: meeting._first.__wrapped__(ask, one, other, (0.5, 0.8), 0.0))
    assert (ours is None) == (theirs is None)
    if ours is not None:
        assert ours.angle == pytest.approx(theirs.angle, abs=1e-6)
        assert ours.obstacle.at == pytest.approx(theirs.obstacle.at, abs=1e-5)


@pytest.mark.parametrize("seed", range(40))
def test_what_reaches_into_a_room_and_what_lies_between(both, seed):
    rng = np.random.default_rng(400 + seed)
    piece = prism(rng)
    for _ in range(10):
        room = clearway.SweptPrism.of(ring(rng, (-40, -40), (40, 40)))
        stood = clearway.Stood(piece, (1.0, 0.5), float(rng.uniform(0, 2)))
        ours, theirs = both(lambda r=room, s=stood: r.reach(s, (3.0, -2.0)))
        assert (ours is None) == (theirs is None)
        if ours is not None:
            assert ours == pytest.approx(theirs, abs=1e-9)
        low, high = piece.x_range
        cut = np.sort(rng.uniform(low - 2, high + 2, 2)).tolist()
        ours, theirs = both(lambda c=cut: piece.within(*c))
        assert len(ours) == len(theirs) and np.allclose(
            contact.hull(ours), contact.hull(theirs), atol=1e-8
        )
        y, z = rng.uniform(-30, 30, 2).tolist()
        ours, theirs = both(lambda y=y, z=z: polar.ring_of.__wrapped__(piece, y, z))
        assert ours == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize("seed", range(15))
def test_ways_in_and_out_are_barred_alike(both, seed):
    rng = np.random.default_rng(500 + seed)
    seen = set()
    for _ in range(100):
        shape = tool(rng, name=str(rng.choice(["punch", "die"])))
        piece = prism(rng, (0.0, *rng.uniform((-40, -20), (40, 60))))
        way = Way(rng.choice(["front", "lifted", "side", "along", "drawn"]))
        half = float(rng.choice([0.0, 0.4, 0.78]))
        swing = PressSwing(
            (float(rng.choice([0, 3.0])), 0.6), float(rng.choice([1, -1])), 0.0, 0.0, 0.8
        )
        moves = press_passage.PressMovement(
            str(rng.choice(["in", "out"])),
            way,
            half,
            (0.0, 0.6),
            60.0,
            0.7,
            2.0,
            11.0,
            float(rng.choice([0.0, 9.0, 30.0])),
        )
        said = press_passage.PressPassage(moves, swing, bool(rng.random() < 0.3))
        ours, theirs = both(lambda p=piece, s=shape, w=said: press_passage.struck(p, None, s, w))
        assert ours == theirs, said
        seen.add(ours)
        goes = passage.Movement(
            Way(rng.choice(["front", "lifted", "side"])), 25.0, None if half else 0.7, 4.0
        )
        path = passage.Passage(goes, (0.0, 0.6), half)
        ours, theirs = both(lambda p=piece, s=shape, w=path: passage._leg(p, None, s, w))
        assert ours == theirs, path
    assert seen >= {None, "sliding in", "taking out"}


@pytest.mark.parametrize("seed", range(12))
def test_all_pieces_are_answered_as_each_by_itself(both, seed):
    """Tipped or not, with what swings and what rests, on a leaf brake and in a press: one question
    of all, and one of each in NumPy."""
    rng = np.random.default_rng(900 + seed)
    seen = set()
    for _ in range(20):
        pieces = [
            prism(rng, (0.0, *rng.uniform((-60, -5), (60, 50))))
            for _ in range(int(rng.integers(1, 9)))
        ]
        rests = int(rng.integers(0, len(pieces) + 1))
        pole = (float(rng.choice([0.0, 2.0])), 0.6)
        swinging = [(piece, pole, bool(rng.random() < 0.3)) for piece in pieces[rests:]]
        angle = float(rng.choice([0.0, 0.5, 1.5]))
        tip = passage.TippedExit(0.4, (30.0, 0.0), 5.0)
        way = Way(rng.choice(["front", "lifted", "side", "tipped"]))
        goes = passage.Movement(
            way, 25.0, 0.7 if angle else None, 4.0, tip if way == "tipped" else passage.NOT_TIPPED
        )
        shape = tool(rng, name="finger")

        def about(rests=rests, pieces=pieces, swinging=swinging):
            return batch.NoseBatch.about(pieces[:rests], swinging)

        ours, theirs = both(
            lambda g=goes, s=shape, a=angle, of=about: list(passage.legs_of(of(), s, g, a))
        )
        assert ours == theirs, goes
        seen |= set(ours)
        ours, theirs = both(lambda a=angle, of=about: of().tops(a))
        assert ours == pytest.approx(theirs, abs=1e-9)
        between = [
            (
                piece,
                PressSwing(pole, float(rng.choice([1, -1])), float(rng.choice([0, 2.5])), 0.0, 0.8),
                bool(rng.random() < 0.3),
            )
            for piece in pieces
        ]
        tools = [tool(rng, name=name) for name in ("ram", "table", "punch", "die")]
        word, press_way = str(rng.choice(["in", "out"])), Way(rng.choice(press_passage.WAYS))
        moves = press_passage.PressMovement(word, press_way, angle / 2, pole, 60.0, 0.7, 2.0, 11.0)

        def phases(between=between, tools=tools, moves=moves):
            said = press_passage.phases_of(press_passage.PressBatch.between(between), tools, moves)
            return [list(each) for each in said]

        ours, theirs = both(phases)
        assert ours == theirs, moves
        seen |= {("press", phase) for each in ours for phase in each}
    assert seen >= {0, 1, 2, ("press", 0), ("press", 1), ("press", 2)}


def test_no_pieces_are_no_question(both):
    ours, theirs = both(lambda: batch.NoseBatch.about((), ()).tops(1.0))
    assert ours.shape == theirs.shape == (0, 3)


def test_what_is_not_numbers_in_rows_is_refused():
    native = importlib.import_module("zealous_crane.kernel.native._exact")
    flat = np.zeros((3, 2))
    for wrong in (
        np.zeros((3, 3)),
        np.zeros((3, 2), dtype=np.float32),
        np.zeros(6),
        [[0.0, 0.0]],
        None,
    ):
        with pytest.raises((TypeError, BufferError)):
            native.meets(wrong, flat)
    with pytest.raises(ValueError, match="no room"):
        native.hull(flat, np.zeros((3, 2)))
    with pytest.raises(ValueError, match="one pole"):
        native.touches([flat], flat, 1.0, (flat[:2], flat[:1]), (False, True), (None, None))
    with pytest.raises(TypeError, match="one for each"):
        native.touches([flat], flat, 1.0, (flat[:1], flat[:1]), (False, True), (b"\1", None))
    with pytest.raises(ValueError, match="a turn for each"):
        native.advances(
            [flat], np.zeros((2, 4)), flat, (1.0, 0.0, 0.0, 0.0, 0.0), (0.0, 1.0), (5e-4, 0.04, 32)
        )
    rows = np.array([[4.0, 0, 0, 0, 0]])
    with pytest.raises(ValueError, match="as many points"):
        native.legs(flat, rows, 0.0, flat, (flat, flat), (0.0, (0.0, 0.0)))
    with pytest.raises(ValueError, match="begins"):
        native.legs(flat, rows, 0.0, flat, (flat, flat), (0.3, (0.0, 0.0)))
    with pytest.raises(ValueError, match="no room"):
        native.reaches(flat, np.array([[3.0, 0, 0, 0, 0]]), 0.0, np.zeros((0, 3)))
    with pytest.raises(ValueError, match="too many"):
        native.passages(
            flat, np.zeros((0, 6)), ((flat, flat, True),) * 9, 0, (0.0, (0.0, 0.0)), (0.0,) * 7
        )
    with pytest.raises(ValueError, match="faces"):
        native.meeting(
            (np.zeros((5, 3)),) * 2 + (np.zeros(4),),
            (np.zeros((6, 3)), np.zeros((5, 3)), np.zeros(5)),
            (0.0, 0.0),
            0,
            1,
        )


def test_strides_are_read_as_they_lie():
    native = importlib.import_module("zealous_crane.kernel.native._exact")
    square = np.array([(0.0, 0.0), (4, 0), (4, 4), (0, 4)])
    wide = np.zeros((8, 5))
    wide[::2, 1:5:2] = square
    assert (
        native.distance(wide[::2, 1:5:2], (6.0, 2.0))
        == shapely.Polygon(square).distance(shapely.Point(6, 2))
        == 2.0
    )
    assert native.meets(np.broadcast_to(np.array([1.0, 1.0]), (1, 2)), square)


PLAN = """
from zealous_crane.brake.library import shipped_rack
from zealous_crane.demo import demo_job
from zealous_crane.planning.planner import make_plan
from zealous_crane.kernel.back_end import COMPILED
for name in ("frame-rail", "syrup-tray"):
    job = demo_job(name)
    plan = make_plan(job, shipped_rack()[job.brake])
    print(name, plan.state.value, [(s.verdict.stroke.setting.name, round(s.verdict.reach, 3), s.verdict.way, s.sections) for s in plan.strokes])
print(COMPILED)
"""  # noqa: E501


def test_a_plan_is_the_same_with_and_without_a_compiler():
    found = [
        subprocess.run(
            [sys.executable, "-c", PLAN],
            capture_output=True,
            text=True,
            check=True,
            env={**os.environ, "CRANE_ENGINE": engine},
        ).stdout.splitlines()
        for engine in ("", "numpy")
    ]
    assert found[0][:-1] == found[1][:-1]
    assert [lines[-1] for lines in found] == ["True", "False"]
