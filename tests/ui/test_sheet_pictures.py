"""Pictures of sheets: what is drawn where, read back from the pixels."""

import string

import pytest
from PySide6.QtCore import QRectF
from PySide6.QtGui import QImage, QPainter

from zealous_crane import api
from zealous_crane.demo import DEMOS, demo_job, demo_work
from zealous_crane.paint.sheets import SheetPicture, letter, paint_sheet_cut, sheet_scale
from zealous_crane.paint.theme import LIGHT

RECT = QRectF(0, 0, 640, 420)


@pytest.fixture(scope="module")
def sheet():
    return api.cut(demo_work(next(iter(DEMOS))))[0].sheets[0]


def drawn(picture):
    image = QImage(640, 420, QImage.Format.Format_RGB32)
    image.fill(LIGHT.color("bench"))
    p = QPainter(image)
    paint_sheet_cut(p, RECT, picture, LIGHT)
    p.end()
    return image


def test_blanks_go_by_letters_and_then_by_two():
    assert [letter(n) for n in range(26)] == list(string.ascii_uppercase)
    assert [letter(n) for n in (26, 27, 51, 52, 701, 702)] == ["AA", "AB", "AZ", "BA", "ZZ", "AAA"]


def test_a_sheet_lies_inside_its_picture_the_datum_corner_below_on_the_left(sheet):
    scale = sheet_scale(RECT, sheet, 12)
    corner, far = scale.point(0, 0), scale.point(sheet.stock.length, sheet.stock.width)
    assert RECT.contains(corner) and RECT.contains(far)
    assert corner.x() < far.x() and corner.y() > far.y()
    sides = (far.x() - corner.x()) / (corner.y() - far.y())
    assert sides == pytest.approx(sheet.stock.length / sheet.stock.width)


def test_every_blank_is_seen_where_it_is_cut_from(sheet):
    full = drawn(SheetPicture(sheet, "One", demo_job().units))
    scale = sheet_scale(RECT, sheet, 12)
    colours = set()
    for place in sheet.placed:
        # A quarter in from the corner: the name stands in the middle.
        at = scale.point(place.x + place.length / 4, place.y + place.width / 4).toPoint()
        colours.add(full.pixelColor(at).name())
    outside = full.pixelColor(scale.point(-10 / scale.factor, -10 / scale.factor).toPoint()).name()
    assert len(colours) == 1 and outside not in colours
