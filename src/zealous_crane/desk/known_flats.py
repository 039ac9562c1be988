"""Parts laid flat: each once, as long as nothing it depends on is edited."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace

from ..blank import Blank, check_flat, flat_for, flat_key, tool_radius
from ..brake import Rack
from ..job import Job
from ..measure import Sum

MOST = 12
"""Flats kept; those longest unasked go first."""


class KnownFlats:
    """The flats of a window's parts."""

    def __init__(self) -> None:
        self._kept: OrderedDict[object, Blank] = OrderedDict()

    def of(self, job: Job, rack: Rack, sums: tuple[Sum, ...] = ()) -> Blank:
        """A part laid flat, with the inside radius its brake makes where it names none.

        Args:
            job: the part.
            rack: the brakes of the shop.
            sums: of the fits it follows, shown after those of the blank's own size.

        Raises:
            DevelopmentError: see :func:`flat_for`.
        """
        brake = rack[job.brake]
        key = flat_key(job), tool_radius(job, brake), sums
        if key not in self._kept:
            if sums:
                blank = self.of(job, rack)
                self._kept[key] = replace(blank, sums=(*blank.sums[:2], *sums, *blank.sums[2:]))
            else:
                self._kept[key] = flat_for(job, brake)
            while len(self._kept) > MOST:
                self._kept.popitem(last=False)
        self._kept.move_to_end(key)
        return self._kept[key]

    def must(self, job: Job, rack: Rack) -> None:
        """Refuse a part that cannot be developed, without the trouble of saying what it would be.

        Raises:
            DevelopmentError: as :meth:`of`.
        """
        brake = rack[job.brake]
        if (flat_key(job), tool_radius(job, brake), ()) not in self._kept:
            check_flat(job, brake)
