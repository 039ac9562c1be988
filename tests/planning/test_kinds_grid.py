"""Every choice of every kind on every brake is planned or refused for a reason a person accepts;
docs/kinds.md says which."""

import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
sys.path.insert(0, str(ROOT / "tools"))

import kinds  # noqa: E402

EACH = 23
"""One of so many is planned here; ``tools/kinds.py`` plans all of them."""

GRID = kinds.grid()


def written():
    """(kind's label, choice, brake's name) of everything docs/kinds.md says is refused, and its
    first figures."""
    found, label = set(), ""
    text = (ROOT / "docs" / "kinds.md").read_text(encoding="utf-8")
    for line in text.partition("## Refused")[2].splitlines():
        if line.startswith("### "):
            label = line.removeprefix("### ")
        elif line.startswith("| ") and not line.startswith("| choice"):
            choice, brake, _ = (cell.strip() for cell in line.strip("|").split("|", 2))
            found.add((label, choice, brake))
    return found, text


def test_the_document_counts_the_whole_grid():
    refused, text = written()
    assert (
        f"{len(GRID)} plans: {len(GRID) - len(refused)} can be made, {len(refused)} cannot" in text
    )


@pytest.mark.parametrize("block", range(4))
def test_one_of_many_is_as_the_document_says(block, rack):
    labels = {kind.model_fields["kind"].default: kind.label for kind in kinds.KINDS}
    refused, _ = written()
    for asked in GRID[block::4][::EACH]:
        one = kinds.tried(asked)
        key = (labels[one.kind], one.choice or "as shown", rack[one.brake].name)
        assert one.made == (key not in refused), (key, one.says)
        if not one.made:
            # A reason, not the end of patience.
            assert one.says.endswith(".") and "no proof" not in one.says and len(one.says) > 40, (
                one.says
            )
