"""Where a hole comes to lie on the flat, as the sum from the blank's left and front edges that a hand would add up."""

from __future__ import annotations

import numpy as np

from ..measure import Sum, SumKind, Term
from ..measure.words import the, tr
from ..part import Design
from ..part.edge import EDGE_WORDS
from .cut_away import Hole
from .cutout import place_on
from .flat import Flat
from .node import Node, Tree
from .sums import gain, merged, terms_of

MOST = 24
"""Holes with sums of their own; a panel with more of them is a pattern, laid out by its points."""

SQUARE = 1 - 1e-9
"""Cosine of a panel that lies squarely on the flat."""

SEEN = 1e-6
"""mm; less than this is no part of a sum."""


def hole_sums(
    design: Design, tree: Tree, flat: Flat, holes: tuple[Hole, ...], chains: dict[str, list[Node]]
) -> tuple[Sum, ...]:
    """Two sums for every hole of the design, from the left and from the front edge of the blank.

    A hole in a panel that lies aslant has none: its place is a point.

    Args:
        design: what was asked for.
        tree: the panels.
        flat: the flat.
        holes: holes of the design, in its order, where they lie before the blank is moved to its corner.
        chains: the panels that reach farthest on every side.
    """
    low = flat.outline.bounds[:2]
    found: list[Sum] = []
    for cutout, hole in list(zip(design.cutouts, holes, strict=False))[:MOST]:
        node = next(n for n in tree.nodes if n.name == cutout.panel)
        for axis, near, far in ((0, "left", "right"), (1, "front", "back")):
            along_u = abs(float(node.frame.u[axis])) > SQUARE
            if not along_u and abs(float(node.frame.v[axis])) < SQUARE:
                continue
            place = cutout.x if along_u else cutout.y
            at = place_on(tree, node, place.model_copy(update={"value": 0.0}), 0 if along_u else 1, flat.polygon)
            start = float((node.frame.point(at, 0.0) if along_u else node.frame.point(0.0, at))[axis]) - low[axis]
            terms = _as_far_as(tree, node, start, axis, chains[near], chains[far])
            terms.append(
                _rest(start, terms, tr("to the {edge} of {name}").format(edge=EDGE_WORDS[place.edge], name=the(node.name)))
            )
            terms.append(_rest(float(hole.centre[axis]) - low[axis], terms, tr("given")))
            name = tr("{name}, from the {near} edge").format(name=hole.name[:1].upper() + hole.name[1:], near=EDGE_WORDS[near])
            found.append(Sum(name, merged(terms), tr("To its centre, on the flat."), SumKind.LINE))
    return tuple(found)


def _rest(total: float, terms: list[Term], words: str) -> Term:
    """What is still wanting to a total."""
    rest = total - sum(t.value * t.count for t in terms)
    return Term(words, abs(rest), 1 if rest > 0 else -1)


def _as_far_as(tree: Tree, node: Node, start: float, axis: int, near: list[Node], far: list[Node]) -> list[Term]:
    """The walls, the base and their gains from the blank's edge up to a place, as many as are passed whole."""
    if node in near:
        at = near.index(node)
        whole = terms_of(near[at:])
        # To the outside of the wall's own bend: its height counts, its gain does not.
        own = node.bend.gain if node.bend is not None else 0.0
        inner = sum(t.value * t.count for t in whole) - own
        return [*whole, gain(own, -1)] if start >= inner - SEEN else terms_of(near[at + 1 :])
    passed = terms_of(near)
    base = float(np.ptp(tree.nodes[0].corners[:, axis]))
    ahead = [Term(tr("base"), base), *terms_of(far[: far.index(node)] if node in far else [])]
    if node in far and node.bend is not None:
        ahead.append(gain(node.bend.gain))
    for some in (ahead, ahead[:1]):
        if start >= sum(t.value for t in [*passed, *some]) - SEEN:
            return [*passed, *some]
    return passed
