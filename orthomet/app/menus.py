"""The menus: every action with its words and its keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QObject
from PySide6.QtGui import QAction, QActionGroup, QKeySequence
from PySide6.QtWidgets import QMenu

from .desk import Desk
from .document import recent_files
from .theme.tokens import theme

Keys = QKeySequence.StandardKey


class Menus(QObject):
    """Builds the menu bar of a desk and keeps it true."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.desk = desk
        self._project()
        self._edit()
        self._view()
        self.stage = desk.shelf.menu.addMenu("Stage")
        self._cast()
        self._help()
        desk.station_turned.connect(self.fill_stage)
        desk.refreshed.connect(self.show_steps)

    def _menu(self, words: str) -> QMenu:
        return self.desk.shelf.menu.addMenu(words)

    def _add(self, menu: QMenu, words: str, keys: Keys | str | None, slot: Callable[[], object]) -> QAction:
        a = QAction(words, self.desk.window)
        if keys is not None:
            a.setShortcut(QKeySequence(keys))
        a.triggered.connect(lambda *_: slot())
        menu.addAction(a)
        self.desk.window.addAction(a)
        return a

    def _project(self) -> None:
        m, d = self._menu("Project"), self.desk
        self._add(m, "New project", Keys.New, d.new_project)
        self._add(m, "Open…", Keys.Open, d.open_dialog)
        self.recent = m.addMenu("Open recent")
        self.recent.aboutToShow.connect(self.fill_recent)
        m.addSeparator()
        self._add(m, "Save", Keys.Save, d.save)
        self._add(m, "Save as…", "Ctrl+Shift+S", d.filing.save_as)
        self._add(m, "Rename project…", None, d.rename)
        m.addSeparator()
        self._add(m, "Add picture…", "Ctrl+I", d.add_picture_dialog)
        self._add(m, "Stop what is running", "Ctrl+.", d.stop)
        self._add(m, "Open landmark file…", None, d.landmarks.open_dialog)
        self._add(m, "Save landmarks as…", None, d.save_landmarks)
        m.addSeparator()
        self._add(m, "Quit", Keys.Quit, d.window.close)

    def _edit(self) -> None:
        m, d = self._menu("Edit"), self.desk
        self.undo = self._add(m, "Undo", Keys.Undo, d.document.undo)
        self.redo = self._add(m, "Redo", "Ctrl+Shift+Z", d.document.redo)
        m.addSeparator()
        self._add(m, "Paste picture or landmarks", Keys.Paste, d.paste)

    def _view(self) -> None:
        m, d = self._menu("View"), self.desk
        for k, entry in enumerate(d.stations.table):
            self._add(m, entry.name, entry.keys, partial(d.go, k))
        m.addSeparator()
        group = QActionGroup(self)
        self._themes: dict[str, QAction] = {}
        for name, words in (("day", "Day"), ("night", "Night")):
            a = self._themes[name] = self._add(m, words, None, partial(theme.use, name, True))
            a.setCheckable(True)
            group.addAction(a)
        self._show_theme()
        theme.changed.connect(self._show_theme)
        self._add(m, "Day or night", "Ctrl+Shift+D", lambda: theme.use("night" if theme.t.name == "day" else "day", True))
        self._add(m, "Filter readings", Keys.Find, d.focus_filter)

    def _cast(self) -> None:
        m, d = self._menu("Cast"), self.desk
        self._add(m, "Add character…", "Ctrl+Shift+N", d.cast.add)
        self._add(m, "Name, part, height, age…", "F2", d.cast.edit)
        self._add(m, "Next character", "Ctrl+Tab", partial(d.cast.step, 1))
        self._add(m, "Previous character", "Ctrl+Shift+Tab", partial(d.cast.step, -1))
        self._add(m, "Cast in their poses, or standing", None, lambda: d.figures.show_posed(not d.figures.posed))
        m.addSeparator()
        self._add(m, "Remove character", None, d.cast.remove)

    def _help(self) -> None:
        m, d = self._menu("Help"), self.desk
        self._add(m, "Open the demo project", None, d.open_demo)
        self._add(m, "Hands and keys", "F1", d.tell_keys)
        self._add(m, "About the numbers", None, d.tell_about)

    def _show_theme(self) -> None:
        for name, a in self._themes.items():
            a.setChecked(theme.t.name == name)

    def fill_stage(self) -> None:
        """The open station's own actions."""
        self.stage.clear()
        for a in self.desk.station.actions_here():
            self.stage.addAction(a)

    def fill_recent(self) -> None:
        self.recent.clear()
        for path in recent_files():
            self.recent.addAction(Path(path).name, partial(self.desk.open_path, path)).setToolTip(path)
        if self.recent.isEmpty():
            self.recent.addAction("Nothing yet").setEnabled(False)

    def show_steps(self) -> None:
        """Undo and redo say what they would do."""
        d = self.desk.document
        for a, words, label in ((self.undo, "Undo", d.undo_label), (self.redo, "Redo", d.redo_label)):
            a.setEnabled(bool(label))
            a.setText(f"{words} {label.lower()}" if label else words)
