"""Everything a person can tell the window to do: declared once, used by menus and keys."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Command:
    """One thing a person can tell the window to do.

    Attributes:
        id: its name in the program, which stays when its words change.
        menu: the menu it stands in.
        text: as it is read there.
        keys: its key; several are parted by "; ".
    """

    id: str
    menu: str
    text: str
    keys: str


COMMANDS = (
    Command("job.new", "&Job", "&New …", "Ctrl+N"),
    Command("job.add-part", "&Job", "Add a &part …", "Ctrl+Shift+N"),
    Command("job.open", "&Job", "&Open …", "Ctrl+O"),
    Command("job.read-drawing", "&Job", "&Read a drawing (DXF) …", "Ctrl+R"),
    Command("job.save", "&Job", "&Save", "Ctrl+S"),
    Command("job.save-as", "&Job", "Save &as …", "Ctrl+Shift+S"),
    Command("job.close", "&Job", "&Close", "Ctrl+Q"),
    Command("edit.undo", "&Edit", "&Undo", "Ctrl+Z"),
    Command("edit.redo", "&Edit", "&Redo", "Ctrl+Y; Ctrl+Shift+Z"),
    Command("hand-over.sheet", "&Hand over", "&Sheet for bench and brake (PDF) …", "Ctrl+P"),
    Command("hand-over.marking", "&Hand over", "&Marking sheet (PDF) …", "Ctrl+M"),
    Command("hand-over.template", "&Hand over", "&Template at full size (PDF) …", "Ctrl+T"),
    Command("hand-over.dxf", "&Hand over", "&Drawing of the blank (DXF) …", "Ctrl+D"),
    Command("hand-over.svg", "&Hand over", "Drawing of the blank (S&VG) …", "Ctrl+Shift+D"),
    Command("hand-over.plan", "&Hand over", "&Plan for other programs (JSON) …", "Ctrl+J"),
    Command("shop.edit-brake", "&Shop", "&Edit this brake …", "Ctrl+E"),
    Command("shop.bring-in", "&Shop", "Bring in a &brake file …", "Ctrl+B"),
    Command("stage.shape", "S&tage", "&Shape", "Ctrl+1"),
    Command("stage.lay-out", "S&tage", "&Lay out", "Ctrl+2"),
    Command("stage.tool-up", "S&tage", "&Tool up", "Ctrl+3"),
    Command("stage.bend", "S&tage", "&Bend", "Ctrl+4"),
    Command("stage.at-the-brake", "S&tage", "&At the brake", "F5"),
    Command("bend.order", "S&tage", "&Order of the bends …", "Ctrl+Shift+O"),
    Command("bend.next", "S&tage", "Next bend", "Ctrl+Right"),
    Command("bend.before", "S&tage", "Bend before", "Ctrl+Left"),
    Command("view.look", "&View", "&Dark or light", "Ctrl+L"),
    Command("help.safety", "&Help", "&Safety first", "F1"),
    Command("help.log", "&Help", "Where the &log is …", "Ctrl+F1"),
)
"""In the order of the menus; what each does the window says."""


def keys_of(command: str) -> str:
    """The first key of a command, by its id."""
    return next(c.keys for c in COMMANDS if c.id == command).split("; ")[0]
