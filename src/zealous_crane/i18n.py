"""What the program says, in the language of its user: English is written in the source, other
languages are catalogues.

Every sentence for people stands in the source as ``tr("…")``, whole, its values named in braces and
put in afterwards, so that a translator may turn its order round. Catalogues are those of gettext,
in ``locale/``; ``./crane words`` writes the template they begin from. The language is taken once,
when the program starts: what the environment says, what a person chose, else the desktop's.
"""

from __future__ import annotations

import gettext
import os
import re
from collections.abc import Callable
from enum import StrEnum
from pathlib import Path

import platformdirs

DOMAIN = "zealous_crane"

LOCALE = Path(__file__).parent / "locale"
"""Folder of the catalogues."""

PSEUDO = "pseudo"
"""A language for tests: every sentence that can be translated stands between ``⟦`` and ``⟧``."""

ENGLISH = "en"

CHOICE = "ZEALOUS_CRANE_LANGUAGE"
"""Name of the environment variable that goes before the desktop's language."""


def language_file() -> Path:
    """Where the language a person chose stands: a file of one word."""
    return Path(platformdirs.user_config_dir("zealous-crane", appauthor=False)) / "language"


def chosen_language() -> str:
    """The language a person chose; empty where the desktop's is taken."""
    try:
        return language_file().read_text(encoding="utf-8").strip()[:20]
    except (OSError, UnicodeDecodeError):
        return ""


def choose_language(code: str) -> None:
    """Take a language from the next start on; an empty one takes the desktop's.

    Raises:
        OSError: it could not be written down.
    """
    path = language_file()
    if code:
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(code + "\n", encoding="utf-8")
    else:
        path.unlink(missing_ok=True)


def languages() -> tuple[str, ...]:
    """Codes of the languages there is a catalogue of, and English, in which the program is
    written."""
    found = sorted(path.parent.parent.name for path in LOCALE.glob(f"*/LC_MESSAGES/{DOMAIN}.mo"))
    return (ENGLISH, *(code for code in found if code != ENGLISH))


def _asked_for() -> list[str] | None:
    """The language asked for; None takes the desktop's."""
    chosen = os.environ.get(CHOICE, "") or chosen_language()
    return [chosen] if chosen else None


def language() -> str:
    """Code of the language the program speaks: English where there is no catalogue of what was
    asked for."""
    found = gettext.find(DOMAIN, LOCALE, _asked_for())
    return Path(found).parent.parent.name if found else ENGLISH


_VALUE = re.compile(r"(\{[^{}]*\})")
"""Where a value is put into a sentence."""


class _Pseudo(gettext.NullTranslations):
    """Brackets everything it is asked for but the values put in afterwards: those are to be
    translated themselves, or are data."""

    def __init__(self) -> None:
        super().__init__()
        self.asked: set[str] = set()

    def gettext(self, message: str) -> str:
        self.asked.add(message)
        parts = _VALUE.split(message)
        return "".join(
            f"⟦{part}⟧" if part.strip() and not number % 2 else part
            for number, part in enumerate(parts)
        )

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


def _catalogue() -> gettext.NullTranslations:
    if _asked_for() == [PSEUDO]:
        return _Pseudo()
    return gettext.translation(DOMAIN, LOCALE, _asked_for(), fallback=True)


_words = _catalogue()

tr: Callable[[str], str] = _words.gettext
"""A sentence of the source in the user's language."""


def asked() -> frozenset[str]:
    """Everything the pseudo-language was asked for so far: what a translator's template has to
    hold."""
    return frozenset(_words.asked) if isinstance(_words, _Pseudo) else frozenset()


def counted(one: str, many: str, count: int) -> str:
    """So many of something, in the user's language, which may have more than two forms.

    >>> counted("{count} stroke", "{count} strokes", 3)
    '3 strokes'

    Args:
        one: the sentence for one.
        many: the sentence for several.
        count: how many there are.
    """
    return _words.ngettext(one, many, count).format(count=count)


_AFTER_THE_FIRST = re.compile(r",| and | in ")
"""Where the first of several pieces ends, or what tells where a piece is begins: side 1 and side 2,
rivet hole 2 in the base."""


def _numbered(name: str) -> bool:
    """A number tells the piece from others."""
    return _AFTER_THE_FIRST.split(name, 1)[0][-1:].isdigit()


def within(name: str) -> str:
    """A metal's name within a sentence: its first word small, what it is known by as it is written.

    >>> within("Aluminium, soft (3003-H14)"), within("Stainless 304"), within("AR400")
    ('aluminium, soft (3003-H14)', 'stainless 304', 'AR400')
    """
    return name[:1].lower() + name[1:] if name[1:2].islower() else name


def the(name: str) -> str:
    """What a person would call a piece within a sentence: its name with an article, unless a number
    tells it from others.

    >>> the("left side"), the("side 3"), the("side 3 hem"), the("front and side 3"), the("rivet hole 2 in the base")
    ('the left side', 'side 3', 'the side 3 hem', 'the front and side 3', 'rivet hole 2 in the
    base')
    """  # noqa: E501
    return name if _numbered(name) else tr("the {name}").format(name=name)


def the_first(name: str) -> str:
    """The same where a sentence begins.

    >>> the_first("left side"), the_first("side 3")
    ('The left side', 'Side 3')
    """
    return name[:1].upper() + name[1:] if _numbered(name) else tr("The {name}").format(name=name)


def word(choice: str) -> str:
    """What a word of data says in English: what a translator finds in the template.

    >>> word("cross-break")
    'cross break'
    """
    return choice.replace("-", " ")


def choice_words(choice: str) -> str:
    """A choice in the user's language."""
    return tr(word(choice))


class LabelledEnum(StrEnum):
    """A choice that a person reads: the template of a translation holds the words of every kind of
    it."""

    @property
    def words(self) -> str:
        """As it is read."""
        return choice_words(self.value)
