"""Every part of a job or work file planned: the verdict, each stroke with its stop, and what would
help where one is stuck.

python check_plan.py JOB.json
"""

import sys
from pathlib import Path

import zealous_crane as zc


def main(path: Path) -> bool:
    """Print the plans; True when every part can be made."""
    good = True
    for part in zc.read(path).parts:
        plan = zc.plan(part)
        print(f"{part.name}: {plan.sentence}")
        for stroke in plan.strokes:
            verdict = stroke.verdict
            left = f", {verdict.by_hand:.1f} by hand" if verdict.by_hand else ""
            print(
                f"  {stroke.number}. {stroke.name}: stop at {verdict.wanted:.1f} degrees of "
                f"{verdict.reach:.1f}{left}"
            )
        for remedy in plan.cures:
            print(f"  would help: {remedy.sentence}")
        good = good and plan.feasible
    return good


if __name__ == "__main__":
    sys.exit(0 if main(Path(sys.argv[1])) else 3)
