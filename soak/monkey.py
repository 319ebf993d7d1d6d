"""A monkey at the real window: it clicks, drags, types, picks from menus, drops files, undoes, saves, resizes, in every station."""

from __future__ import annotations

import json
import random
import sys
import tempfile
import time
import traceback
from pathlib import Path
from types import TracebackType
from typing import Any

from PySide6.QtCore import QEvent, QPoint, QPointF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractSlider,
    QApplication,
    QComboBox,
    QDialog,
    QFileDialog,
    QInputDialog,
    QLineEdit,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QWidget,
)
from shiboken6 import isValid

from .cases import SLOW, Wrong
from .material import landmark_files, pictures, small_project, style_body
from .mutate import bytes_of, text_of

KEYS = (
    Qt.Key.Key_Tab, Qt.Key.Key_Backtab, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Space, Qt.Key.Key_Left, Qt.Key.Key_Right,
    Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Delete, Qt.Key.Key_Home, Qt.Key.Key_1, Qt.Key.Key_4, Qt.Key.Key_D, Qt.Key.Key_F, Qt.Key.Key_G, Qt.Key.Key_H,
    Qt.Key.Key_K, Qt.Key.Key_L, Qt.Key.Key_M, Qt.Key.Key_O, Qt.Key.Key_P, Qt.Key.Key_X, Qt.Key.Key_BracketLeft, Qt.Key.Key_PageDown, Qt.Key.Key_B, Qt.Key.Key_C, Qt.Key.Key_E, Qt.Key.Key_I, Qt.Key.Key_T, Qt.Key.Key_V,
)  # fmt: skip
NONE, CTRL, SHIFT = Qt.KeyboardModifier.NoModifier, Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
LEFT = Qt.MouseButton.LeftButton
HEAVY = ("Quit", "Open the demo project", "New project", "Remove character")
"""Entries that end the play or make it dull; picked now and then only."""


