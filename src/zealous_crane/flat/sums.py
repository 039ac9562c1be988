"""The sums a hand would add up, from the tree of panels."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np

from .._typing import Array
from ..i18n import Phrase, Raised, msg, the
from ..job.job import Job
from ..part.design import Base, Design
from ..part.edge import EDGE_WORDS, Edge, Measured
from ..units.sums import Sum, SumKind, Term
from .cutout import place_on
from .element import to_inside
from .features import Hole
from .node import Node, Tree
from .outline import Flat

GAIN = msg("gain of the bend (BA − 2·r·tan θ/2)")
SIDES = (
    ("left", np.array([-1.0, 0.0])),
    ("right", np.array([1.0, 0.0])),
    ("front", np.array([0.0, -1.0])),
    ("back", np.array([0.0, 1.0])),
)

WRITTEN = {
    (Measured.INSIDE, "length"): msg("inside length"),
    (Measured.INSIDE, "width"): msg("inside width"),
    (Measured.OUTSIDE, "length"): msg("outside length"),
    (Measured.OUTSIDE, "width"): msg("outside width"),
    (Measured.FLAT, "length"): msg("flat length"),
    (Measured.FLAT, "width"): msg("flat width"),
}
"""A base's size as it was written."""

TO_INSIDE = {
    Measured.OUTSIDE: msg("outside corner to inside corner"),
    Measured.INSIDE: msg("bend to inside corner"),
    Measured.FLAT: msg("bend line to inside corner"),
}
"""What lies between how a size was written and the inside corner."""

EXACT = 1e-9
"""mm; an allowance below this is none: the metal is folded on the line."""

ROUNDING = 5e-4
"""mm; a sum that leaves out less than this is whole."""

STRAIGHT = 0.05
"""Degrees by which a panel may lean and still runs straight out."""

SEEN = 0.02
"""mm; a line of a sum this near a corner of the blank is that line."""


def merged(terms: list[Term]) -> tuple[Term, ...]:
    """Equal summands written once with their count; nothing that is zero."""
    kept: list[Term] = []
    for term in terms:
        same = next(
            (t for t in kept if t.what == term.what and abs(t.value - term.value) < 1e-9), None
        )
        if same is not None:
            kept[kept.index(same)] = replace(same, count=same.count + term.count)
        else:
            kept.append(term)
    return tuple(t for t in kept if abs(t.value) > 1e-9 and t.count)


def chains(tree: Tree, panels: tuple[Array | None, ...]) -> dict[str, list[Node]]:
    """For every side of the flat, the panels from the base's child to the one that reaches farthest
    there, if each stands squarely beyond the last."""
    rings = [
        r if r is not None else node.frame.to_flat(node.corners)
        for node, r in zip(tree.nodes, panels, strict=True)
    ]
    first = np.cumsum([0, *(len(ring) for ring in rings[:-1])])
    ways = np.array([way for _, way in SIDES])
    reaches = np.maximum.reduceat(np.concatenate(rings) @ ways.T, first, axis=0)
    return {side: _chain(tree, reaches[:, k].tolist(), way) for k, (side, way) in enumerate(SIDES)}


def _chain(tree: Tree, reaches: list[float], direction: Array) -> list[Node]:
    """The panels to the one that reaches farthest; where another, as the ear beside a wall, reaches
    a hair farther askew, those that stand squarely."""
    far = max(reaches)
    farthest = sorted(
        (i for i, reach in enumerate(reaches) if reach > far - SEEN),
        key=lambda i: (-round(reaches[i], 6), i),
    )
    chains = [_squarely(tree, i, direction) for i in farthest]
    return chains[0] if 0 in farthest[:1] else next((chain for chain in chains if chain), [])


def _squarely(tree: Tree, best: int, direction: Array) -> list[Node]:
    """The panels from the base to one, where each stands squarely beyond the last; else none."""
    nodes: list[Node] = []
    while best > 0:
        node = tree.nodes[best]
        if node.frame.v @ direction < 1 - 1e-9:
            nodes = []
        else:
            nodes.insert(0, node)
        best = node.parent
    if nodes and nodes[0].parent != 0:
        return []
    return nodes


