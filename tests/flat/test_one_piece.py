"""Panels and strips walked round as one piece: against a general geometry library that overlays
them."""

from types import SimpleNamespace

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

from random_trees import random_tree_job
from zealous_crane.flat import outline as flat
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.outline import one_piece
from zealous_crane.flat.panel_tree import grown

BASE = np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)])
"""A panel whose back edge runs from (10, 10) to (0, 10)."""


def box(left, low, right, high):
    """A rectangle from its corner front left."""
    return np.array([(left, low), (right, low), (right, high), (left, high)], dtype=float)


def walked(*carried, base=BASE):
    """A base and what it carries, each a panel with its strip."""
    nodes = [
        SimpleNamespace(parent=-1),
        *(SimpleNamespace(parent=parent) for parent, _, _ in carried),
    ]
    return one_piece(
        nodes,
        [base, *(panel for _, panel, _ in carried)],
        [None, *(strip for _, _, strip in carried)],
    )


def test_a_strip_wider_than_the_edge_it_stands_on_and_than_its_panel():
    found = walked((0, box(2, 12, 8, 20), box(-1, 10, 11, 12)))
    expected = shapely.union_all(
        [shapely.box(0, 0, 10, 10), shapely.box(-1, 10, 11, 12), shapely.box(2, 12, 8, 20)]
    )
    assert found.exterior.is_ccw and found.equals(expected)


def test_two_flanges_on_one_edge_and_one_upon_the_other():
    found = walked(
        (0, box(0, 11, 4, 15), box(0, 10, 4, 11)),
        (0, box(6, 11, 9, 15), box(6, 10, 9, 11)),
        (1, box(1, 16, 3, 18), box(1, 15, 3, 16)),
    )
    assert found.area == pytest.approx(100 + 20 + 15 + 2 * 3)
    assert found.bounds == (0, 0, 10, 18) and len(found.interiors) == 0


def test_flanges_side_by_side_of_which_one_reaches_past_the_edge():
    found = walked(
        (0, box(1, 11, 4, 15), box(1, 10, 4, 11)), (0, box(6, 11, 19, 15), box(6, 10, 19, 11))
    )
    assert found.area == pytest.approx(100 + 3 * 5 + 13 * 5) and found.bounds == (0, 0, 19, 15)


def test_a_bend_that_takes_no_metal_is_a_line():
    found = walked(
        (0, box(1, 10, 9, 14), np.array([(1, 10), (9, 10), (9, 10), (1, 10)], dtype=float))
    )
    assert found.area == 100 + 32 and found.equals(
        shapely.union_all([shapely.box(0, 0, 10, 10), shapely.box(1, 10, 9, 14)])
    )


@pytest.mark.parametrize(
    "carried",
    [
        # A strip off its carrier's line; a panel off its strip's.
        [(0, box(0, 12.1, 10, 20), box(0, 10.1, 10, 12.1))],
        [(0, box(0, 12.1, 10, 20), box(0, 10, 10, 12))],
        # Beside the edge on the same line.
        [(0, box(11, 12, 15, 20), box(11, 10, 15, 12))],
        # No strip at all.
        [(0, box(0, 12, 10, 20), None)],
        # Two that lie over each other, and two that lie against each other.
        [(0, box(0, 12, 6, 20), box(0, 10, 6, 12)), (0, box(4, 12, 10, 20), box(4, 10, 10, 12))],
        [(0, box(0, 12, 5, 20), box(0, 10, 5, 12)), (0, box(5, 12, 10, 20), box(5, 10, 10, 12))],
    ],
)
def test_what_has_to_be_overlaid_is_not_walked(carried):
    assert walked(*carried) is None


def test_random_trees_as_the_library_overlays_them(monkeypatch):
    walks = []

    def noted(nodes, panels, strips):
        walks.append((one_piece(nodes, panels, strips), panels))
        return walks[-1][0]

    monkeypatch.setattr(flat, "one_piece", noted)
    alike = overlaid = 0
    for seed in range(120):
        try:
            job = random_tree_job(seed)
            begun = grown(job)
            flat.lay_flat(job, begun)
        except (DevelopmentError, ValidationError):
            continue
        found, panels = walks[-1]
        if found is None:
            overlaid += 1
            continue
        pieces = flat.polygons(
            [ring for ring in panels if ring is not None] + flat._joining(begun.tree)
        )
        whole = shapely.union_all(pieces)
        # The library's strips reach a hair into the panels.
        assert (
            found.exterior.is_ccw and found.symmetric_difference(whole).area < 3e-6 * whole.length
        )
        assert shapely.hausdorff_distance(found.exterior, whole.exterior) < 3e-6
        alike += 1
    assert alike > 30 and overlaid > 5
