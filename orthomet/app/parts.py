"""Small parts every panel is made of, each in one line: rows and columns, choices, entries, ticks, quiet words."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from types import EllipsisType
from typing import Any, TypeVar

from PySide6.QtCore import QObject, Qt
from PySide6.QtWidgets import (
    QBoxLayout,
    QCheckBox,
    QComboBox,
    QHBoxLayout,
    QLabel,
    QLayout,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

Margins = tuple[int, int, int, int]
"""Left, top, right, bottom."""
NONE: Margins = (0, 0, 0, 0)
L = TypeVar("L", bound=QBoxLayout)


Item = QWidget | QLayout | tuple[QWidget | QLayout, int] | int | EllipsisType
"""A part, a part and how far it stretches, so many pixels, or ``...`` for what room is left."""


def across(*items: Item, owner: QWidget | None = None, margins: Margins = NONE, spacing: int | None = 0) -> QHBoxLayout:
    """Side by side; ``spacing=None`` leaves it to the style."""
    return _laid(QHBoxLayout(owner) if owner is not None else QHBoxLayout(), items, margins, spacing)


def down(*items: Item, owner: QWidget | None = None, margins: Margins = NONE, spacing: int | None = 0) -> QVBoxLayout:
    """One under the other."""
    return _laid(QVBoxLayout(owner) if owner is not None else QVBoxLayout(), items, margins, spacing)


def _laid(lay: L, items: tuple[Item, ...], margins: Margins, spacing: int | None) -> L:
    lay.setContentsMargins(*margins)
    if spacing is not None:
        lay.setSpacing(spacing)
    put_in(lay, *items)
    return lay


def put_in(lay: QBoxLayout, *items: Item) -> None:
    """Add items at the end of a row or a column."""
    for each in items:
        what, stretch = each if isinstance(each, tuple) else (each, 0)
        if isinstance(what, QWidget):
            lay.addWidget(what, stretch)
        elif isinstance(what, QLayout):
            lay.addLayout(what, stretch)
        elif isinstance(what, int):
            lay.addSpacing(what)
        else:
            lay.addStretch(1)


def button(words: str, slot: Callable[[], object], tip: str = "", strong: bool = False, bare: bool = False) -> QPushButton:
    b = QPushButton(words)
    b.setToolTip(tip)
    b.setProperty("strong", strong)
    b.setProperty("bare", bare)
    b.clicked.connect(lambda: slot())
    b.setCursor(Qt.CursorShape.PointingHandCursor)
    return b


def toggle(words: str, slot: Callable[[], object], tip: str = "", on: bool = False) -> QPushButton:
    """A button that stays pressed."""
    b = button(words, slot, tip)
    b.setCheckable(True)
    b.setChecked(on)
    return b


def pile(*pages: QWidget) -> QStackedWidget:
    """Pages of which one shows."""
    stack = QStackedWidget()
    for w in pages:
        stack.addWidget(w)
    return stack


def choices(name: str, tip: str = "", slot: Callable[[Any], object] | None = None) -> QComboBox:
    """A list to choose from; ``slot`` gets what the chosen line stands for."""
    box = QComboBox()
    box.setAccessibleName(name)
    box.setToolTip(tip)
    if slot is not None:
        box.activated.connect(lambda k: slot(box.itemData(k)))
    return box


def entry(name: str, hint: str = "", most: int = 32767, slot: Callable[[], object] | None = None, tip: str = "") -> QLineEdit:
    """A line of words; ``slot`` is called once they are settled."""
    line = QLineEdit()
    line.setAccessibleName(name)
    line.setPlaceholderText(hint)
    line.setMaxLength(most)
    line.setToolTip(tip)
    if slot is not None:
        line.editingFinished.connect(slot)
    return line


def tick(words: str, tip: str = "", slot: Callable[[bool], object] | None = None) -> QCheckBox:
    box = QCheckBox(words)
    box.setToolTip(tip)
    if slot is not None:
        box.toggled.connect(slot)
    return box


def soft(words: str = "", wrap: bool = False) -> QLabel:
    """Words that stand back."""
    label = QLabel(words)
    label.setProperty("soft", True)
    label.setWordWrap(wrap)
    return label


def scrolling() -> QScrollArea:
    """A panel's scroll area: up and down alone, not a stop for the keys."""
    area = QScrollArea()
    area.setObjectName("scroll")
    area.setWidgetResizable(True)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    return area


@contextmanager
def quiet(*senders: QObject) -> Iterator[None]:
    """While it lasts they tell nobody what is put into them."""
    was = [s.blockSignals(True) for s in senders]
    try:
        yield
    finally:
        for s, before in zip(senders, was, strict=True):
            s.blockSignals(before)
