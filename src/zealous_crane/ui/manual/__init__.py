"""The manual: pages of plain text that ship with the program, shown in the window and written as
HTML."""

from __future__ import annotations

from importlib import resources

PAGES: tuple[str, ...] = (
    "start",
    "shape",
    "lay-out",
    "cut",
    "tool-up",
    "bend",
    "work",
    "check",
    "shop",
    "practice",
    "bend-allowance",
    "kinds",
    "cautions",
)
"""Pages in the order they are read."""

PLACE_OF = {"at-the-brake": "work", "book": "shop"}
"""Where a place of the window has no page of its own, the page that tells of it."""


def page_text(name: str) -> str:
    """A page in Markdown; that of the kinds is made from the kinds themselves."""
    return (
        _kinds()
        if name == "kinds"
        else (resources.files(__package__) / f"{name}.md").read_text(encoding="utf-8")
    )


def picture_data(name: str) -> bytes:
    """A picture of the manual, as PNG."""
    return (resources.files(__package__) / "pictures" / f"{name}.png").read_bytes()


def page_title(name: str) -> str:
    """Its first heading."""
    return page_text(name).splitlines()[0].removeprefix("# ")


def page_for(place: str) -> str:
    """The page that tells of a place of the window, by the place's id."""
    name = PLACE_OF.get(place, place)
    return name if name in PAGES else "start"


def _kinds() -> str:
    from ...part.kinds import KINDS

    lines = ["# What can be made", ""]
    for kind in KINDS:
        key = kind.model_fields["kind"].default
        lines += [f"## {kind.label}", "", f"![{kind.label}](kind:{key})", "", kind.about, ""]
    return "\n".join(
        [
            *lines,
            "Anything else: take the nearest kind and edit it flange by flange, or read a drawing "
            "(DXF) of the flat.",
        ]
    )
