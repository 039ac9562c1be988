"""Choices: data in files, one word of it, and words on the screen and in sentences."""

from __future__ import annotations

from enum import StrEnum

from .words import tr


def word(choice: str) -> str:
    """What a word of data says in English: what a translator finds in the template.

    >>> word("cross-break")
    'cross break'
    """
    return choice.replace("-", " ")


def choice_words(choice: str) -> str:
    """A choice in the user's language."""
    return tr(word(choice))


class Worded(StrEnum):
    """A choice that a person reads: the template of a translation holds the words of every kind of it."""

    @property
    def words(self) -> str:
        """As it is read."""
        return choice_words(self.value)
