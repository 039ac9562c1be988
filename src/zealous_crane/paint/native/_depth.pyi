import numpy as np
from numpy.typing import NDArray

def depth(
    points: NDArray[np.float64],
    counts: list[int],
    normals: NDArray[np.float64],
    outlined: bytes,
    near: float,
    /,
) -> tuple[list[tuple[int, bytes, bytes]], list[tuple[list[int], int, int]]]: ...
