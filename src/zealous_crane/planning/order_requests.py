"""What a person wants of the order: read from names, checked for contradictions."""

from __future__ import annotations

import itertools
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from graphlib import CycleError, TopologicalSorter

from ..bending.tooling import Tooling
from ..errors import InputError
from ..flat.blank import Blank
from ..flat.element import MadeBy
from ..i18n import the, the_first, tr
from ..job.job import OrderWishes
from ..job.tools import ToolChoice, ToolWishes


class WishError(InputError):
    """Wishes that cannot be kept; the message says which."""


class ToolsError(WishError):
    """Tools that cannot be used together, or not on this sheet; the message says which."""


@dataclass(frozen=True)
class Wishes:
    """The wishes as written, and as fold numbers once read against a blank.

    Attributes:
        written: by name.
        tools: what is wanted of the tools, folds by name.
        sequence: folds in the order wanted, as far as it goes.
        before: pairs (first, then).
        clamp: for a fold, whether its parent is clamped.
    """

    written: OrderWishes = field(default_factory=OrderWishes)
    sequence: tuple[int, ...] = ()
    before: tuple[tuple[int, int], ...] = ()
    clamp: tuple[tuple[int, bool], ...] = ()
    tools: ToolWishes = field(default_factory=ToolWishes)

    @property
    def free(self) -> bool:
        """True when nothing is wished that tells one fold from another."""
        return not (self.sequence or self.before or self.clamp)

    def serves(self, fold: str, tooling: Tooling) -> bool:
        """True when a set-up is what is asked for at a fold."""
        return _is(tooling, self.tools.asked(fold))

    def avoids(self, tooling: Tooling) -> bool:
        """True for a set-up the person does not want."""
        return not tooling.unusual.isdisjoint(self.written.avoid)

    def read(self, blank: Blank) -> Wishes:
        """The wishes for a blank. Names it does not have are passed over: the part has changed
        since.

        Raises:
            WishError: two wishes contradict each other, or one the trade.
        """
        index = {
            fold.name: i
            for i, fold in enumerate(blank.folds)
            if fold.made_by in (MadeBy.BRAKE, MadeBy.HEM)
        }
        sequence = tuple(
            dict.fromkeys(index[name] for name in self.written.sequence if name in index)
        )
        before = tuple(
            (index[a], index[b]) for a, b in self.written.before if a in index and b in index
        )
        clamp = tuple(
            (index[name], side == "base")
            for name, side in self.written.clamp.items()
            if name in index
        )
        after: dict[int, set[int]] = {}
        for a, b in (*before, *itertools.pairwise(sequence)):
            after.setdefault(a, set()).add(b)
        try:
            TopologicalSorter(after).prepare()
        except CycleError as error:
            names = [blank.folds[i].name for i in reversed(error.args[1])]
            raise WishError(
                tr("The wishes for the order contradict each other: ")
                + ", ".join(
                    tr("{a} before {b}").format(a=the(a), b=the(b))
                    for a, b in itertools.pairwise(names)
                )
                + tr(". Take one of them away.")
            ) from None
        hems = {i for i in index.values() if blank.folds[i].made_by is MadeBy.HEM}
        for a, b in (*before, *itertools.pairwise(sequence)):
            if b in hems and a not in hems:
                raise WishError(
                    tr(
                        "{name} cannot come before {name_2}: a hem is flattened while the sheet "
                        "is flat."
                    ).format(name=the_first(blank.folds[a].name), name_2=the(blank.folds[b].name))
                )
        return Wishes(self.written, sequence, before, clamp, self.tools)

    def next(self, folds: Sequence[int], begun: Callable[[int], bool]) -> list[int]:
        """Of the folds that may be made now, those the wishes leave."""
        wanted = next((i for i in self.sequence if not begun(i)), None)
        left = [i for i in folds if all(begun(a) for a, b in self.before if b == i)]
        if wanted is None:
            return left
        return (
            [i for i in left if i == wanted or i not in self.sequence or begun(i)]
            if wanted not in left
            else [i for i in left if i == wanted or begun(i)]
        )

    def sides(self, fold: int) -> tuple[bool, ...]:
        """Which side of a fold may be clamped: True its parent."""
        return next(((parent,) for i, parent in self.clamp if i == fold), (True, False))


def _is(tooling: Tooling, asked: Mapping[ToolChoice, str]) -> bool:
    chosen = tooling.chosen
    return all(chosen.get(choice) == value for choice, value in asked.items())