class Monkey:
    """One window and one hand. Whatever goes wrong behind the window's back is raised at the next step."""

    def __init__(self, rng: random.Random, demo: bool | None = None):
        from orthomet.app.application import make_application
        from orthomet.app.shell import Window

        self.rng = rng
        self.wrong: list[str] = []
        sys.excepthook = self._hook
        self.app: Any = make_application()
        self.place = Path(tempfile.mkdtemp(prefix="monkey-"))
        self._answer_dialogs()
        self.window = Window()
        self.desk = self.window.furnish()
        self.window.show()
        if rng.random() < 0.5 if demo is None else demo:
            self.desk.open_demo()
        else:
            self.desk.document.open_stored(small_project(), None)
        self.doing = ""

    def _hook(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        self.wrong.append("".join(traceback.format_exception(kind, error, trace))[-2500:])
        print(
            self.wrong[-1].encode(errors="backslashreplace").decode(), file=sys.stderr
        )  # what ends the play is told nowhere else

    # ---- dialogs answer by themselves

    def _answer_dialogs(self) -> None:
        rng, place = self.rng, self.place

        def path_out(*a: Any, **_: Any) -> tuple[str, str]:
            ending = rng.choice((".orthomet", ".svg", ".png", ".pdf", ".json", ".pts", ".css", ".csv", "", ".ora"))
            where = rng.choice((place / f"out{rng.randrange(5)}{ending}", place / "no" / "where", Path()))
            return ("" if str(where) == "." else str(where)), ""

        QFileDialog.getSaveFileName = path_out  # type: ignore[assignment,method-assign]
        QFileDialog.getOpenFileName = lambda *a, **k: (self._some_file(), "")  # type: ignore[assignment,method-assign]
        QFileDialog.getOpenFileNames = lambda *a, **k: ([self._some_file()], "")  # type: ignore[assignment,method-assign]
        QInputDialog.getText = lambda *a, **k: (rng.choice(("Name", "", "ß" * 90)), rng.random() < 0.8)  # type: ignore[assignment,method-assign]
        QInputDialog.getDouble = lambda *a, **k: (rng.uniform(0.1, 5), rng.random() < 0.8)  # type: ignore[assignment,method-assign]
        QMessageBox.exec = lambda box: self._press(box)  # type: ignore[assignment,method-assign,return-value]
        QDialog.exec = lambda dialog: rng.choice((0, 1))  # type: ignore[assignment,method-assign]

    def _press(self, box: QMessageBox) -> QMessageBox.StandardButton:
        options = [b for b in box.buttons() if box.standardButton(b) is not QMessageBox.StandardButton.NoButton]
        return box.standardButton(self.rng.choice(options)) if options else QMessageBox.StandardButton.NoButton

    def _pick(self) -> None:
        """Answer a menu that has popped up: an entry by click, or none."""
        menu = QApplication.activePopupWidget()
        if isinstance(menu, QMenu):
            ready = [a for a in menu.actions() if a.isEnabled() and not a.isSeparator() and a.menu() is None]
            if ready and self.rng.random() < 0.8:
                QTest.mouseClick(menu, LEFT, NONE, menu.actionGeometry(self.rng.choice(ready)).center())
        popped = QApplication.activePopupWidget()
        if popped is not None:
            popped.close()
        for box in self.window.findChildren(QMessageBox):
            if box.isVisible():
                box.close()

    def _some_file(self) -> str:
        """A picture, landmarks, a style or a project, sound or not."""
        rng = self.rng
        kind = rng.randrange(5)
        if kind == 0:
            name, data = rng.choice(list(pictures().items()))
        elif kind == 1:
            name, data = "face.json", json.dumps(rng.choice(list(landmark_files().values()))).encode()
        elif kind == 2:
            name, data = "bad.json", text_of(rng, rng.choice((style_body(), *landmark_files().values())))
        elif kind == 3:
            name, data = "style.json", json.dumps(style_body()).encode()
        else:
            name, data = "p.png", bytes_of(rng, pictures()["rgba.png"])
        path = self.place / f"{rng.randrange(4)}-{name}"
        path.write_bytes(data)
        return str(path)

    # ---- what it does

    def play(self, steps: int) -> None:
        for _ in range(steps):
            self.step()
        self.desk.stop()
        self._settle(0.3)
        self.desk.document.close()
        sys.excepthook = sys.__excepthook__
        self._look()

    def step(self) -> None:
        try:
            self._step()
        except BaseException:
            sys.excepthook = sys.__excepthook__  # from here on it is ours to tell
            raise

    def _step(self) -> None:
        acts = (
            (self._click, 26), (self._drag, 20), (self._key, 14), (self._menu, 12), (self._station, 8), (self._undo, 8), (self._type, 6),
            (self._wheel, 5), (self._file, 3), (self._cast, 3), (self._size, 1), (self._save, 2),
        )  # fmt: skip
        act = self.rng.choices([a for a, _ in acts], [w for _, w in acts])[0]
        self.doing = act.__name__
        start = time.monotonic()
        act()
        self._pick()
        self._settle(self.rng.choice((0.0, 0.0, 0.005, 0.05)))
        took = time.monotonic() - start
        if took > SLOW:
            raise Wrong(f"{self.doing} at {self.desk.station.name} held the window for {took:.1f} s")
        self._look()

    def _settle(self, seconds: float) -> None:
        if seconds:
            QTest.qWait(int(1000 * seconds))
        self.app.processEvents()
        QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # as an idle event loop does

    def _look(self) -> None:
        if self.wrong:
            raise Wrong(f"in {self.doing} at {self.desk.station.name}:\n{self.wrong[0]}")

    def _widgets(self, *kinds: type[QWidget]) -> list[QWidget]:
        """What can be reached in the open station and in the frame about it."""
        roots = (self.desk.station, self.window.shelf, self.window.rail, self.window.ledge)
        return [
            w
            for r in roots
            for w in (r, *r.findChildren(QWidget))
            if isinstance(w, kinds or QWidget) and w.isVisible() and w.isEnabled() and w.width() > 3 and w.height() > 3
        ]

    def _somewhere(self, w: QWidget) -> QPoint:
        return QPoint(self.rng.randrange(w.width()), self.rng.randrange(w.height()))

    def _click(self) -> None:
        found = self._widgets(QAbstractButton, QComboBox, QAbstractSlider) if self.rng.random() < 0.5 else self._widgets()
        if not found:
            return
        w = self.rng.choice(found)
        if isinstance(w, QComboBox):
            if w.count():  # its list would wait for an answer
                w.setCurrentIndex(self.rng.randrange(w.count()))
                w.activated.emit(w.currentIndex())
            return
        QTest.mouseClick(w, LEFT, self.rng.choice((NONE, NONE, CTRL, SHIFT)), self._somewhere(w))

    def _drag(self) -> None:
        stages = [w for w in self._widgets() if w.focusPolicy() & Qt.FocusPolicy.ClickFocus and w.width() > 120]
        w = self.rng.choice(stages or self._widgets())
        a, b = self._somewhere(w), self._somewhere(w)
        points = getattr(getattr(w, "marks", None), "points", None)
        if points and hasattr(w, "to_screen") and self.rng.random() < 0.7:
            a = w.to_screen(*self.rng.choice(list(points.values()))).toPoint()
        joints = getattr(w, "joints", None)
        if joints and self.rng.random() < 0.7:
            a = w.place(self.rng.choice(list(joints))).toPoint()  # type: ignore[attr-defined]
        dragged, what = isinstance(w, QAbstractSlider), f"{type(w).__name__} “{w.accessibleName()}”"
        QTest.mousePress(w, LEFT, self.rng.choice((NONE, NONE, SHIFT, CTRL)), a)
        for k in range(1, 5):
            if not isValid(w):
                if dragged:
                    raise Wrong(f"{what} was taken away under the hand")
                return
            QTest.mouseMove(w, a + (b - a) * k / 4)
            self.app.processEvents()
        if self.rng.random() < 0.15:
            QTest.keyClick(w, self.rng.choice((Qt.Key.Key_Escape, Qt.Key.Key_Z)), self.rng.choice((NONE, CTRL)))
        QTest.mouseRelease(w, LEFT, NONE, b)

    def _key(self) -> None:
        w = QApplication.focusWidget() or self.desk.station
        QTest.keyClick(w, self.rng.choice(KEYS), self.rng.choice((NONE, NONE, NONE, CTRL, SHIFT)))

    def _type(self) -> None:
        fields = self._widgets(QLineEdit, QPlainTextEdit)
        if fields:
            w = self.rng.choice(fields)
            w.setFocus()
            for ch in self.rng.choice(("slow, sly", "12", "-3.5", "äß“”", "x" * 40)):  # QTest's own typing aborts at “”
                QApplication.sendEvent(w, QKeyEvent(QEvent.Type.KeyPress, 0, NONE, ch))
            if self.rng.random() < 0.5:
                QTest.keyClick(
                    w, self.rng.choice((Qt.Key.Key_Return, Qt.Key.Key_Tab, Qt.Key.Key_Escape)), self.rng.choice((NONE, CTRL))
                )

    def _menu(self) -> None:
        top = self.rng.choice(self.window.shelf.menu.actions())
        if top.menu() is None:
            return
        top.menu().aboutToShow.emit()
        ready = [a for a in top.menu().actions() if a.isEnabled() and a.menu() is None and not a.isSeparator()]
        if ready:
            a = self.rng.choice(ready)
            if a.text() == "Quit" or (a.text() in HEAVY and self.rng.random() < 0.8):
                return
            a.trigger()

    def _station(self) -> None:
        self.desk.go(self.rng.randrange(len(self.desk.stations)))

    def _undo(self) -> None:
        for _ in range(self.rng.choice((1, 1, 2, 8))):
            self.desk.document.redo() if self.rng.random() < 0.3 else self.desk.document.undo()

    def _wheel(self) -> None:
        w = self.rng.choice(self._widgets())
        at = QPointF(self._somewhere(w))
        delta = QPoint(0, self.rng.choice((-120, 120, 360)))
        e = QWheelEvent(
            at,
            QPointF(w.mapToGlobal(at.toPoint())),
            QPoint(),
            delta,
            Qt.MouseButton.NoButton,
            NONE,
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(w, e)

    def _file(self) -> None:
        self.desk.open_path(self._some_file())

    def _cast(self) -> None:
        self.desk.cast.step(self.rng.choice((-1, 1)))

    def _size(self) -> None:
        self.window.resize(self.rng.randrange(900, 1700), self.rng.randrange(600, 1100))

    def _save(self) -> None:
        """A save, and what lies on disk then is what is open."""
        from orthomet.core.project.store import read

        d = self.desk.document
        d.leave()
        d.commit()
        target = self.place / "kept.orthomet"
        if self.desk.filing.begin(str(target)):
            self.desk.filing.wait()
            if d.path == target and not d.dirty and read(target).project != d.project:
                raise Wrong("what was saved is not what is open")
