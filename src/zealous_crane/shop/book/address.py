"""Where a book is: a file, or the address of a database several benches share; and what may be
shown of it."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from sqlalchemy import URL, make_url
from sqlalchemy.exc import SQLAlchemyError

from ...i18n import tr
from ...units.length import cut

WAIT = 5.0
"""Seconds another program, or a server, may keep anybody waiting before that is said."""


def book_url(where: Path | str) -> str:
    """The database's address: a file's path, or an address as it is written."""
    text = str(where)
    return text if "://" in text else f"sqlite:///{Path(text).expanduser().absolute()}"


def is_file(where: Path | str) -> bool:
    """True for a book that is a file, false for a database several benches share."""
    return book_url(where).startswith("sqlite")


def parsed(url: str) -> URL | None:
    """An address in its parts; None for what is none."""
    try:
        return make_url(url)
    except (SQLAlchemyError, ValueError):
        return None


def shown(url: str) -> str:
    """The address of a shared book as it may be shown: which and where, and no password wherever it
    is written."""
    made = parsed(url)
    if made is None:
        return cut(url.partition("://")[0]) + "://…"
    at = "".join(
        (made.host or str(made.query.get("host", "")), f":{made.port}" if made.port else "")
    )
    return cut(f"{made.database or ''} at {at}" if at else made.database or made.drivername)


def without_secrets(text: str, url: str) -> str:
    """What a server said, in small letters, with every password of an address taken out."""
    made = parsed(url)
    if made is None:
        # Whatever it is, it may hold one.
        return text.replace(url.lower(), shown(url))
    for secret in (
        made.password,
        *(value for key, value in made.query.items() if "pass" in key.lower()),
    ):
        if secret:
            text = text.replace(str(secret).lower(), "…")
    return text


def patience(url: str) -> dict[str, Any]:
    """How long a server may keep anybody waiting, as its driver is told: to connect, for another's
    lock, for an answer."""
    if not url.startswith("postgresql"):
        return {}
    ms = round(WAIT * 1000)
    return {
        "connect_timeout": max(1, round(WAIT)),
        "options": f"-c lock_timeout={ms} -c statement_timeout={4 * ms}",
    }


def why_not_there(text: str, url: str) -> str:
    """Why a shared book could not be used: what is wrong in plain words, and what the server said
    of it."""
    name, whole = shown(url), " ".join(without_secrets(text, url).split())
    for marks, why in (
        (("password", "authentication", "no pg_hba"), tr("the name or the password is wrong")),
        (
            ("could not translate", "name or service", "resolve", "no address"),
            tr("there is no such machine in the network"),
        ),
        (
            ("refused", "no such file"),
            tr(
                "nothing answers there: the machine, or the port, is another, or the server is "
                "not running"
            ),
        ),
        (("timeout", "timed out"), tr("it did not answer in time, or another bench holds it")),
        (("does not exist",), tr("the server has no such book")),
        (
            ("dialect", "plugin", "module named"),
            tr("the address cannot be read; write postgresql+psycopg://name@machine/book"),
        ),
    ):
        if any(mark in text for mark in marks):
            return tr("The shared book {name} could not be used: {why}. ({whole})").format(
                name=name, why=why, whole=whole
            )
    return tr("The shared book {name} could not be used: {whole}.").format(name=name, whole=whole)
