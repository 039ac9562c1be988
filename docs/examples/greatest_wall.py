"""The greatest wall of a box that a brake still bends, by halving.

python greatest_wall.py apiary-finger-50
"""

import sys

import zealous_crane as zc


def goes(depth: float, brake: str) -> bool:
    """True when a box of that depth (mm) can be made."""
    box = zc.new_job(
        {"kind": "open-box", "length": 250, "width": 180, "depth": depth},
        thickness="0.8 mm",
        brake=brake,
        units="mm",
    )
    return zc.plan(box, remedies=False).feasible


def main(brake: str, low: float = 20.0, high: float = 400.0) -> None:
    """Print the greatest depth between two, to the millimetre."""
    if not goes(low, brake):
        print(f"not even {low:g} mm")
        return
    while high - low > 1.0:
        middle = (low + high) / 2
        low, high = (middle, high) if goes(middle, brake) else (low, middle)
    print(f"{low:.0f} mm")


if __name__ == "__main__":
    main(sys.argv[1])