def terms_of(chain: list[Node]) -> list[Term]:
    terms: list[Term] = []
    skip: set[int] = set()
    for node in chain:
        element = node.element
        if element is None or node.index in skip:
            continue
        if element.flat is not None:
            terms.append(Term(element.word, element.flat))
            skip |= {n.index for n in chain if n.parent == node.index}
            continue
        terms.append(Term(element.word, element.height))
        if element.bend is not None:
            terms.append(gain(element.bend.gain))
    return gains_last(terms)


def gain(value: float, count: int = 1) -> Term:
    """What a bend gains, as a term."""
    return Term(GAIN, value, count, by_bend=True)


def gains_last(terms: list[Term]) -> list[Term]:
    """Heights first, gains after, as a hand writes them."""
    return sorted(terms, key=lambda term: term.by_bend)


def blank_sums(
    job: Job, design: Design, tree: Tree, flat: Flat, chains: dict[str, list[Node]]
) -> tuple[Sum, ...]:
    """Blank length and width, fold lines and notch lines from their edges, the relief.

    Args:
        job: the job.
        design: the design tree.
        tree: the panels grown from the design.
        flat: the panels laid flat.
        chains: the ways from edge to edge.
    """
    left, low, right, high = flat.outline.bounds
    source = job.chosen_school.source
    sums = [
        _span(job, design, tree, "length", right - left, chains["left"], chains["right"], source),
        _span(job, design, tree, "width", high - low, chains["front"], chains["back"], source),
    ]
    corners = flat.outline.points
    for side, way in SIDES:
        edge = float((np.array([[left, low], [right, high]]) @ way).max())
        drawn = edge - corners @ way
        for k, node in enumerate(chains[side]):
            if node.bend is None or node.element is None:
                continue
            beyond = terms_of(chains[side][k:])
            if node.element.flat is not None:
                line = node.element.flat - node.bend.line_to_inside
                terms = [
                    Term(node.element.word, node.element.flat),
                    Term(msg("half the gain of the bend"), node.bend.line_to_inside, -1),
                ]
                assert line > 0
            else:
                terms = [t for t in beyond if not t.by_bend]
                gains = [t for t in beyond if t.by_bend]
                terms += [
                    *gains[1:],
                    Term(msg("half the gain of the bend"), node.bend.line_to_inside),
                ]
            name = EDGE_WORDS[side] if k == 0 and node.name == f"{side} wall" else node.name
            line = edge - float(node.frame.point(0.0, -node.bend.line_to_inside) @ way)
            terms += _rest(line, terms)
            what = msg(
                "{name} fold line from the {side} edge", name=Raised(name), side=EDGE_WORDS[side]
            )
            sums.append(
                Sum(
                    what,
                    merged(terms),
                    msg("The line lies in the middle of the allowance."),
                    SumKind.LINE,
                )
            )
            meets = k == 0 and any(
                line is not None and line.meets
                for n in _beside(tree, node)
                for line in (n.left, n.right)
            )
            if meets and len(chains[side]) == 1 and node.name == f"{side} wall":
                notch = Sum(
                    msg(
                        "{capitalize} notch line from the {side} edge",
                        capitalize=Raised(EDGE_WORDS[side]),
                        side=EDGE_WORDS[side],
                    ),
                    merged(
                        [
                            *beyond,
                            Term(msg("corner gap"), tree.gap),
                            *_to_the_rule(job, node, tree.gap),
                        ]
                    ),
                    msg("Each wall ends short of its neighbour's inside face by the gap."),
                    SumKind.LINE,
                )
                # Where the neighbour's end is cut otherwise there is no such line.
                if (np.abs(drawn - notch.total) < SEEN).any():
                    sums.append(notch)
    sums += _corner_sums(tree, flat)
    if tree.rounded > SEEN:
        sums.append(
            Sum(
                msg("Notch lines put on the {ruler}", ruler=job.ruler),
                (Term(msg("farthest one was moved"), tree.rounded),),
                msg(
                    "Always towards a larger notch: a corner stands open by that much more, and "
                    "never binds."
                ),
                SumKind.RELIEF,
            )
        )
    return tuple(sums)


def _to_the_rule(job: Job, node: Node, gap: float) -> list[Term]:
    """What a notch line was moved by to lie on a tick of the rule."""
    if job.tick is None or node.bend is None or node.bend.allowance > EXACT:
        return []
    return [
        Term(
            msg("on to the {ruler}", ruler=job.ruler),
            math.ceil(gap / job.tick - 1e-6) * job.tick - gap,
        )
    ]


