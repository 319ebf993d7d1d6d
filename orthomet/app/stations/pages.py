"""A page of a panel: sections of rows under a title, scrolling; and the switch that turns pages."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QComboBox,
    QDoubleSpinBox,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QWidget,
)

from ..parts import across, down, quiet, scrolling, soft
from ..theme.tokens import PAD


class Page(QWidget):
    """Sections of widgets, one under the other."""

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        scroll = scrolling()
        inner = QWidget()
        inner.setObjectName("inner")
        self.rows = down(owner=inner, margins=(PAD, 2, PAD, 12), spacing=7)
        scroll.setWidget(inner)
        down(scroll, owner=self, spacing=None)

    def section(self, words: str) -> QLabel:
        label = QLabel(words)
        label.setProperty("lettering", "group")
        if self.rows.count():
            self.rows.addSpacing(8)
        self.rows.addWidget(label)
        return label

    def note(self, words: str = "") -> QLabel:
        label = soft(words, wrap=True)
        self.rows.addWidget(label)
        return label

    def row(self, *widgets: QWidget | str, stretch: int = -1) -> QHBoxLayout:
        items = [(QLabel(w) if isinstance(w, str) else w, int(k == stretch)) for k, w in enumerate(widgets)]
        line = across(*items, *([...] if stretch < 0 else []), spacing=8)
        self.rows.addLayout(line)
        return line

    def end(self) -> None:
        self.rows.addStretch(1)


def show_in(scroll: QScrollArea, inner: QWidget) -> None:
    """Put other contents into a scroll area where they are scrolled as far as the old ones were.

    The keyboard stays at the same place: on the third card, say, or on the last if there are fewer now.
    The old ones go at the end of the event loop's turn: one of them may be what asked for the change.
    """
    at = scroll.verticalScrollBar().value()
    kind, rank = _focus_in(scroll.widget())
    old = scroll.takeWidget()
    if old is not None:
        old.hide()
        old.deleteLater()
    scroll.setWidget(inner)
    scroll.verticalScrollBar().setValue(at)
    if kind is not None:
        like = _reachable(inner, kind)
        (like[min(rank, len(like) - 1)] if like else scroll).setFocus()


def _reachable(inner: QWidget, kind: type[QWidget]) -> list[QWidget]:
    return [w for w in inner.findChildren(QWidget) if type(w) is kind and w.focusPolicy() & Qt.FocusPolicy.TabFocus]


def _focus_in(old: QWidget | None) -> tuple[type[QWidget] | None, int]:
    """What holds the keyboard inside a widget, and which one of its kind it is."""
    focus = QApplication.focusWidget()
    if old is None or focus is None or not old.isAncestorOf(focus):
        return None, 0
    like = _reachable(old, type(focus))
    return type(focus), like.index(focus) if focus in like else 0


def put_away(gone: QWidget, heir: QWidget) -> None:
    """Remove a widget that may hold the keyboard: then ``heir`` gets it, not whatever comes next in the window."""
    focus = QApplication.focusWidget()
    if focus is not None and (focus is gone or gone.isAncestorOf(focus)):
        heir.setFocus()
    gone.hide()
    gone.deleteLater()


class PageSwitch(QWidget):
    """Which page of a panel shows."""

    turned = Signal(int)

    def __init__(self, names: tuple[str, ...], parent: QWidget | None = None):
        super().__init__(parent)
        row = across(owner=self)
        self.group = QButtonGroup(self)
        for k, n in enumerate(names):
            b = QPushButton(n)
            b.setCheckable(True)
            b.setToolTip(f"Show {n.lower()}")
            b.setProperty("tight", len(names) > 5)
            self.group.addButton(b, k)
            row.addWidget(b)
        self.group.button(0).setChecked(True)
        self.group.idClicked.connect(self.turned)

    def show_page(self, k: int) -> None:
        self.group.button(k).setChecked(True)
        self.turned.emit(k)


def fill(box: QComboBox, rows: Sequence[tuple[str, Hashable]], chosen: Hashable) -> None:
    """Words and what they stand for in a list to choose from, and the one that is chosen."""
    if [(box.itemText(k), box.itemData(k)) for k in range(box.count())] != list(rows):
        box.clear()
        for words, key in rows:
            box.addItem(words, key)
    box.setCurrentIndex(next((k for k, (_, key) in enumerate(rows) if key == chosen), 0 if rows else -1))


def number_box(
    low: float, high: float, step: float, decimals: int, suffix: str, tip: str, slot: Callable[[float], object]
) -> QDoubleSpinBox:
    """A number that tells of itself once it is settled, not at every key."""
    box = QDoubleSpinBox()
    box.setRange(low, high)
    box.setSingleStep(step)
    box.setDecimals(decimals)
    box.setSuffix(suffix)
    box.lineEdit().setTextMargins(5, 0, 0, 0)
    box.setToolTip(tip)
    box.setAccessibleName(tip)
    box.setKeyboardTracking(False)
    box.valueChanged.connect(lambda v: slot(float(v)))
    return box


def put(box: QDoubleSpinBox, value: float) -> None:
    """Show a value without telling of it."""
    if abs(box.value() - value) > 1e-9:
        with quiet(box):
            box.setValue(value)
