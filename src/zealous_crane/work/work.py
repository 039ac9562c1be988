"""A piece of work of several parts, with fits that make one part's size follow from another's."""

from collections.abc import Callable
from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from ..cutting.piece import CutFrom
from ..errors import INPUT_ERRORS, InputError
from ..flat.inside_sizes import Between, between, measurable
from ..flat.on_brake import OnBrake, as_it_is
from ..i18n import JoinedText, Phrase, msg, the, tr
from ..job.job import Job
from ..part.size import larger, size_title
from ..part.template import PartTemplate
from ..schema.model import ONE_LINE, InputModel
from ..schema.reading import plain
from ..units.length import show_length
from ..units.sums import Sum, SumKind, Term
from .duct_fitting import DuctFitting
from .fit import Faces, Fit, FitError, FitRule, Joint, Pairing

SET = 1e-9
"""mm; a size nearer than this to what it should be is left as it is."""

WORK_FORMAT = "zealous-crane-work"


class Work(InputModel):
    """One order: its parts, each with metal and quantity of its own, and their fits.

    Attributes:
        name: as the shop calls it.
        parts: the jobs; sizes that follow from a fit are overwritten by it.
        fits: which follow which.
        joints: rows of fastenings that hold two parts together; those rows in the parts are
            overwritten by them.
        fitting: the duct fitting the parts are the pieces of.
        cut_from: sheets, off-cuts and shear, where they are not the usual ones.
    """

    format: Literal["zealous-crane-work"] = "zealous-crane-work"
    version: Literal[1] = 1
    name: Annotated[str, Field(min_length=1, max_length=120), ONE_LINE] = Field(
        default_factory=lambda: tr("Unnamed work")
    )
    parts: Annotated[tuple[Job, ...], Field(min_length=1, max_length=200)]
    fits: tuple[Fit, ...] = ()
    joints: Annotated[tuple[Joint, ...], Field(max_length=500)] = ()
    fitting: DuctFitting | None = None
    cut_from: CutFrom | None = None

    @model_validator(mode="after")
    def _numbers(self) -> Self:  # noqa: C901
        for fit in self.fits:
            for number in (fit.follower, fit.master):
                if number >= len(self.parts):
                    raise InputError(
                        tr("a fit names part {number}, and there are {parts}").format(
                            number=number + 1, parts=len(self.parts)
                        )
                    )
        for joint in self.joints:
            for side in (joint.near, joint.far):
                if side.part >= len(self.parts):
                    raise InputError(
                        tr("a joint names part {number}, and there are {parts}").format(
                            number=side.part + 1, parts=len(self.parts)
                        )
                    )
            if joint.near.part == joint.far.part:
                raise InputError(
                    tr("a joint is between two parts; a row within one is that part's own")
                )
        taken: set[tuple[int, str]] = set()
        for fit in self.fits:
            for pair in fit.sizes:
                if (fit.follower, pair.follower) in taken:
                    raise InputError(
                        tr("two fits set {follower} of part {follower_2}").format(
                            follower=the(pair.follower), follower_2=fit.follower + 1
                        )
                    )
                taken.add((fit.follower, pair.follower))
        return self

    @classmethod
    def of(cls, job: Job) -> Self:
        """Work of one part."""
        return cls(name=job.name, parts=(job,))

    @classmethod
    def of_fitting(cls, fitting: DuctFitting, before: Self | None = None) -> Self:
        """The pieces of a duct fitting.

        Args:
            fitting: its sizes.
            before: the work as it was; what it holds besides the pieces of its own fitting stays.

        Raises:
            InputError: sizes that cannot be made.
        """
        pieces = fitting.pieces()
        if before is None or before.fitting is None:
            return cls(name=fitting.name, parts=pieces, fitting=fitting)
        known = {job.name for job in before.fitting.pieces()}
        others = [i for i, job in enumerate(before.parts) if job.name not in known]
        at = {old: len(pieces) + new for new, old in enumerate(others)}
        kept = tuple(before.parts[i] for i in others)
        fits, joints = before._tied(at.get)
        return cls(
            name=fitting.name, parts=(*pieces, *kept), fits=fits, joints=joints, fitting=fitting
        )

    def waiting(self) -> tuple[int, ...]:
        """Numbers of the parts that are not cut yet: a size of theirs waits for what is measured on
        another part."""
        return tuple(
            sorted(
                {
                    fit.follower
                    for fit in self.fits
                    if any(pair.waits and pair.measured is None for pair in fit.sizes)
                }
            )
        )

    def unsaid(self, on: OnBrake = as_it_is) -> dict[int, str]:
        """What has to be said of parts before they are cut, by their number: whether one goes
        between the lips of another, or lies on them.

        Args:
            on: as for :meth:`resolved`.
        """
        result: dict[int, str] = {}
        for fit in self.fits:
            if fit.rests is not None or fit.rule is not FitRule.INSIDE:
                continue
            master, job = on(self.parts[fit.master]), self.parts[fit.follower]
            for pair in fit.sizes:
                held = _held(master, pair)
                lips = max((term.value for term in held.inward), default=0.0)
                if pair.measured is None and lips > LIP * master.sheet.thickness:
                    between_them, on_them = (
                        show_length(size - fit.clearance, job.units, pretty=True)
                        for size in (held.clear, held.inside)
                    )
                    result[fit.follower] = tr(
                        "{name}: does it go between the lips of {other}, {between} over all, or "
                        "lie on them, {on}? Say so in its fit."
                    ).format(name=job.name, other=master.name, between=between_them, on=on_them)
                    break
        return result

    def opened(self, number: int) -> tuple[Fit, ...]:
        """The fits once a ready kind is opened into its tree: its sizes are then those of the base,
        measured between the same walls."""
        part = self.parts[number].part

        def follower(pair: Pairing) -> Pairing:
            faces = pair.follower_faces or _walls(part, pair.follower)
            if faces is None or pair.follower not in OPENED:
                return pair
            return pair.model_copy(
                update={"follower": OPENED[pair.follower], "follower_faces": faces}
            )

        def master(pair: Pairing) -> Pairing:
            faces = pair.master_faces or _walls(part, pair.master)
            return (
                pair
                if faces is None
                else pair.model_copy(update={"master": "", "master_faces": faces})
            )

        made = []
        for fit in self.fits:
            change = (
                follower if fit.follower == number else master if fit.master == number else None
            )
            sizes = fit.sizes if change is None else tuple(change(pair) for pair in fit.sizes)
            made.append(fit.model_copy(update={"sizes": sizes}))
        return tuple(made)

    def follows(self, number: int) -> tuple[Fit, ...]:
        """The fits a part follows."""
        return tuple(fit for fit in self.fits if fit.follower == number)

    def resolved(self, on: OnBrake = as_it_is) -> Self:
        """The same work with every size that follows set to what it follows from.

        Args:
            on: writes into a part what its brake's tools give its bends; parts are measured folded
                so.

        Raises:
            FitError: fits that go round in a circle, sizes a part does not have, or a fit that
                leaves nothing.
        """
        parts = list(self.parts)
        for fit in self._in_order():
            master, job = parts[fit.master], parts[fit.follower]
            try:
                held = [_held(on(master), pair) for pair in fit.sizes]
                # Once is enough, unless the part could not be made at the sizes it had.
                for _ in range(2):
                    # All are measured on one part before any is changed: each size is its own.
                    measured = measurable(on(job))
                    more = [
                        _missing(fit, pair, theirs, on(job))
                        for pair, theirs in zip(fit.sizes, held, strict=True)
                    ]
                    for pair, by in zip(fit.sizes, more, strict=True):
                        if abs(by) > SET:
                            job = job.model_copy(
                                update={"part": larger(job.part, pair.follower, by)}
                            )
                    if measured:
                        break
                parts[fit.follower] = job
            except INPUT_ERRORS as error:
                raise FitError(
                    tr("{name} cannot follow {name_2}: {error}").format(
                        name=job.name, name_2=master.name, error=_last_line(error)
                    )
                ) from None
        return self.model_copy(update={"parts": self._joined(parts, on)})

    def _joined(self, parts: list[Job], on: OnBrake) -> tuple[Job, ...]:
        """The parts with the rows of all joints, and no others that came of one."""
        rows = [[row for row in job.rows if row.joint is None] for job in parts]
        for number, joint in enumerate(self.joints):
            near, far = joint.near.part, joint.far.part
            try:
                one, two = joint.rows(number, on(parts[near]), on(parts[far]))
            except INPUT_ERRORS as error:
                raise FitError(
                    tr("{name} and {name_2} cannot be joined: {error}").format(
                        name=parts[near].name, name_2=parts[far].name, error=_last_line(error)
                    )
                ) from None
            rows[near].append(one)
            rows[far].append(two)
        return tuple(
            job if tuple(own) == job.rows else job.model_copy(update={"rows": tuple(own)})
            for job, own in zip(parts, rows, strict=True)
        )

    def without(self, gone: int, on: OnBrake = as_it_is) -> Self:
        """The work without one of its parts, and without its fits and joints."""
        fits, joints = self._tied(lambda n: None if n == gone else n - (n > gone))
        parts = tuple(p for i, p in enumerate(self.parts) if i != gone)
        return self.model_copy(update={"parts": parts, "fits": fits, "joints": joints}).resolved(on)

    def in_two(self, at: int, one: Job, other: Job, on: OnBrake = as_it_is) -> "Work":
        """The work with one of its parts made in two; its fits and joints are those of neither.

        Args:
            at: number of the part.
            one: the first piece.
            other: the second piece.
            on: parts as their brakes bend them.
        """
        fits, joints = self._tied(lambda n: None if n == at else n + (n > at))
        parts = (*self.parts[:at], one, other, *self.parts[at + 1 :])
        return Work.model_validate(
            {**dict(self), "parts": parts, "fits": fits, "joints": joints}
        ).resolved(on)

    def _tied(
        self, number: Callable[[int], int | None]
    ) -> tuple[tuple[Fit, ...], tuple[Joint, ...]]:
        """Fits and joints with their parts numbered anew; those of parts that have no number any
        more are left out."""
        fits, joints = [], []
        for fit in self.fits:
            follower, master = number(fit.follower), number(fit.master)
            if follower is not None and master is not None:
                fits.append(fit.model_copy(update={"follower": follower, "master": master}))
        for joint in self.joints:
            near, far = number(joint.near.part), number(joint.far.part)
            if near is not None and far is not None:
                joints.append(joint.of(near, far))
        return tuple(fits), tuple(joints)

    def _in_order(self) -> list[Fit]:
        """Fits so that a master is set before what follows it."""
        masters: dict[int, set[int]] = {}
        for fit in self.fits:
            masters.setdefault(fit.follower, set()).add(fit.master)
        try:
            order = list(TopologicalSorter(masters).static_order())
        except CycleError as error:
            names = ", ".join(sorted({self.parts[number].name for number in error.args[1]}))
            raise FitError(
                tr("The fits go round in a circle: {names}.").format(names=names)
            ) from None
        return sorted(self.fits, key=lambda fit: order.index(fit.follower))

    def fit_sums(self, number: int, on: OnBrake = as_it_is) -> tuple[Sum, ...]:
        """How the fitted sizes of a part come about; ``on`` as for :meth:`resolved`."""
        sums: list[Sum] = []
        for fit in self.follows(number):
            master = self.parts[fit.master]
            for pair in fit.sizes:
                job = self.parts[number]
                held, own = (
                    _held(on(master), pair),
                    between(on(job), pair.follower, *_between(pair.follower_faces)),
                )
                goes_in = fit.rule is FitRule.INSIDE
                sign, size, face, mine = (
                    (-1, held.inside, msg("inside"), msg("outside"))
                    if goes_in
                    else (1, held.outside, msg("outside"), msg("inside"))
                )
                if pair.measured is not None:
                    sums.append(_measured_sum(master, job, pair, fit))
                    continue
                # What either part carries takes from the follower that goes in; the one that goes
                # over grows by it.
                theirs = (() if fit.rests else held.inward) if goes_in else held.outward
                takes: tuple[tuple[Phrase, float], ...] = (
                    *((JoinedText((master.name, ", ", t.what)), t.value) for t in theirs),
                    *(
                        (msg("its own {what}", what=t.what), t.value)
                        for t in (own.outward if goes_in else own.inward)
                    ),
                )
                sums.append(
                    Sum(
                        msg(
                            "{title}, {mine}, to fit",
                            title=size_title(job.part, pair.follower),
                            mine=mine,
                        ),
                        (
                            Term(JoinedText((master.name, ", ", _place(pair), " ", face)), size),
                            *(Term(label, value, sign) for label, value in takes),
                            Term(msg("clearance"), fit.clearance, sign),
                        ),
                        msg(
                            "It goes {rule} {name}. Cut it when that part is bent and measured, "
                            "where it matters.",
                            rule=fit.rule.words,
                            name=master.name,
                        ),
                        SumKind.FIT,
                    )
                )
        return tuple(sums)


