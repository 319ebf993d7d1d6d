"""Landmark files of the picture at hand: opened, dropped, pasted and saved, as JSON or as 68 points."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Protocol

from PySide6.QtCore import QObject, Signal
from PySide6.QtWidgets import QFileDialog, QWidget

from ..core.errors import OrthometError
from ..core.files import write_whole
from ..core.landmarks.files import MAX_BYTES, landmarks_from_text, landmarks_to_text, read_landmarks
from ..core.landmarks.points import Landmarks
from ..core.landmarks.pts import from_pts, read_pts, to_pts
from .ask import ask_where

FILES = "Landmark files (*.json *.pts)"
ENDINGS = (".json", ".pts")


class TakesLandmarks(Protocol):
    """A station, as far as landmark files know it."""

    def take_landmarks(self, found: Landmarks) -> bool | None: ...

    def landmarks_here(self) -> Landmarks | None: ...


def is_text_of_points(text: str) -> bool:
    """Whether text on the clipboard looks like a landmark file of either kind."""
    start = text[:2000]
    return len(text) <= MAX_BYTES and (("n_points" in start) or (start.lstrip().startswith("{") and '"points"' in text))


class LandmarkFiles(QObject):
    """Gives landmarks to the first of the pictures at hand that takes them: the open station's, else the reference."""

    said = Signal(str, bool)
    """A sentence, and whether it is about trouble."""

    def __init__(self, window: QWidget, at_hand: Callable[[], Sequence[TakesLandmarks]], folder: Callable[[], str]):
        super().__init__(window)
        self.window, self.at_hand, self.folder = window, at_hand, folder

    def open_dialog(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.window, "Open a landmark file", self.folder(), FILES)
        if path:
            self.open(path)

    def open(self, path: str) -> bool:
        return self._give(lambda: read_pts(path) if path.lower().endswith(".pts") else read_landmarks(path))

    def paste(self, text: str) -> bool:
        where = "The clipboard"
        return self._give(lambda: from_pts(text, where) if "n_points" in text[:2000] else landmarks_from_text(text, where))

    def _give(self, read: Callable[[], Landmarks]) -> bool:
        try:
            found = read()
        except OrthometError as e:
            self.said.emit(str(e), True)
            return False
        for station in self.at_hand():
            taken = station.take_landmarks(found)
            if taken is not None:
                return taken
        self.said.emit("Landmarks need a picture to lie on: add the reference first.", True)
        return False

    def save_dialog(self, name: str) -> None:
        here = next((m for m in (s.landmarks_here() for s in self.at_hand()) if m is not None), None)
        if here is None or not here.points:
            self.said.emit("There are no landmarks to save yet.", True)
            return
        start = str(Path(self.folder()) / f"{name}.json")
        path = ask_where(self.window, "Save landmarks", start, {".json": "Landmarks", ".pts": "68 points"})
        if path:
            try:
                text = to_pts(here) if path.lower().endswith(".pts") else landmarks_to_text(here)
                write_whole(path, text.encode())
                self.said.emit(f"Landmarks written to {Path(path).name}.", False)
            except OrthometError as e:
                self.said.emit(str(e), True)
