"""Orders a hand would try first on a part with many bends: from one end to the other, from the tips inwards, from the base outwards.
Common practice, no source."""

from __future__ import annotations

from collections.abc import Sequence

from ...blank import Blank, MadeBy


def orders_by_rule(blank: Blank, strokes: Sequence[int]) -> list[list[int]]:
    """Orders of these folds, each once, hems before all else: none is flattened once a fold stands."""
    folds = blank.folds
    depth: dict[int, int] = {0: 0}
    for fold in folds:
        depth[fold.child] = depth.get(fold.parent, 0) + 1
    middle = {i: (folds[i].start + folds[i].end) / 2 for i in strokes}
    inward = sorted(strokes, key=lambda i: -depth[folds[i].child])
    rules = [inward]
    for axis in (0, 1):
        along = sorted(strokes, key=lambda i, axis=axis: float(middle[i][axis]))  # type: ignore[misc]
        rules += [along, along[::-1]]
    rules.append(inward[::-1])
    found: list[list[int]] = []
    for rule in rules:
        hems_first = sorted(rule, key=lambda i: folds[i].made_by is not MadeBy.HEM)
        if hems_first not in found:
            found.append(hems_first)
    return found