LIP = 8.0
"""Thicknesses; what a wall carries and stands farther into the opening than this is a lip, which
another part may lie on."""

OPENED = {"length": "tree.base.length", "width": "tree.base.width"}
"""Sizes of a ready kind that are its base's once it is opened into its tree."""


def _walls(part: PartTemplate, size: str) -> Faces | None:
    """The walls a size of a ready kind stands between."""
    walls = part.walls(size) if size in part.walled else None
    return None if walls is None else Faces(one=walls[0], other=walls[1], bare=not part.edges_go_in)


def _last_line(error: ValueError) -> str:
    return plain(error)


def _measured_sum(master: Job, job: Job, pair: Pairing, fit: Fit) -> Sum:
    """A size that follows from what was measured on the other part."""
    goes_in = fit.rule is FitRule.INSIDE
    assert pair.measured is not None
    return Sum(
        msg(
            "{title}, {mine}, to fit",
            title=size_title(job.part, pair.follower),
            mine=msg("over all") if goes_in else msg("clear"),
        ),
        (
            Term(msg("{name}, measured", name=master.name), pair.measured),
            Term(msg("clearance"), fit.clearance, -1 if goes_in else 1),
        ),
        msg("From what was measured, not from its drawing."),
        SumKind.FIT,
    )


def _between(faces: Faces | None) -> tuple[tuple[str, str] | None, bool]:
    """Two panels and whether they are measured bare, as :func:`between` takes them."""
    return (None, False) if faces is None else ((faces.one, faces.other), faces.bare)


def _held(master: Job, pair: Pairing) -> Between:
    """The size of the part that is followed."""
    return between(master, pair.master, *_between(pair.master_faces))


def _missing(fit: Fit, pair: Pairing, held: Between, job: Job) -> float:
    """By how much a size of the part that follows is too small, mm; less than nothing where it is
    too large."""
    mine = between(job, pair.follower, *_between(pair.follower_faces))
    if fit.rule is FitRule.INSIDE:
        return (
            (pair.measured or (held.inside if fit.rests else held.clear))
            - fit.clearance
            - mine.over_all
        )
    return (pair.measured or held.over_all) + fit.clearance - mine.clear


def _place(pair: Pairing) -> Phrase:
    """What of the master is followed, in words."""
    if pair.master_faces is None:
        return pair.master
    return msg("{one} to {other}", one=pair.master_faces.one, other=pair.master_faces.other)