def _beside(tree: Tree, node: Node) -> list[Node]:
    return [n for n in tree.nodes[1:] if n.parent == node.parent and n.index != node.index]


def _corner_sums(tree: Tree, flat: Flat) -> list[Sum]:
    sums: list[Sum] = []
    cut = next(
        (c for c in flat.cuts if c.relief is not None and c.relief.size and c.relief.at_corner),
        None,
    )
    if cut is not None and cut.relief is not None:
        sums.append(
            Sum(
                msg("Corner relief"),
                (Term(msg("diameter or side"), cut.relief.size),),
                cut.rule,
                SumKind.RELIEF,
            )
        )
    for node in tree.nodes[1:]:
        element = node.element
        if element is not None and element.tab is not None and element.bend is not None:
            sums.append(
                Sum(
                    msg("Flat length of {name}", name=the(node.name)),
                    merged(
                        [
                            Term(msg("tab, inside length"), element.height),
                            Term(GAIN, element.bend.gain),
                        ]
                    ),
                    msg("Along the neighbour, from the inside corner."),
                    SumKind.SHAPE,
                )
            )
            break
    return sums


def _leaning(tree: Tree, way: Array) -> list[Term]:
    """How far the panel that reaches farthest to a side does so beyond the base, where its fold
    runs askew: along the fold, and out from it, each by its share of that side's direction.
    """
    rings = [node.frame.to_flat(node.corners) for node in tree.nodes]
    reaches = [float((ring @ way).max()) for ring in rings]
    best = max(range(len(reaches)), key=reaches.__getitem__)
    if best == 0:
        return []
    corner, path = tree.nodes[best].corners[int((rings[best] @ way).argmax())], [tree.nodes[best]]
    while path[0].parent > 0:
        path.insert(0, tree.nodes[path[0].parent])
    begun = float(path[0].frame.origin @ way) - reaches[0]
    parts: list[tuple[Phrase, float]] = [
        (
            msg("from the base's farthest corner to the fold of {name}", name=the(_word(path[0]))),
            begun,
        )
    ]
    for node, following in zip(path, [*path[1:], None], strict=True):
        on = (
            following.frame.origin if following is not None else node.frame.point(*corner.tolist())
        ) - node.frame.origin
        shares = float(node.frame.u @ way), float(node.frame.v @ way)
        turned, word = math.degrees(math.acos(min(1.0, max(-1.0, shares[1])))), _word(node)
        out = (
            word
            if turned < STRAIGHT
            else msg("{name}, out from its fold × cos {angle:.1f}°", name=word, angle=turned)
        )
        along = msg("{name}, along its fold × sin {angle:.1f}°", name=word, angle=turned)
        parts += [
            (along, float(on @ node.frame.u) * shares[0]),
            (out, float(on @ node.frame.v) * shares[1]),
        ]
    return [
        Term(what, abs(value), 1 if value > 0 else -1)
        for what, value in parts
        if abs(value) > ROUNDING
    ]


def _word(node: Node) -> Phrase:
    """What a panel is called in a sum."""
    return node.name if node.element is None else node.element.word


def _rest(total: float, terms: list[Term]) -> list[Term]:
    """What the terms leave out of a size: metal that stands out beyond them, or is cut away."""
    rest = total - sum(t.value * t.count for t in terms)
    if abs(rest) <= ROUNDING:
        return []
    return [
        Term(
            msg("to the outermost corner") if rest > 0 else msg("less, cut away"),
            abs(rest),
            1 if rest > 0 else -1,
        )
    ]


