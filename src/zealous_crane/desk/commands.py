"""Everything a person can tell the window to do: declared once, used by menus and keys."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from .window import Window


@dataclass(frozen=True)
class Command:
    """One thing a person can tell the window to do.

    Attributes:
        menu: the menu it stands in.
        text: as it is read there.
        keys: its key; several are parted by "; ".
        run: does it.
    """

    menu: str
    text: str
    keys: str
    run: Callable[[], None]


def commands(window: Window) -> list[Command]:
    """What this window can be told to do, in the order of the menus."""
    return [
        Command("&Job", "&New …", "Ctrl+N", window.show_start),
        Command("&Job", "Add a &part …", "Ctrl+Shift+N", lambda: window.show_start(adding=True)),
        Command("&Job", "&Open …", "Ctrl+O", window.ask_open),
        Command("&Job", "&Read a drawing (DXF) …", "Ctrl+R", window.ask_drawing),
        Command("&Job", "&Save", "Ctrl+S", window.save),
        Command("&Job", "Save &as …", "Ctrl+Shift+S", window.ask_save),
        Command("&Job", "&Close", "Ctrl+Q", lambda: (window.close(), None)[1]),
        Command("&Edit", "&Undo", "Ctrl+Z", window.session.undo),
        Command("&Edit", "&Redo", "Ctrl+Y; Ctrl+Shift+Z", window.session.redo),
        Command("&Hand over", "&Sheet for bench and brake (PDF) …", "Ctrl+P", lambda: window.ask_export("pdf")),
        Command("&Hand over", "&Marking sheet (PDF) …", "Ctrl+M", lambda: window.ask_export("pdf", "marking")),
        Command("&Hand over", "&Template at full size (PDF) …", "Ctrl+T", lambda: window.ask_export("pdf", "template")),
        Command("&Hand over", "&Drawing of the blank (DXF) …", "Ctrl+D", lambda: window.ask_export("dxf")),
        Command("&Hand over", "Drawing of the blank (S&VG) …", "Ctrl+Shift+D", lambda: window.ask_export("svg")),
        Command("&Hand over", "&Plan for other programs (JSON) …", "Ctrl+J", lambda: window.ask_export("json")),
        Command("&Shop", "&Edit this brake …", "Ctrl+E", window.ask_edit_brake),
        Command("&Shop", "Bring in a &brake file …", "Ctrl+B", window.ask_brake),
        *(
            Command("S&tage", name, f"Ctrl+{i + 1}", lambda i=i: window.show_stage(i))  # type: ignore[misc]
            for i, name in enumerate(("&Shape", "&Lay out", "&Tool up", "&Bend"))
        ),
        Command("S&tage", "&At the brake", "F5", window.show_at_brake),
        Command("S&tage", "&Order of the bends …", "Ctrl+Shift+O", window.ask_order),
        Command("S&tage", "Next bend", "Ctrl+Right", lambda: window.step_bend(1)),
        Command("S&tage", "Bend before", "Ctrl+Left", lambda: window.step_bend(-1)),
        Command("&View", "&Dark or light", "Ctrl+L", window.toggle_look),
        Command("&Help", "&Safety first", "F1", window.safety),
        Command("&Help", "Where the &log is …", "Ctrl+F1", window.show_log),
    ]
