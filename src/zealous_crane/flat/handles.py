"""What a person can point at on the flat: edges, corners and panels, and where each is written in
the design."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .._typing import Array
from ..job.job import Job
from ..part.corner import CornerPlace
from ..part.edge import edge_names
from .outline import extent
from .panel_tree import grown


@dataclass(frozen=True)
class EdgeHandle:
    """One edge of one panel.

    Attributes:
        panel: name of the panel.
        carrier: path of the panel in the design; None for what a rule added.
        edge: name of the edge.
        start, end: (2,) mm on the flat.
        path: path of what stands on it; None when it is free.
        name: name of what stands on it, else empty.
    """

    panel: str
    carrier: tuple[int, ...] | None
    edge: str
    start: Array
    end: Array
    path: tuple[int, ...] | None
    name: str


@dataclass(frozen=True)
class CornerHandle:
    """One corner of a four-sided base where two walls meet: its name and (2,) place on the flat,
    mm."""

    at: CornerPlace
    point: Array


@dataclass(frozen=True)
class Handles:
    """Everything to point at; by name of the panel its path in the design, and (2, 2) its own axes
    u and v on the flat."""

    edges: tuple[EdgeHandle, ...]
    corners: tuple[CornerHandle, ...]
    paths: dict[str, tuple[int, ...] | None]
    axes: dict[str, Array]


CORNERS: tuple[CornerPlace, ...] = ("left-front", "front-right", "right-back", "back-left")


def handles(job: Job) -> Handles:
    """Edges, corners and panels of a developed job; empty for a drawn flat.

    Raises:
        DevelopmentError: it cannot be developed.
    """
    if job.part.drawing() is not None:
        return Handles((), (), {}, {})
    begun = grown(job)
    tree, move = begun.tree, -extent(begun)[0]
    edges: list[EdgeHandle] = []
    paths: dict[str, tuple[int, ...] | None] = {"base": ()}
    for node in tree.nodes:
        path = () if node.parent < 0 else (node.element.path if node.element else None)
        paths[node.name] = path
        ring = node.frame.to_flat(node.corners) + move
        names = edge_names(len(node.corners))
        for i, name in enumerate(names):
            if i == 0 and node.parent >= 0:
                continue
            kid = next((n for n in tree.nodes[1:] if n.parent == node.index and n.edge == i), None)
            element = kid.element if kid is not None else None
            edges.append(
                EdgeHandle(
                    node.name,
                    path,
                    name,
                    ring[i],
                    ring[(i + 1) % len(ring)],
                    element.path if element else None,
                    element.name if element else "",
                )
            )
    corners: list[CornerHandle] = []
    if len(tree.nodes[0].corners) == 4:
        ring = tree.nodes[0].frame.to_flat(tree.nodes[0].corners) + move
        stands = {
            n.edge
            for n in tree.nodes[1:]
            if n.parent == 0 and n.element is not None and n.element.stands
        }
        corners = [
            CornerHandle(CORNERS[i], ring[i]) for i in range(4) if {(i - 1) % 4, i} <= stands
        ]
    axes = {node.name: np.array([node.frame.u, node.frame.v]) for node in tree.nodes}
    return Handles(tuple(edges), tuple(corners), paths, axes)
