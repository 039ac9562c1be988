"""What is changed of a work beside the part on the bench: its parts, fits, joints and metal."""

from __future__ import annotations

from ...cutting.piece import CutFrom
from ...flat.blank import Blank
from ...i18n import tr
from ...job.job import Job
from ...part.hole import FastenerRow
from ...work.duct_fitting import DuctFitting
from ...work.fit import Fit, Joint
from ...work.work import Work
from .bench import Bench
from .history import HistoryStep


class PartEdits:
    """The parts of the work and what ties them.

    Args:
        bench: the work.
    """

    def __init__(self, bench: Bench) -> None:
        self._bench = bench

    def choose(self, number: int) -> str | None:
        """Put another part of the work on the bench; a sentence when it cannot be worked on, and
        the one before then stays."""
        if number == self._bench.at or not 0 <= number < len(self._bench.work.parts):
            return None
        return self._bench.make(
            lambda: self._bench.step_with(self._bench.work, number), another=True
        )

    def add(self, job: Job) -> str | None:
        """Add a part and put it on the bench; a sentence when it cannot be developed."""

        def added() -> HistoryStep:
            self._bench.rack[job.brake]
            return self._bench.step_with(
                self._bench.work.model_copy(update={"parts": (*self._bench.work.parts, job)}),
                len(self._bench.work.parts),
            )

        return self._bench.make(added, another=True)

    def remove(self) -> str | None:
        """Take the part on the bench out of the work, with its fits."""
        if len(self._bench.work.parts) == 1:
            return tr("This is the only part of the work.")
        return self._bench.make(
            lambda: self._still_on_bench(
                self._bench.work.without(self._bench.at, self._bench.on_brakes)
            ),
            another=True,
        )

    def set_fitting(self, fitting: DuctFitting) -> str | None:
        """Make the pieces of a duct fitting anew; a sentence when they cannot be made."""
        return self._bench.make(
            lambda: self._still_on_bench(
                Work.of_fitting(fitting, self._bench.work).resolved(self._bench.on_brakes)
            ),
            another=True,
        )

    def _still_on_bench(self, work: Work) -> HistoryStep:
        """The state with another work, the part of the same number on the bench, or the last."""
        return self._bench.step_with(work, min(self._bench.at, len(work.parts) - 1))

    def set_cut_from(self, cut_from: CutFrom) -> str | None:
        """Say what the work is cut from."""
        return self._bench.make(
            lambda: self._bench.step_with(
                self._bench.work.model_copy(update={"cut_from": cut_from})
            ),
            "cut from",
        )

    def set_fits(self, fits: tuple[Fit, ...], what: str = "") -> str | None:
        """Change what follows from what; a sentence when it cannot hold."""
        return self._set_tied(what, fits=[f.model_dump() for f in fits])

    def set_joints(self, joints: tuple[Joint, ...], what: str = "") -> str | None:
        """Change which parts are joined to which; a sentence when that cannot be."""
        return self._set_tied(what, joints=[j.model_dump() for j in joints])

    def join(self, rows: tuple[FastenerRow, ...], joints: tuple[Joint, ...]) -> str | None:
        """Change the rows of the part on the bench and the joints of the work in one step."""
        job = self._bench.job.model_copy(update={"rows": rows})
        parts = [
            *self._bench.work.parts[: self._bench.at],
            job,
            *self._bench.work.parts[self._bench.at + 1 :],
        ]
        return self._set_tied(
            "", parts=[p.model_dump() for p in parts], joints=[j.model_dump() for j in joints]
        )

    def blank_of(self, number: int) -> Blank:
        """The blank of any part of the work."""
        return self._bench.flats.of(self._bench.work.parts[number], self._bench.rack)

    def unsaid(self, fits: tuple[Fit, ...] | None = None) -> dict[int, str]:
        """What has to be said of parts before they are cut, by their number; with other ``fits``
        where these are given."""
        work = (
            self._bench.work if fits is None else self._bench.work.model_copy(update={"fits": fits})
        )
        return work.unsaid(self._bench.on_brakes)

    def _set_tied(self, what: str, **fields: object) -> str | None:
        return self._bench.make(
            lambda: self._bench.step_with(
                Work.model_validate({**self._bench.work.model_dump(), **fields}).resolved(
                    self._bench.on_brakes
                )
            ),
            what,
        )
