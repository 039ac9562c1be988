"""What the program says, in the language of its user: English is written in the source, other languages are catalogues.

Every sentence for people stands in the source as ``tr("…")``, whole, its values named in braces and put in afterwards, so that a
translator may turn its order round. Catalogues are those of gettext, in ``locale/``; ``./crane words`` writes the template they begin
from. The language is taken once, when the program starts.
"""

from __future__ import annotations

import gettext
import os
from collections.abc import Callable
from pathlib import Path

DOMAIN = "zealous_crane"

LOCALE = Path(__file__).parent.parent / "locale"
"""Folder of the catalogues."""

PSEUDO = "pseudo"
"""A language for tests: every sentence that can be translated stands between ``⟦`` and ``⟧``."""

CHOICE = "ZEALOUS_CRANE_LANGUAGE"
"""Name of the environment variable that goes before the desktop's language."""


def _translator() -> Callable[[str], str]:
    chosen = os.environ.get(CHOICE, "")
    if chosen == PSEUDO:
        return lambda text: f"⟦{text}⟧" if text else text
    return gettext.translation(DOMAIN, LOCALE, [chosen] if chosen else None, fallback=True).gettext


tr: Callable[[str], str] = _translator()
"""A sentence of the source in the user's language."""
