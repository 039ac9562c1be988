"""What is changed of the shop from the bench: its machines and settings, kept in its files."""

from __future__ import annotations

from collections.abc import Iterable

from ...brake.brake import Brake
from ...errors import INPUT_ERRORS
from ...i18n import tr
from ...schema.reading import plain
from ...shop.settings import ShopSettings
from .bench import Bench
from .history import HistoryStep
from .shop_files import ShopFolder, merged_brake, merged_settings


class ShopEdits:
    """The machines and settings of the shop.

    Args:
        bench: the work.
        folder: of the shop's files; None writes none.
    """

    def __init__(self, bench: Bench, folder: ShopFolder | None) -> None:
        self._bench, self._folder = bench, folder

    def take_others(self) -> None:
        """Take in what another window has made of the shop's machines and settings since, in every
        step of this one's history."""
        changed = self._folder.taken() if self._folder is not None else None
        if changed is None:
            return
        self._bench.history.rebase(changed)
        try:
            self._bench.show(self._bench.developed(self._bench.step))
        except INPUT_ERRORS as error:
            self._bench.complained.emit(plain(error))
            return
        self._bench.complained.emit(
            tr("Another window changed the shop's machines or settings; they are taken in here.")
        )

    def keep_brake(self, brake: Brake) -> str | None:
        """Put a changed brake into the shop and plan on it, as one step of undo."""
        known = self._bench.rack.find(brake.key)
        self.take_others()
        theirs = self._bench.rack.find(brake.key)
        if theirs is not None:
            # One that another window has begun under this key meanwhile is another machine.
            brake = (
                merged_brake(known, brake, theirs)
                if known is not None
                else self._bench.rack.under_a_free_key(brake)
            )
        before = self._bench.step
        rack = self._bench.rack.with_brakes([brake], own=True)
        refusal = self._bench.change_on(
            self._bench.job.model_copy(update={"brake": brake.key}), rack
        )
        if refusal is None:
            self.write(before, always=(brake.key,))
        return refusal

    def retire(self, key: str, *, retired: bool) -> str | None:
        """Offer a brake no more, or again, as one step of undo."""
        self.take_others()
        before = self._bench.step
        refusal = self._bench.change_on(
            self._bench.job, self._bench.rack.with_retired(key, retired=retired)
        )
        if refusal is None:
            self.write(before)
        return refusal

    def keep_settings(self, settings: ShopSettings, what: str = "") -> str | None:
        """Change what the shop says of itself, as one step of undo; parts that stand as the shop
        said follow.

        Args:
            settings: as it shall be.
            what: the field that was edited; quick further edits of the same one join the step.
        """
        known = self._bench.settings
        if settings == known:
            return None
        self.take_others()
        before, settings = self._bench.step, merged_settings(known, settings, self._bench.settings)

        def following() -> HistoryStep:
            parts = tuple(
                settings.follows(part, before.settings) for part in self._bench.work.parts
            )
            return self._bench.step_with(
                self._bench.work.model_copy(update={"parts": parts}).resolved(
                    self._bench.on_brakes
                ),
                settings=settings,
            )

        text = self._bench.make(following, what)
        if text is None:
            self.write(before)
        return text

    def write(self, before: HistoryStep, always: Iterable[str] = ()) -> None:
        """Bring the shop's own files in line with what is known here, for what changed and is kept
        there."""
        if self._folder is not None:
            for text in self._folder.write(before, self._bench.step, always):
                self._bench.complained.emit(text)
