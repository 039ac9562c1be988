"""Words of a PDF, read back glyph by glyph with a library that draws such pages: what is said
where, and how wide it stands there."""

from __future__ import annotations

import math
from ctypes import addressof, byref, c_float
from pathlib import Path
from typing import NamedTuple

import pypdfium2
from pypdfium2 import raw

GAP = 1.6
"""A glyph that begins farther than this from where the one before began, in heights of the letters,
begins a new run."""


class Run(NamedTuple):
    """Words in one line.

    Attributes:
        x, y: points from the lower left corner, of the first letter's baseline.
        tall: height of the letters, points.
        wide: from the first letter to the end of the last one's ink, points along the line.
        words: what they are.
        level: True where the line runs to the right.
    """

    x: float
    y: float
    tall: float
    wide: float
    words: str
    level: bool


class Sheet(NamedTuple):
    """A page: its width and height, points, and what stands on it in the order it was drawn."""

    size: tuple[float, float]
    runs: list[Run]

    @property
    def text(self) -> str:
        return " ".join(" ".join(run.words for run in self.runs).split())


def pages(path: Path) -> list[Sheet]:
    """Every page of a document."""
    document = pypdfium2.PdfDocument(path)
    try:
        return [Sheet(page.get_size(), _runs(page)) for page in document]
    finally:
        document.close()


RAISED = str.maketrans("⁰¹²³⁴⁵⁶⁷⁸⁹₀₁₂₃₄₅₆₇₈₉⁄", "01234567890123456789/")


def typed(words: str) -> str:
    """Words as they are found in a document: fractions as they are typed."""
    return " ".join(str(words).split()).translate(RAISED)


def text_of(path: Path) -> str:
    """All words of a document."""
    return " ".join(page.text for page in pages(path))


def _runs(page: pypdfium2.PdfPage) -> list[Run]:
    # Asked of the library itself: its own wrappers make an object of every glyph.
    text, said = page.get_textpage(), {}
    for i in range(text.count_chars()):
        if not raw.FPDFText_IsGenerated(text, i):
            whose = addressof(raw.FPDFText_GetTextObject(text, i).contents)
            said[whose] = said.get(whose, "") + chr(raw.FPDFText_GetUnicode(text, i))
    found: list[Run] = []
    letters: list[str] = []
    tall = last = off = 0.0
    start = way = (0.0, 0.0)
    final = None
    matrix, size = raw.FS_MATRIX(), c_float()
    left, low, right, top = sides = tuple(c_float() for _ in range(4))
    to_sides, to_matrix, to_size = [byref(side) for side in sides], byref(matrix), byref(size)

    def close() -> None:
        if letters:
            raw.FPDFPageObj_GetBounds(final, *to_sides)
            u, v = way
            reach = (right if u > 0 else left).value * u + (top if v > 0 else low).value * v
            words = " ".join("".join(letters).split())
            found.append(Run(*start, tall, reach - start[0] * u - start[1] * v, words, u > 0.999))
            letters.clear()

    for i in range(raw.FPDFPage_CountObjects(page)):
        glyph = raw.FPDFPage_GetObject(page, i)
        if raw.FPDFPageObj_GetType(glyph) != raw.FPDF_PAGEOBJ_TEXT:
            continue
        raw.FPDFPageObj_GetMatrix(glyph, to_matrix)
        raw.FPDFTextObj_GetFontSize(glyph, to_size)
        x, y, scale = matrix.e, matrix.f, math.hypot(matrix.a, matrix.b)
        u, v, high = matrix.a / scale, matrix.b / scale, math.hypot(matrix.c, matrix.d) * size.value
        on, across = x * u + y * v, y * u - x * v
        joins = (
            math.dist(way, (u, v)) < 1e-3
            and abs(across - off) < 0.05 * high
            and abs(high - tall) < 0.02 * high
        )
        # What leaves no ink is a space.
        letter = said.get(addressof(glyph.contents), " ")
        if not (letters and joins and last <= on + 1e-3 and on - last < GAP * high):
            close()
            if letter == " ":
                continue
            start, way, tall, off = (x, y), (u, v), high, across
        letters.append(letter)
        last, final = on, glyph if letter != " " else final
    close()
    return found
