"""Text that wraps knows its heights, and they are the library's."""

import random

import pytest
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel

from zealous_crane.paint.theme import font
from zealous_crane.ui.widgets.widget import Wrapped

SAID = "bend the left wall up to ninety degrees before its hem is closed, then turn the tray end for end"  # noqa: E501
WORDS = SAID.split(" ")


def plain(text: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    return label


@pytest.mark.parametrize("seed", range(12))
def test_heights_are_those_of_the_library(qtbot, seed):
    rng = random.Random(seed)
    text = "\n".join(
        " ".join(rng.choices(WORDS, k=rng.randrange(1, 40))) for _ in range(rng.randrange(1, 3))
    )
    text = f"<b>{text}</b>" if seed % 4 == 3 else text
    label, other = Wrapped(text), plain(text)
    if seed % 4 == 3:
        # Whoever shows markup says so; else it is text.
        label.setTextFormat(Qt.TextFormat.RichText)
    for each in (label, other):
        qtbot.addWidget(each)
        each.setFont(font(rng.choice((8.5, 10, 15))) if each is label else label.font())
    for width in rng.choices(range(20, 900), k=120):
        assert label.heightForWidth(width) == other.heightForWidth(width)


def test_another_text_or_letter_has_another_height(qtbot):
    label = Wrapped("short")
    qtbot.addWidget(label)
    low = label.heightForWidth(200)
    label.setText(" ".join(WORDS * 3))
    high = label.heightForWidth(200)
    assert high > 3 * low
    label.setFont(font(20))
    assert label.heightForWidth(200) > high
    label.setTextFormat(Qt.TextFormat.PlainText)
    label.clear()
    assert label.heightForWidth(200) < high


def test_a_height_between_two_equal_ones_is_not_worked_out_again(qtbot, monkeypatch):
    label = Wrapped(" ".join(WORDS))
    qtbot.addWidget(label)
    high = label.heightForWidth(300)
    same = next(width for width in range(420, 300, -1) if label.heightForWidth(width) == high)
    monkeypatch.setattr(
        QLabel, "heightForWidth", lambda self, width: pytest.fail("broken into lines anew")
    )
    assert same > 301 and {label.heightForWidth(width) for width in range(300, same + 1)} == {high}
