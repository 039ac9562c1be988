"""What the program says, in the language of its user: English is written in the source, other
languages are catalogues.

Every sentence for people stands in the source as ``tr("…")``, whole, its values named in braces and
put in afterwards, so that a translator may turn its order round. Catalogues are those of gettext,
in ``locale/``; ``./crane words`` writes the template they begin from. The language is the one the
environment says, else what a person chose, else the desktop's, and may change while the program
runs (:func:`speak_as_asked`): what is kept beyond the moment is a :class:`Message`, put into words
where it is shown.
"""

from __future__ import annotations

import gettext
import os
import re
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any, Protocol, runtime_checkable

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
    """Write down the language a person chose; an empty one takes the desktop's.

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
    result = sorted(path.parent.parent.name for path in LOCALE.glob(f"*/LC_MESSAGES/{DOMAIN}.mo"))
    return (ENGLISH, *(code for code in result if code != ENGLISH))


def _asked_for() -> list[str] | None:
    """The language asked for; None takes the desktop's."""
    chosen = os.environ.get(CHOICE, "") or chosen_language()
    return [chosen] if chosen else None


def language() -> str:
    """Code of the language that was asked for: English where there is no catalogue of it."""
    result = gettext.find(DOMAIN, LOCALE, _asked_for())
    return Path(result).parent.parent.name if result else ENGLISH


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


_words = [_catalogue()]
"""The catalogue in use; :func:`speak_as_asked` changes it."""


def speak_as_asked() -> None:
    """Say everything in the language that is asked for by now, in this process."""
    _words[0] = _catalogue()


def tr(message: str) -> str:
    """A sentence of the source in the user's language, said now: for what is shown at once. What is
    kept, or named when a module is loaded, is a :class:`Message`."""
    return _words[0].gettext(message)


@runtime_checkable
class Figure(Protocol):
    """A length or force in a sentence: a number until it is known in which units it is read."""

    def shown(self, units: Any) -> str:
        """As it is read in :class:`~zealous_crane.units.length.Units`."""
        ...


@dataclass(frozen=True)
class Message:
    """A sentence that is put into words where it is shown: what is kept in a plan, a table or an
    answer of another process, so that it is read in the language and units of the moment.

    Attributes:
        template: the sentence as it stands in the source, its values named in braces; it serves as
            the message's id.
        values: figures, names and other messages by their names in the template.
        several: the template where ``values["count"]`` is not one; empty where there is no number.
    """

    template: str
    values: tuple[tuple[str, object], ...] = ()
    several: str = ""

    def text(self, units: Any = None) -> str:
        """The sentence said now.

        Args:
            units: in which its figures are read; needed where it has any.
        """
        values = {name: _value(value, units) for name, value in self.values}
        count = values.get("count")
        if self.several and isinstance(count, int):
            sentence = _words[0].ngettext(self.template, self.several, count)
        else:
            sentence = tr(self.template)
        return sentence.format(**values) if values else sentence

    def __str__(self) -> str:
        return self.text()

    def filled(self, **values: object) -> Message:
        """The same sentence with these values, said later."""
        return Message(self.template, (*self.values, *values.items()), self.several)

    def format(self, **values: object) -> str:
        """The sentence said now, with these values."""
        return self.text().format(**values)

    def __add__(self, other: Phrase) -> JoinedText:
        return JoinedText((self, other))


@dataclass(frozen=True)
class JoinedText:
    """Several messages said one after the other.

    Attributes:
        parts: messages, and text that is data.
        between: what stands between them.
    """

    parts: tuple[Phrase, ...]
    between: str = ""

    def text(self, units: Any = None) -> str:
        """All of them said now; see :meth:`Message.text`."""
        return self.between.join(to_text(part, units) for part in self.parts)

    def __str__(self) -> str:
        return self.text()

    def __add__(self, other: Phrase) -> JoinedText:
        return JoinedText((self, other) if self.between else (*self.parts, other))


@dataclass(frozen=True)
class Raised:
    """A text as a sentence begins: its first letter large.

    Attributes:
        part: the text.
    """

    part: Phrase

    def text(self, units: Any = None) -> str:
        """The text said now; see :meth:`Message.text`."""
        words = to_text(self.part, units)
        return words[:1].upper() + words[1:]

    def __str__(self) -> str:
        return self.text()


Phrase = Message | JoinedText | Raised | str
"""What people read: a message, or text that is data already, such as a name somebody gave."""


def to_text(text: Phrase, units: Any = None) -> str:
    """A text in words, now.

    Args:
        text: a message, or what is in words already.
        units: in which figures are read.
    """
    return text if isinstance(text, str) else text.text(units)


def _value(value: object, units: Any) -> object:
    if isinstance(value, Message | JoinedText | Raised):
        return value.text(units)
    return value.shown(units) if isinstance(value, Figure) else value


def msg(template: str, **values: object) -> Message:
    """A sentence of the source that is said later.

    >>> str(msg("the {name} stands", name="left wall"))
    'the left wall stands'

    Args:
        template: the sentence, its values named in braces.
        values: figures, names or other messages.
    """
    return Message(template, tuple(values.items()))


def counted_msg(one: str, many: str, count: int) -> Message:
    """So many of something, said later; as :func:`counted`.

    Args:
        one: the sentence for one.
        many: the sentence for several.
        count: how many there are.
    """
    return Message(one, (("count", count),), many)


def asked() -> frozenset[str]:
    """Everything the pseudo-language was asked for so far: what a translator's template has to
    hold."""
    words = _words[0]
    return frozenset(words.asked) if isinstance(words, _Pseudo) else frozenset()


def counted(one: str, many: str, count: int) -> str:
    """So many of something, in the user's language, which may have more than two forms.

    >>> counted("{count} stroke", "{count} strokes", 3)
    '3 strokes'

    Args:
        one: the sentence for one.
        many: the sentence for several.
        count: how many there are.
    """
    return _words[0].ngettext(one, many, count).format(count=count)


_AFTER_THE_FIRST = re.compile(r",| and | in ")
"""Where the first of several pieces ends, or what tells where a piece is begins: side 1 and side 2,
rivet hole 2 in the base."""


def _numbered(name: Phrase) -> bool:
    """A number tells the piece from others."""
    return _AFTER_THE_FIRST.split(to_text(name), maxsplit=1)[0][-1:].isdigit()


def within(name: str) -> str:
    """A metal's name within a sentence: its first word small, what it is known by as it is written.

    >>> within("Aluminium, soft (3003-H14)"), within("Stainless 304"), within("AR400")
    ('aluminium, soft (3003-H14)', 'stainless 304', 'AR400')
    """
    return name[:1].lower() + name[1:] if name[1:2].islower() else name


def the(name: Phrase) -> Phrase:
    """What a person would call a piece within a sentence: its name with an article, unless a number
    tells it from others.

    >>> [str(the(name)) for name in ("left side", "side 3", "side 3 hem", "rivet hole 2 in the base")]
    ['the left side', 'side 3', 'the side 3 hem', 'rivet hole 2 in the base']
    """  # noqa: E501
    return name if _numbered(name) else msg("the {name}", name=name)


def the_first(name: Phrase) -> Phrase:
    """The same where a sentence begins.

    >>> [str(the_first(name)) for name in ("left side", "side 3")]
    ['The left side', 'Side 3']
    """
    return Raised(name) if _numbered(name) else msg("The {name}", name=name)


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
