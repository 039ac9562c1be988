"""What is seen in a picture of faces."""

from __future__ import annotations

import numpy as np


def depth_at(face, point):
    """Depth of a convex face at a point of the picture, None beside it or on its rim."""
    edges = face[[*range(1, len(face)), 0]] - face
    side = edges[:, 0] * (point[1] - face[:, 1]) - edges[:, 1] * (point[0] - face[:, 0])
    if not (np.all(side > 1e-6) or np.all(side < -1e-6)):
        return None
    normal = np.cross(face[1] - face[0], face[2] - face[0])
    if abs(normal[2]) < 1e-9:
        return None
    return float(
        face[0, 2]
        - (normal[0] * (point[0] - face[0, 0]) + normal[1] * (point[1] - face[0, 1])) / normal[2]
    )