def _span(  # noqa: PLR0913
    job: Job,
    design: Design,
    tree: Tree,
    word: str,
    total: float,
    low: list[Node],
    high: list[Node],
    source: Phrase,
) -> Sum:
    base = design.base
    if isinstance(base, Base):
        written = base.length if word == "length" else base.width
        terms = [Term(WRITTEN[base.measured, word], written)]
        edges = (
            (Edge.LEFT.turn, Edge.RIGHT.turn)
            if word == "length"
            else (Edge.FRONT.turn, Edge.BACK.turn)
        )
        for node in tree.nodes[1:]:
            if node.parent == 0 and node.edge in edges and node.bend is not None:
                off = to_inside(base.measured, node.bend, job.datum)
                if off:
                    terms.append(Term(TO_INSIDE[base.measured], abs(off), 1 if off > 0 else -1))
    else:
        axis = 0 if word == "length" else 1
        corners = np.array(base.corners)
        terms = [
            Term(
                msg("base length") if word == "length" else msg("base width"),
                float(corners[:, axis].max() - corners[:, axis].min()),
            )
        ]
    both = terms_of(low) + terms_of(high)
    terms += gains_last(both)
    sides = (
        (("left", low), ("right", high)) if word == "length" else (("front", low), ("back", high))
    )
    terms += [
        term for side, chain in sides if not chain for term in _leaning(tree, dict(SIDES)[side])
    ]
    terms += _rest(total, terms)
    return Sum(
        msg("Blank length") if word == "length" else msg("Blank width"),
        merged(terms),
        source,
        SumKind.BLANK,
    )


MOST = 24
"""Holes with sums of their own; a panel with more of them is a pattern, laid out by its points."""

SQUARE = 1 - 1e-9
"""Cosine of a panel that lies squarely on the flat."""

HOLE_TOLERANCE = 1e-6
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
        holes: holes of the design, in its order, where they lie before the blank is moved to its
            corner.
        chains: the panels that reach farthest on every side.
    """
    low = flat.outline.bounds[:2]
    sums: list[Sum] = []
    for cutout, hole in list(zip(design.cutouts, holes, strict=False))[:MOST]:
        node = next(n for n in tree.nodes if n.name == cutout.panel)
        for axis, near, far in ((0, "left", "right"), (1, "front", "back")):
            along_u = abs(float(node.frame.u[axis])) > SQUARE
            if not along_u and abs(float(node.frame.v[axis])) < SQUARE:
                continue
            place = cutout.x if along_u else cutout.y
            at = place_on(
                tree,
                node,
                place.model_copy(update={"value": 0.0}),
                0 if along_u else 1,
                flat.polygon,
            )
            start = (
                float((node.frame.point(at, 0.0) if along_u else node.frame.point(0.0, at))[axis])
                - low[axis]
            )
            terms = _as_far_as(tree, node, start, axis, chains[near], chains[far])
            terms.append(
                _hole_rest(
                    start,
                    terms,
                    msg(
                        "to the {edge} of {name}", edge=EDGE_WORDS[place.edge], name=the(node.name)
                    ),
                )
            )
            terms.append(_hole_rest(float(hole.centre[axis]) - low[axis], terms, msg("given")))
            name = msg(
                "{name}, from the {near} edge", name=Raised(hole.name), near=EDGE_WORDS[near]
            )
            sums.append(Sum(name, merged(terms), msg("To its centre, on the flat."), SumKind.LINE))
    return tuple(sums)


def _hole_rest(total: float, terms: list[Term], words: Phrase) -> Term:
    """What is still wanting to a total."""
    rest = total - sum(t.value * t.count for t in terms)
    return Term(words, abs(rest), 1 if rest > 0 else -1)


def _as_far_as(
    tree: Tree, node: Node, start: float, axis: int, near: list[Node], far: list[Node]
) -> list[Term]:
    """The walls, the base and their gains from the blank's edge up to a place, as many as are
    passed whole."""
    if node in near:
        at = near.index(node)
        whole = terms_of(near[at:])
        # To the outside of the wall's own bend: its height counts, its gain does not.
        own = node.bend.gain if node.bend is not None else 0.0
        inner = sum(t.value * t.count for t in whole) - own
        return (
            [*whole, gain(own, -1)] if start >= inner - HOLE_TOLERANCE else terms_of(near[at + 1 :])
        )
    passed = terms_of(near)
    base = float(np.ptp(tree.nodes[0].corners[:, axis]))
    ahead = [Term(msg("base"), base), *terms_of(far[: far.index(node)] if node in far else [])]
    if node in far and node.bend is not None:
        ahead.append(gain(node.bend.gain))
    for some in (ahead, ahead[:1]):
        if start >= sum(t.value for t in [*passed, *some]) - HOLE_TOLERANCE:
            return [*passed, *some]
    return passed
