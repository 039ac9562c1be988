"""Answers that are kept with what they belong to."""

from zealous_crane.measure.once import once


class Sheet:
    asked = 0

    def __init__(self, width):
        self.width = width

    @once
    def area(self):
        """Square."""
        self.asked += 1
        return self.width**2


class Grown(Sheet):
    @once
    def area(self):
        return super().area + 1


def test_it_is_worked_out_once_for_each():
    one, other = Sheet(3), Sheet(4)
    assert (one.area, one.area, other.area, one.asked, other.asked) == (9, 9, 16, 1, 1)


def test_what_fails_is_asked_again():
    sheet = Sheet(None)
    for _ in range(2):
        try:
            sheet.area  # noqa: B018
        except TypeError:
            continue
        raise AssertionError("nothing was refused")
    assert sheet.asked == 2


def test_the_class_shows_what_it_is_and_may_be_built_upon():
    assert Sheet.area.__doc__ == "Square." and Grown(3).area == 10
