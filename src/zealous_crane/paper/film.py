"""The film of a job as pictures: one animated PNG, or a folder of vector drawings.

An animated PNG is a PNG (ISO/IEC 15948) whose further frames stand in ``fcTL`` and ``fdAT`` chunks,
as the third edition of the W3C recommendation describes; a program that knows none of it shows the
first frame.
"""

from __future__ import annotations

import struct
import zlib
from collections.abc import Generator
from pathlib import Path

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QImage, QImageWriter, QPainter
from PySide6.QtSvg import QSvgGenerator

from ..i18n import tr
from ..io.atomic import FileError, write_atomically
from ..io.motion_file import film_of
from ..paint.application import application
from ..paint.machine_view import EYE, Shot, film_shot, paint_moment
from ..paint.theme import LIGHT, pixels
from ..planning.motion import JobMotion
from ..planning.plan import Plan
from .stroke_words import motion_text

SIZE = QSize(640, 440)
"""Pixels of a picture."""

A_SECOND = 8
"""Pictures a second: enough to follow, and a file that can be sent by mail."""

CAPTION = 56
"""Pixels under the picture for its sentence."""


def film_frames(plan: Plan, path: Path) -> Generator[float]:
    """Write an animated PNG, a frame at a time.

    Args:
        plan: the plan.
        path: the file.

    Yields:
        the share that is done.

    Raises:
        FileError: the part cannot be made, so that there is nothing to show, or the file could not
            be written; what stood there is untouched.
    """
    application()
    motion = film_of(plan)
    shot, count = film_shot(motion, EYE), max(1, round(motion.seconds * A_SECOND))
    chunks, number = [b"\x89PNG\r\n\x1a\n"], 0
    for k in range(count):
        image = QImage(SIZE, QImage.Format.Format_RGB888)
        image.fill(LIGHT.color("bench"))
        painter = QPainter(image)
        _paint(painter, plan, motion, k / A_SECOND, shot)
        painter.end()
        head, data = _png(image)
        if k == 0:
            chunks += [_chunk(b"IHDR", head), _chunk(b"acTL", struct.pack(">II", count, 0))]
        control = (number, SIZE.width(), SIZE.height(), 0, 0, 1, A_SECOND, 0, 0)
        chunks.append(_chunk(b"fcTL", struct.pack(">IIIIIHHBB", *control)))
        number += 1
        if k == 0:
            chunks.append(_chunk(b"IDAT", data))
        else:
            chunks.append(_chunk(b"fdAT", struct.pack(">I", number) + data))
            number += 1
        yield (k + 1) / count
    chunks.append(_chunk(b"IEND", b""))
    write_atomically(Path(path), b"".join(chunks))


def write_drawings(plan: Plan, folder: Path) -> int:
    """Write one vector drawing for every piece of work of every stroke; how many.

    Args:
        plan: the plan.
        folder: where they go; it is made where it is not there.

    Raises:
        FileError: the part cannot be made, or a drawing could not be written.
    """
    application()
    motion = film_of(plan)
    shot, count = film_shot(motion, EYE), 0
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise FileError(str(error.strerror)) from error
    for stroke in plan.strokes:
        for kind, begin, end in motion.phases(stroke.number):
            count += 1
            generator = QSvgGenerator()
            buffer = QBuffer()
            buffer.open(QIODevice.OpenModeFlag.WriteOnly)
            generator.setOutputDevice(buffer)
            generator.setSize(SIZE)
            generator.setViewBox(QRect(0, 0, SIZE.width(), SIZE.height()))
            generator.setTitle(
                tr("Bend {number}, {name}").format(number=stroke.number, name=stroke.name)
            )
            painter = QPainter(generator)
            painter.fillRect(generator.viewBox(), LIGHT.color("bench"))
            # Each is seen near its end, before the next begins.
            _paint(painter, plan, motion, begin + 0.9 * (end - begin), shot)
            painter.end()
            name = f"{count:03d}-{stroke.number}-{kind.value.replace(' ', '-')}.svg"
            write_atomically(folder / name, bytes(buffer.data().data()))
    return count


def _paint(p: QPainter, plan: Plan, motion: JobMotion, seconds: float, shot: Shot) -> None:
    """A picture over its sentence."""
    width, height = SIZE.width(), SIZE.height()
    moment = motion.moment(seconds)
    paint_moment(p, QRectF(0, 0, width, height - CAPTION), moment, LIGHT, shot)
    span = motion.spans[motion.index_at(seconds)]
    p.setPen(LIGHT.color("ink"))
    p.setFont(pixels(15, strong=True))
    room = QRectF(16, height - CAPTION, width - 32, 20)
    p.drawText(room, 0, f"{moment.stroke.number}  {moment.stroke.name}")
    p.setFont(pixels(14))
    text = p.fontMetrics().elidedText(
        motion_text(plan, span), Qt.TextElideMode.ElideRight, int(room.width())
    )
    p.drawText(room.translated(0, 24), 0, text)


def _png(image: QImage) -> tuple[bytes, bytes]:
    """The header of a picture as PNG, and its pixels as they are packed."""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    QImageWriter(buffer, QByteArray(b"png")).write(image)
    whole, at = bytes(buffer.data().data()), 8
    head, data = b"", b""
    while at < len(whole):
        (length,), kind = struct.unpack(">I", whole[at : at + 4]), whole[at + 4 : at + 8]
        body = whole[at + 8 : at + 8 + length]
        if kind == b"IHDR":
            head = body
        elif kind == b"IDAT":
            data += body
        at += 12 + length
    return head, data


def _chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
