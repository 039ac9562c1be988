"""Pictures from the real window: the demonstration without a display, and docs/screenshots."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QImage, QPainter
from views import (
    AT_THE_BRAKE,
    PAGES,
    hand_over,
    take_pictures,
    take_shop_pictures,
    take_start_picture,
)

from zealous_crane import api
from zealous_crane.cutting.summary import lines_on, sheet_title
from zealous_crane.demo import demo_job, demo_work
from zealous_crane.flat.marking import mark_out
from zealous_crane.flat.ruler import Striking
from zealous_crane.inspection.wording import show_measure
from zealous_crane.job.job import DrawnPart
from zealous_crane.paint.application import application
from zealous_crane.paint.brake import paint_end, paint_front
from zealous_crane.paint.flat import FlatOptions, paint_corner, paint_flat
from zealous_crane.paint.folded import paint_folded
from zealous_crane.paint.machine_view import EYE, Shot, film_shot, paint_moment
from zealous_crane.paint.sheets import SheetPicture, paint_sheet_cut
from zealous_crane.paint.sizes import paint_measure
from zealous_crane.paint.theme import LIGHT
from zealous_crane.planning.motion import JobMotion, clamped

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
    manual()


PAGE = QSize(640, 300)
"""Pixels of a picture in the manual."""


def manual() -> None:
    """The pictures of the manual: most are painted, those of whole pages taken from
    docs/screenshots."""
    folder = ROOT / "src" / "zealous_crane" / "ui" / "manual" / "pictures"
    folder.mkdir(exist_ok=True)
    application()
    for name, paint in _painted().items():
        image = QImage(PAGE, QImage.Format.Format_RGB32)
        image.fill(LIGHT.color("bench"))
        p = QPainter(image)
        paint(p, QRectF(0, 0, PAGE.width(), PAGE.height()))
        p.end()
        image.save(str(folder / f"{name}.png"))
    for name, shot in SHOTS.items():
        whole = QImage(str(ROOT / "docs" / "screenshots" / f"{shot}.png"))
        whole.scaledToWidth(PAGE.width(), Qt.TransformationMode.SmoothTransformation).save(
            str(folder / f"{name}.png")
        )


SHOTS = {
    "start": "shape",
    "work": "at-the-bench",
    "shop": "own-brake",
    "practice": "practice",
    "bend-allowance": "coupon",
}
"""Pictures of the manual by the picture of docs/screenshots they are made from."""


def _painted() -> dict[str, Callable[[QPainter, QRectF], object]]:
    """What is painted for the manual, all of one tray."""
    work = demo_work("syrup-tray")
    job, flat = work.parts[0], api.develop(work.parts[0])
    plan = api.plan(job)
    marking, motion = mark_out(flat, job.units, Striking.of(job)), JobMotion(plan)
    (told,) = api.cut(work)
    size = next(s for s in api.inspection_of(job).lines if "inside" in s.measure.says)
    last, shot = plan.strokes[-1], film_shot(motion, EYE)

    def laid_out(p: QPainter, rect: QRectF) -> None:
        left, right = _halves(rect)
        options = FlatOptions(dimensions=False, text=12, lit=marking.scribe[0], tags=False)
        paint_flat(p, left, flat, job.units, LIGHT, options)
        paint_corner(p, right, marking.corners[0], job.units, LIGHT, text=13)

    def cut(p: QPainter, rect: QRectF) -> None:
        title = sheet_title(told, 0, job.units)
        paint_sheet_cut(
            p, rect, SheetPicture(told.sheets[0], title, job.units, lines_on(told, 0), 2), LIGHT
        )

    def bent(p: QPainter, rect: QRectF) -> None:
        left, right = _halves(rect)
        paint_end(p, left, last, last.verdict.reach, LIGHT)
        paint_moment(p, right, clamped(last, last.verdict.reach), LIGHT, Shot())

    def turned(p: QPainter, rect: QRectF) -> None:
        left, right = _halves(rect)
        for part, share in ((left, 0.5), (right, 1.6)):
            at = motion.begin_of(last.number) + share
            paint_moment(p, part, motion.moment(at), LIGHT, shot)

    def measured(p: QPainter, rect: QRectF) -> None:
        scale = paint_folded(p, rect, flat, LIGHT, turn=28.0, tilt=35.0)
        text = show_measure(size.measure, size.wanted, job)
        paint_measure(p, rect, flat, size.measure, text, LIGHT, scale, turn=28.0, tilt=35.0)

    return {
        "shape": lambda p, rect: paint_folded(p, rect, flat, LIGHT, turn=28.0, tilt=35.0),
        "lay-out": laid_out,
        "cut": cut,
        "tool-up": lambda p, rect: paint_front(p, rect, last, job.units, LIGHT, text=12),
        "bend": bent,
        "film": turned,
        "check": measured,
        "cautions": lambda p, rect: paint_moment(p, rect, clamped(last, 40.0), LIGHT, Shot()),
    }


def _halves(rect: QRectF) -> tuple[QRectF, QRectF]:
    half = rect.width() / 2 - 6
    return (
        QRectF(rect.left(), rect.top(), half, rect.height()),
        QRectF(rect.right() - half, rect.top(), half, rect.height()),
    )


if __name__ == "__main__":
    if sys.argv[1] == "demo":
        demo(Path(sys.argv[2]))
    else:
        shots()
