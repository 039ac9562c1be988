"""A table of blanks for boxes whose sizes stand in a CSV file.

python blanks_from_csv.py sizes.csv
"""

import csv
import sys
from pathlib import Path

import zealous_crane as zc


def main(path: Path) -> None:
    """Print name, length and width of each blank, mm."""
    with path.open(encoding="utf-8", newline="") as file:
        for row in csv.DictReader(file):
            name = row.pop("name")
            try:
                blank = zc.develop(
                    zc.new_job(
                        {"kind": "open-box", **row},
                        name=name,
                        metal="aluminium-soft",
                        thickness="0.8 mm",
                    )
                )
            except zc.CraneError as error:
                print(f"{name}: {error.field or 'the part'}: {error}")
                continue
            length, width = blank.size
            print(f"{name}: {length:.1f} x {width:.1f}")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
