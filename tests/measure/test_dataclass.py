"""Our dataclasses answer as the standard library's do."""

from __future__ import annotations

import copy
import dataclasses
import pickle
from dataclasses import field, replace
from typing import Any

import numpy as np
import pytest

from zealous_crane.measure import dataclass as ours


def kinds(dataclass: Any) -> dict[str, Any]:
    """The same classes by one decorator or the other."""

    @dataclass(frozen=True)
    class Point:
        """Two numbers."""

        x: float
        y: float = 0.0

    @dataclass(frozen=True)
    class Named(Point):
        """One more, and one that does not count."""

        name: str = ""
        note: str = field(default="", compare=False, repr=False)

    @dataclass(frozen=True, eq=False)
    class Same:
        """Equal to itself alone."""

        x: float

    @dataclass
    class Open:
        """May be changed."""

        seen: list[int] = field(default_factory=list)
        total: int = field(init=False, default=0)

        def __post_init__(self) -> None:
            self.total = sum(self.seen)

    @dataclass(frozen=True)
    class Own:
        """Says for itself what it is equal to."""

        x: float

        def __eq__(self, other: object) -> bool:
            return isinstance(other, Own) and round(self.x) == round(other.x)

        def __hash__(self) -> int:
            return round(self.x)

        def __repr__(self) -> str:
            return "own"

    @dataclass(frozen=True)
    class Nothing:
        """No field at all."""

    return {made.__name__: made for made in (Point, Named, Same, Open, Own, Nothing)}


def answers(of: dict[str, Any]) -> list[Any]:
    """What is asked of them, each in turn."""
    point, named, same, opened, own, nothing = of.values()
    all_of = [
        point(1.0), point(1.0, 2.0), point(1.0, 2.0), named(1.0, 2.0), named(1.0, 2.0, "a", "b"), named(1.0, 2.0, "a", "c"), same(1.0),
        same(1.0), opened(), opened([1, 2]), opened([1, 2]), own(1.2), own(0.9), own(2.0), nothing(), nothing(),
    ]  # fmt: skip
    said: list[Any] = [[a == b for b in all_of] for a in all_of]
    said += [[a != b for b in all_of] for a in all_of]
    said += [repr(one).split("<locals>.")[-1] for one in all_of]
    said += [len({one for one in all_of if type(one) is not opened})]
    said += [
        {point(1.0, 2.0): "found"}.get(point(1.0, 2.0)),
        point(1.0) == 1.0,
        point.__hash__ is None,
        opened.__hash__ is None,
    ]
    said += [
        replace(point(1.0), y=3.0) == point(1.0, 3.0),
        [f.name for f in dataclasses.fields(named)],
        dataclasses.asdict(opened([4])),
    ]
    said += [copy.copy(point(1.0)) == point(1.0), named.__match_args__]
    return said


def test_they_answer_as_the_standard_librarys_do():
    assert answers(kinds(ours.dataclass)) == answers(kinds(dataclasses.dataclass))


@pytest.mark.parametrize("made", [ours.dataclass, dataclasses.dataclass])
def test_what_must_be_given_is_asked_for_and_the_open_ones_are_no_keys(made):
    of = kinds(made)
    with pytest.raises(TypeError, match="required positional argument"):
        of["Point"]()
    with pytest.raises(TypeError, match="unhashable"):
        hash(of["Open"]())


def test_one_of_the_program_goes_through_a_pipe():
    there = SmallHole(1.0, "x")
    back = pickle.loads(pickle.dumps(there))
    assert back == there and back is not there and hash(back) == hash(there)


@pytest.mark.parametrize("made", [ours.dataclass, dataclasses.dataclass])
def test_one_field_is_compared_as_several_are(made):
    @made(frozen=True)
    class Ring:
        """One array."""

        corners: np.ndarray

    corners = np.arange(4.0)
    assert (Ring(corners) == Ring(corners)) is True, "the very same array"
    with pytest.raises(ValueError, match="ambiguous"):
        assert Ring(corners) == Ring(corners.copy())
    with pytest.raises(TypeError, match="unhashable"):
        hash(Ring(corners))


@ours.dataclass(frozen=True)
class SmallHole:
    """Pickle looks it up by its name."""

    diameter: float
    name: str
