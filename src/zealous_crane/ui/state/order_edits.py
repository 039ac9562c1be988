"""What is asked of the order of the bends, and remedies taken."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ...flat.on_brake import on_brakes
from ...job.job import OrderWishes
from .bench import Bench

if TYPE_CHECKING:
    from ...planning.plan import Remedy


class OrderEdits:
    """Wishes for the order, and remedies.

    Args:
        bench: the work.
    """

    def __init__(self, bench: Bench) -> None:
        self._bench = bench

    def take(self, cure: Remedy) -> str | None:
        """Take a cure: its job, on its brake, as one step of undo."""
        rack = (
            self._bench.rack if cure.brake is None else self._bench.rack.with_brakes([cure.brake])
        )
        if cure.also is None:
            return self._bench.change_on(cure.job, rack)
        one, other = cure.job, cure.also
        return self._bench.make(
            lambda: self._bench.step_with(
                self._bench.work.in_two(self._bench.at, one, other, on_brakes(rack.find)), rack=rack
            )
        )

    def put(self, sequence: tuple[str, ...]) -> str | None:
        """Ask for the bends in this order (folds by name); empty leaves it to the program."""
        return self.wish(self._bench.job.order.model_copy(update={"sequence": sequence}))

    def wish(self, order: OrderWishes) -> str | None:
        """Ask this of the order."""
        return self._bench.change(self._bench.job.model_copy(update={"order": order}))

    def hold(self, fold: str, side: str | None) -> str | None:
        """Ask for one side of a fold to be clamped, ``base`` or ``far``; None leaves it to the
        program."""
        clamp = {name: s for name, s in self._bench.job.order.clamp.items() if name != fold}
        if side is not None:
            clamp[fold] = side  # type: ignore[assignment]
        return self._bench.edit("", order={**self._bench.job.order.model_dump(), "clamp": clamp})

    def free(self) -> str | None:
        """Take back everything asked for about the order."""
        return self.wish(OrderWishes())
