"""The window itself: shelf, rail, ledge and an empty board, shown at once; the desk moves in after the first paint."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING

from PySide6.QtCore import QSettings
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QGuiApplication
from PySide6.QtWidgets import QApplication, QMainWindow, QStackedWidget, QWidget

from .ledge import Ledge
from .parts import across, down
from .rail import Rail
from .shelf import Shelf
from .stations.table import TABLE
from .theme.tokens import stylesheet, theme

if TYPE_CHECKING:
    from .desk import Desk


TITLE_BAR, FRAME = 38, 4
"""What a desktop's own frame takes of a window, logical pixels: with some to spare (own)."""


@contextmanager
def _no_rubbish_taken_out() -> Iterator[None]:
    """Python deletes no forgotten objects, widgets among them, while this lasts."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


class Window(QMainWindow):
    """Light to build: nothing here imports the core. :meth:`furnish` brings in the :class:`Desk`."""

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("frame")
        self.setAcceptDrops(True)
        self.setMinimumSize(1040, 640)
        self.resize(*self._first_size())
        geometry = QSettings().value("geometry")
        if geometry is not None:
            self.restoreGeometry(geometry)
        self.desk: Desk | None = None
        self.shelf, self.ledge, self.rail = Shelf(), Ledge(), Rail([(e.name, e.keys) for e in TABLE])
        self.shelf.set_title("Orthomet", "")
        self.stack = QStackedWidget()
        middle = across(self.rail, (self.stack, 1))
        frame = QWidget()
        frame.setObjectName("frame")
        self.column = down(self.shelf, (middle, 1), self.ledge, owner=frame)
        self.setCentralWidget(frame)
        theme.changed.connect(self.apply_theme)
        self.apply_theme()

    @staticmethod
    def _first_size() -> tuple[int, int]:
        """1280 × 800, or what a smaller desktop leaves beside its own bars and the window's frame."""
        screen = QGuiApplication.primaryScreen()
        if screen is None or QGuiApplication.platformName() == "offscreen":  # no desktop at all
            return 1280, 800
        room = screen.availableGeometry()
        return min(1280, room.width() - 2 * FRAME), min(800, room.height() - TITLE_BAR - FRAME)

    def furnish(self, keep_journal: bool = True) -> Desk:
        """Build the document, the stations and the menus."""
        with _no_rubbish_taken_out():  # what is loaded now stays: looking through it would take a tenth of the time
            return self._furnish(keep_journal)

    def _furnish(self, keep_journal: bool) -> Desk:
        from .desk import Desk
        from .menus import Menus

        self.desk = Desk(self, self.show_station, self.shelf, self.rail, self.ledge, keep_journal)
        self.menus = Menus(self.desk)
        for bar in (self.desk.again, self.desk.recovery):
            self.column.insertWidget(1, bar)
        self._style_bars()
        self.desk.go(0)
        return self.desk

    def show_station(self, k: int, station: QWidget) -> None:
        if self.stack.indexOf(station) < 0:
            self.stack.addWidget(station)
        self.stack.setCurrentWidget(station)
        self.rail.set_current(k)

    def apply_theme(self) -> None:
        app, sheet = QApplication.instance(), stylesheet(theme.t)
        if isinstance(app, QApplication) and app.styleSheet() != sheet:  # of two windows the first sets it for both
            with _no_rubbish_taken_out():  # Qt walks through every widget there is, and one may not go meanwhile
                app.setStyleSheet(sheet)
        self._style_bars()
        for w in self.findChildren(QWidget):
            w.update()

    def _style_bars(self) -> None:
        if self.desk is not None:
            for bar in (self.desk.again, self.desk.recovery):
                name = type(bar).__name__
                bar.setStyleSheet(f"{name} {{ background: {theme.t.look_wash}; border-bottom: 1px solid {theme.t.look}; }}")

    def dragEnterEvent(self, e: QDragEnterEvent) -> None:
        if self.desk is not None and (e.mimeData().hasUrls() or e.mimeData().hasImage()):
            e.acceptProposedAction()

    def dropEvent(self, e: QDropEvent) -> None:
        if self.desk is not None:
            self.desk.take_drop(e)

    def closeEvent(self, e: QCloseEvent) -> None:
        if self.desk is not None:
            if not self.desk.may_leave():
                e.ignore()
                return
            self.desk.close()
        QSettings().setValue("geometry", self.saveGeometry())
        e.accept()
