"""The cutting list of a work: sheets, and every setting of the shear's stop in running order.

python cutting_list.py WORK.json
"""

import sys
from pathlib import Path

import zealous_crane as zc
from zealous_crane.cutting.summary import setting_lines


def main(path: Path) -> None:
    """Print the list."""
    work = zc.read(path)
    for summary in zc.cut(work):
        print(f"{summary.lot.name}: {summary.says}")
        for line in setting_lines(summary, work.parts[0].units):
            print(f"  {line}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
