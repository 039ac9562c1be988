"""The folded parts of a job or work file as glTF, a file each.

python part_to_gltf.py JOB.json FOLDER
"""

import sys
from pathlib import Path

import zealous_crane as zc


def main(path: Path, folder: Path) -> list[Path]:
    """Write the files; where they are."""
    folder.mkdir(parents=True, exist_ok=True)
    made = []
    for number, part in enumerate(zc.read(path).parts, 1):
        made.append(folder / f"part-{number}.glb")
        zc.write(part, made[-1])
    return made


if __name__ == "__main__":
    for made in main(Path(sys.argv[1]), Path(sys.argv[2])):
        print(made)
