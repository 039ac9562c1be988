import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Found = tuple[float, tuple[float, float], int, bool]
Triple = tuple[Array, Array, Array]
Place = tuple[float, float]
Counted = tuple[bytes | None, bytes | None]

def hull(points: Array, into: Array, /) -> int: ...
def meets(convex: Array, outline: Array, /) -> bool: ...
def touches(
    outlines: list[Array],
    resting: Array,
    limit: float,
    about: tuple[Array, Array],
    backwards: tuple[bool, bool],
    counted: Counted,
    /,
) -> list[Found | None]: ...
def advances(
    outlines: list[Array],
    turns: Array,
    resting: Array,
    rise: tuple[float, float, float, float, float],
    between: tuple[float, float],
    steps: tuple[float, float, int],
    /,
) -> list[Found | None]: ...
def within(
    corners: Array, low: float, high: float, first: float, last: float, into: Array, /
) -> int: ...
def distance(outline: Array, point: Place, /) -> float: ...
def apart(
    corners: Array,
    pole: Place,
    sides: Array,
    limit: float,
    backwards: bool,
    counted: Counted,
    /,
) -> float: ...
def ring(outline: Array, pole: Place, below: float, /) -> tuple[float, float, float, float]: ...
def extent(
    corners: Array, /
) -> tuple[tuple[float, float, float], tuple[float, float, float], bool]: ...
def leg(points: Array, path: Array, outline: Array, /) -> int: ...
def legs(
    points: Array,
    rows: Array,
    angle: float,
    path: Array,
    tool: tuple[Array, Array],
    tip: tuple[float, Place],
    /,
) -> bytes: ...
def reaches(points: Array, rows: Array, angle: float, into: Array, /) -> None: ...
def passed(
    points: Array,
    tool: tuple[Array, Array],
    way: tuple[int, bool, bool],
    turn: tuple[float, float, float],
    poles: tuple[Place, Place],
    moves: tuple[float, float, float, float, float, float, float],
    /,
) -> int: ...
def passages(
    points: Array,
    rows: Array,
    tools: tuple[tuple[Array, Array, bool], ...],
    way: int,
    tipped: tuple[float, Place],
    moves: tuple[float, float, float, float, float, float, float],
    /,
) -> bytes: ...
def meeting(
    moving: Triple, resting: Triple, about: Place, start: float, limit: float, /
) -> Found | None: ...
def reach(solid: Triple, room: Triple, by: Place, /) -> Place | None: ...
