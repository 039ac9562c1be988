"""Random design trees: each is developed into a sound flat, or refused with a sentence."""

import numpy as np
import pytest
import shapely
from pydantic import ValidationError

import solids
from random_trees import random_tree_job
from zealous_crane.flat.development import check_developable, develop
from zealous_crane.flat.element import DevelopmentError
from zealous_crane.flat.handles import handles
from zealous_crane.flat.marking import mark_out
from zealous_crane.io.plan_file import blank_record


def try_tree(seed):
    """The blank and its job; None when the tree was refused in words."""
    try:
        job = random_tree_job(seed)
        blank = develop(job)
    except (DevelopmentError, ValidationError) as error:
        assert len(str(error)) > 20
        return None
    return job, blank


def check_tree(seed):
    made = try_tree(seed)
    if made is None:
        return False
    job, blank = made
    outline = shapely.Polygon(blank.outline.flattened())
    assert (
        outline.is_valid and outline.exterior.is_ccw and len(blank.folds) == len(blank.panels) - 1
    )
    shapes = [shapely.Polygon(p.polygon) for p in blank.panels]
    ears = {f.child for f in blank.folds if f.name.endswith(" ear") or f.name.endswith("far half")}
    for i, one in enumerate(shapes):
        assert one.is_valid, blank.panels[i].name
        assert sum(shapely.Polygon(p).area for p in blank.panels[i].pieces) == pytest.approx(
            one.area, rel=1e-6
        )
        for j in range(i):
            assert one.intersection(shapes[j]).area < 2e-3 or {i, j} & ears
    assert blank.area + sum(abs(h.path.area) for h in blank.holes) + blank.waste == pytest.approx(
        blank.size[0] * blank.size[1], rel=1e-3, abs=2
    )
    # Every sum that opens ends in the size it explains.
    assert [blank.sums[0].total, blank.sums[1].total] == pytest.approx(blank.size, abs=1e-6)
    marking = mark_out(blank)
    assert all(0 <= s.setting <= max(blank.size) for s in marking.scribe) and handles(job).edges
    # The written record folds up by other code into rigid panels whose fold lines stay where both
    # panels have them.
    record = blank_record(blank, job)
    poses = solids.placed(record, [0.0] * len(blank.folds), 0)
    assert all(np.allclose(p, np.column_stack([np.eye(3), np.zeros(3)]), atol=1e-6) for p in poses)
    return True


@pytest.mark.parametrize("start", range(0, 160, 20))
def test_random_trees(start):
    done = [check_tree(seed) for seed in range(start, start + 20)]
    assert any(done)


def test_a_part_is_refused_in_the_same_words_without_its_flat():
    refused = 0
    for seed in range(150):
        try:
            job = random_tree_job(seed)
        except ValidationError:
            continue
        said = []
        for ask in (develop, check_developable):
            try:
                ask(job)
                said.append("")
            except DevelopmentError as error:
                said.append(str(error))
        assert said[0] == said[1], seed
        refused += bool(said[0])
    assert refused > 20
