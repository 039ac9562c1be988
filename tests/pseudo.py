"""Every text of the window in a language in which what can be translated stands between ⟦ and ⟧: prints what does not.

Run by itself, with the language set before anything is imported. Names people give (parts, brakes, metals, folds) and figures are
no words of the program.
"""

from __future__ import annotations

import html
import re
import sys

from PySide6.QtCore import Qt
from PySide6.QtGui import QAction
from PySide6.QtWidgets import QAbstractButton, QComboBox, QLabel, QLineEdit, QTableWidget, QTreeWidget, QWidget

from zealous_crane.brake import shipped_rack
from zealous_crane.demo import DEMOS, demo_work
from zealous_crane.desk.app import application
from zealous_crane.desk.picture import settle
from zealous_crane.desk.session import Session
from zealous_crane.desk.window import Window
from zealous_crane.metal import MATERIALS


def bare(text: str) -> str:
    """Text without its markup."""
    return html.unescape(re.sub("<[^>]*>", " ", text))


def texts(window: QWidget):
    """Everything a person may read, as (who says it, text)."""
    for action in window.findChildren(QAction):
        yield "menu", action.text()
    for widget in window.findChildren(QWidget):
        kind = type(widget).__name__
        yield f"{kind} tip", bare(widget.toolTip())
        yield f"{kind} name", widget.accessibleName()
        if isinstance(widget, QLabel | QAbstractButton):
            yield kind, bare(widget.text())
        elif isinstance(widget, QLineEdit):
            yield kind, widget.placeholderText()
        elif isinstance(widget, QComboBox):
            yield from ((kind, widget.itemText(i)) for i in range(widget.count()))
        elif isinstance(widget, QTableWidget):
            for row in range(widget.rowCount()):
                yield from ((kind, item.text()) for c in range(widget.columnCount()) if (item := widget.item(row, c)))
        elif isinstance(widget, QTreeWidget):
            rows = widget.findItems("", Qt.MatchFlag.MatchContains | Qt.MatchFlag.MatchRecursive)
            yield from ((kind, row.text(0)) for row in rows)


def given(session: Session) -> list[str]:
    """Words that are data: names of parts, brakes, tools, metals, panels and folds."""
    blank = session.blank
    words = [p.name for p in blank.panels] + [f.name for f in blank.folds] + [h.name for h in blank.holes]
    words += [n.name for n in blank.notches] + [r.name for r in blank.reliefs] + [m.name for m in blank.marks]
    for brake in session.rack.brakes:
        words += [brake.name, *(t.name for field in brake.tools for t in getattr(brake, field))]
    words += [metal.name for metal in MATERIALS.values()]
    for name in DEMOS:
        work = demo_work(name)
        words += [work.name, *(part.name for part in work.parts)]
    return sorted({w for word in words for w in (word, word.capitalize(), word.lower()) if w}, key=len, reverse=True)


def plain(text: str, words: list[str]) -> str:
    """What of a text is neither translated nor data."""
    before = None
    while before != text:
        before, text = text, re.sub(r"⟦[^⟦⟧]*⟧", " ", text)
    for word in words:
        text = text.replace(word, " ")
    text = re.sub(r"\b(mm|in|ga|kN|kg|g|lb|oz|tons|t|x|y|z|BD|BA|K|V|DXF|SVG|PDF|JSON|Ctrl|F\d+)\b", " ", text)
    return " ".join(re.findall(r"[A-Za-z]{3,}", text))


def main(names: list[str]) -> None:
    application()
    found: dict[str, str] = {}
    for name in names:
        session = Session(demo_work(name), shipped_rack())
        window = Window(session)
        window.show()
        settle(session)
        words, looked_at = given(session), set[str]()
        for stage in window.stages:
            window.show_stage(stage)
            settle(session, 200)
            for who, text in texts(window):
                if text in looked_at:
                    continue
                looked_at.add(text)
                left = plain(text, words)
                if left:
                    found.setdefault(left, f"{who}: {text[:100]}")
        session.mark_saved()
        window.close()
    for left, where in sorted(found.items()):
        print(f"{left!r} — {where!r}")


if __name__ == "__main__":
    main(sys.argv[1:])
