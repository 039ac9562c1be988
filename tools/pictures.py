"""Pictures from the real window: the demonstration without a display, and docs/screenshots."""

from __future__ import annotations

import sys
import tempfile
from pathlib import Path

from views import (
    AT_THE_BRAKE,
    PAGES,
    hand_over,
    take_pictures,
    take_shop_pictures,
    take_start_picture,
)

from zealous_crane.demo import demo_job, demo_work
from zealous_crane.job.job import DrawnPart

ROOT = Path(__file__).resolve().parent.parent


def demo(folder: Path) -> None:
    """One picture of each stage and the three hand-over files."""
    made = take_pictures(demo_job(), folder) + hand_over(demo_job(), folder)
    print(f"No display: the window was run off screen. In {folder} there are now:")
    for path in made:
        print(f"  {path.name}")


def shots() -> None:
    """Every picture of docs/screenshots, from the demonstration jobs."""
    folder = ROOT / "docs" / "screenshots"
    take_pictures(demo_job(), folder, pages=tuple(page for page in PAGES if page != AT_THE_BRAKE))
    take_pictures(demo_job(), folder, pages=("bend",), prefix="round-", in_round=True)
    take_pictures(demo_work("hive-scale"), folder, pages=("shape",), prefix="fit-", part=1)
    opened = demo_job("inspection-tray")
    tree = DrawnPart(tree=opened.part.design(opened.sheet.thickness))
    take_pictures(
        opened.model_copy(update={"part": tree}), folder, pages=("shape",), prefix="design-"
    )
    take_pictures(demo_job("frame-rail"), folder, pages=("bend",), prefix="press-")
    chimneys = demo_work("wax-melter-chimney")
    dozen = tuple(part.model_copy(update={"quantity": 12}) for part in chimneys.parts)
    take_pictures(chimneys.model_copy(update={"parts": dozen}), folder, pages=("cut",))
    take_start_picture(folder / "start.png")
    with tempfile.TemporaryDirectory() as home:
        take_shop_pictures(folder, Path(home))
    too_deep = demo_job("deep-feeder")
    part = too_deep.part.model_copy(update={"depth": 4 * 25.4})
    take_pictures(
        too_deep.model_copy(update={"part": part, "name": "Feeder box, too deep"}),
        folder,
        pages=("bend",),
        prefix="no-",
    )


if __name__ == "__main__":
    if sys.argv[1] == "demo":
        demo(Path(sys.argv[2]))
    else:
        shots()
