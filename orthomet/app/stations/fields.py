"""Fields that hold somebody's words: each knows whose they are, and gives them up before anything else is looked at.

A field in the hand keeps what is typed while its owner stays; with another owner it shows that one's words at once. What is
typed and not yet taken is settled (:func:`settle_focused`) before every edit, every change of selection and every save.
"""

from __future__ import annotations

from collections.abc import Hashable

from PySide6.QtCore import QEvent, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QAbstractSpinBox, QApplication, QLineEdit, QPlainTextEdit, QWidget


def put_words(box: QLineEdit, owner: Hashable, words: str) -> None:
    """Show an owner's words; typing that goes on for this same owner is left alone."""
    same = box.property("owner") == str(owner)
    if same and box.hasFocus() and box.isModified():
        return
    if box.text() != words or not same:
        box.setText(words)
    box.setProperty("owner", str(owner))


class Words(QPlainTextEdit):
    """Several lines of text that tell of themselves when left."""

    settled = Signal(str)

    def __init__(self, placeholder: str, name: str, lines: int = 4):
        super().__init__()
        self.setPlaceholderText(placeholder)
        self.setAccessibleName(name)
        self.setTabChangesFocus(True)
        self.setFixedHeight(18 * lines + 14)
        self._shown, self._owner = "", ""

    def show_text(self, owner: Hashable, words: str) -> None:
        same = self._owner == str(owner)
        if same and self.hasFocus() and self.toPlainText() != self._shown:
            return  # typing goes on
        if not same or words != self.toPlainText():
            self.setPlainText(words)
        self._shown, self._owner = words, str(owner)

    def settle(self) -> None:
        if self.toPlainText() != self._shown:
            self._shown = self.toPlainText()
            self.settled.emit(self._shown)

    def focusOutEvent(self, e: QFocusEvent) -> None:
        super().focusOutEvent(e)
        self.settle()

    def event(self, e: QEvent) -> bool:
        if isinstance(e, QKeyEvent) and e.type() == QEvent.Type.ShortcutOverride and _is_settle(e):
            e.accept()  # it is meant for these words, whatever it may mean elsewhere
            return True
        return super().event(e)

    def keyPressEvent(self, e: QKeyEvent) -> None:
        if _is_settle(e):
            self.settle()
        else:
            super().keyPressEvent(e)


def _is_settle(e: QKeyEvent) -> bool:
    return e.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and bool(e.modifiers() & Qt.KeyboardModifier.ControlModifier)


def settle_focused(inside: QWidget) -> None:
    """Take what is typed in the field that has the keys, if it lies inside this window: its owner is still the one at hand."""
    w = QApplication.focusWidget()
    if w is None or w.window() is not inside.window():
        return
    if isinstance(w, Words):
        w.settle()
    elif isinstance(w, QAbstractSpinBox):
        w.interpretText()
    elif isinstance(w, QLineEdit) and w.isModified():
        w.setModified(False)
        w.editingFinished.emit()
