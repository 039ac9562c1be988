"""Run by itself, in the pseudo-language: prints as JSON what was translated while every module was
loaded, and every text that plans, cutting and inspection of some demonstrations keep in words
though it can be translated."""

from __future__ import annotations

import importlib
import json
import pickle
import pkgutil
import sys

import numpy as np

import zealous_crane as zc
from zealous_crane.i18n import asked


def load_everything() -> list[str]:
    """Sentences that were translated on the way."""
    for found in pkgutil.walk_packages(zc.__path__, "zealous_crane."):
        if "migrations" not in found.name and not found.name.endswith("__main__"):
            importlib.import_module(found.name)
    return sorted(asked())


class Words:
    """Looks through everything an answer is made of.

    Attributes:
        found: texts in the pseudo-language by the field that keeps them.
    """

    def __init__(self) -> None:
        self.found: dict[str, str] = {}
        self._seen: dict[int, object] = {}

    def look(self, value: object, where: str) -> None:
        """Look through a value and what hangs on it."""
        if isinstance(value, str):
            if "⟦" in value:
                self.found.setdefault(where, value)
            return
        if id(value) in self._seen or isinstance(value, int | float | bytes | np.ndarray | type):
            return
        self._seen[id(value)] = value
        if isinstance(value, dict):
            for key, each in value.items():
                self.look(key, where)
                self.look(each, where)
        elif isinstance(value, list | tuple | set | frozenset):
            for each in value:
                self.look(each, where)
        else:
            kind = type(value)
            slots = [s for s in getattr(kind, "__slots__", ()) if hasattr(value, s)]
            for name in (*getattr(value, "__dict__", {}), *slots):
                self.look(getattr(value, name), f"{kind.__name__}.{name}")


def main() -> None:
    """Plan some demonstrations and look through the answers as they go to another process."""
    at_import, words = load_everything(), Words()
    from zealous_crane.demo import demo_work

    for name in sys.argv[1:]:
        work = demo_work(name)
        answers = [zc.plan(work.parts[0]), zc.cut(work), zc.inspect(work.parts[0])]
        for answer in answers:
            words.look(pickle.loads(pickle.dumps(answer)), type(answer).__name__)
    print(json.dumps({"import": at_import, "kept": words.found}))


if __name__ == "__main__":
    main()
