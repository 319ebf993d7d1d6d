"""Landmark files of the picture at hand: opened, dropped, pasted and saved, as JSON or as 68 points."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QFileDialog

from ..core.errors import OrthometError
from ..core.files import write_whole
from ..core.landmarks.files import MAX_BYTES, landmarks_from_text, landmarks_to_text, read_landmarks
from ..core.landmarks.points import Landmarks
from ..core.landmarks.pts import from_pts, read_pts, to_pts
from .ask import ask_where

if TYPE_CHECKING:
    from .desk import Desk

FILES = "Landmark files (*.json *.pts)"
ENDINGS = (".json", ".pts")


def is_text_of_points(text: str) -> bool:
    """Whether text on the clipboard looks like a landmark file of either kind."""
    start = text[:2000]
    return len(text) <= MAX_BYTES and (("n_points" in start) or (start.lstrip().startswith("{") and '"points"' in text))


class LandmarkFiles:
    """Gives landmarks to the station at hand, or to the reference where that station has no picture of its own."""

    def __init__(self, desk: Desk):
        self.desk = desk

    def open_dialog(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self.desk.window, "Open a landmark file", self.desk.folder(), FILES)
        if path:
            self.open(path)

    def open(self, path: str) -> bool:
        try:
            return self._give(read_pts(path) if path.lower().endswith(".pts") else read_landmarks(path))
        except OrthometError as e:
            self.desk.ledge.say(str(e), bad=True)
            return False

    def paste(self, text: str) -> bool:
        try:
            return self._give(
                from_pts(text, "The clipboard") if "n_points" in text[:2000] else landmarks_from_text(text, "The clipboard")
            )
        except OrthometError as e:
            self.desk.ledge.say(str(e), bad=True)
            return False

    def _give(self, marks: Landmarks) -> bool:
        for station in (self.desk.station, self.desk.stations[0]):
            taken = station.take_landmarks(marks)
            if taken is not None:
                return taken
        self.desk.ledge.say("Landmarks need a picture to lie on: add the reference first.", bad=True)
        return False

    def save_dialog(self) -> None:
        here = self.desk.station.landmarks_here() or self.desk.stations[0].landmarks_here()
        if here is None or not here.points:
            self.desk.ledge.say("There are no landmarks to save yet.", bad=True)
            return
        c = self.desk.document.character
        start = str(Path(self.desk.folder()) / f"{c.name if c else 'landmarks'}.json")
        path = ask_where(self.desk.window, "Save landmarks", start, {".json": "Landmarks", ".pts": "68 points"})
        if path:
            try:
                text = to_pts(here) if path.lower().endswith(".pts") else landmarks_to_text(here)
                write_whole(path, text.encode())
                self.desk.ledge.say(f"Landmarks written to {Path(path).name}.")
            except OrthometError as e:
                self.desk.ledge.say(str(e), bad=True)
