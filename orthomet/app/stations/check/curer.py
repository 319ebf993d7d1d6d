"""A station's hand on cures: made visible off the interface thread, laid over the drawing, written as a redline."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ....core.check.compare import Compared
from ....core.check.cures import Curable, curable, cures, on_picture
from ....core.check.view import ViewCheck
from ....core.cure.redline import as_page, redline
from ....core.picture import Picture
from ....core.references import on_page
from ...ask import ask_where
from ...work import Say, Work
from ..base import Station, export_folder, remember_export
from .curing import CureShown, shown

NOTHING = "There is nothing to redline: nothing is to be moved."


class Curer(QObject):
    changed = Signal()
    """Other cures can be seen than before."""

    def __init__(self, station: Station):
        super().__init__(station)
        self.station, self.document = station, station.document
        self.work = Work(self)
        self.cures: tuple[CureShown, ...] = ()
        self._told: Curable | None = None
        self._key: tuple[object, ...] = ()

    def show(self, told: Compared | ViewCheck | None) -> None:
        """Make the cures of a comparison visible; while a hand drags the old ones stay."""
        if self.document.dragging:
            return
        c, d = self.document.character, self.document.drawing
        self._told = curable(told, on_page(d).px_per_mm) if told is not None and d is not None else None
        image = self.station.images.get(d.image.hash) if d is not None else None
        found = cures(self._told) if self._told is not None else ()
        key: tuple[object, ...] = (told, image.cacheKey()) if found and image is not None else ()
        if len(key) == len(self._key) and all(a is b or a == b for a, b in zip(key, self._key, strict=True)):
            return
        self.work.cancel()
        self._key = key
        if not key or c is None or d is None or image is None or self._told is None:
            self._take(())
            return
        points, steps, hh = on_picture(d, found, self._told.head)
        features, view = c.features, d.marks.view

        def job(say: Say) -> tuple[CureShown, ...]:
            return shown(image, points, steps, hh, features, view, lambda: say(""))

        self.work.start(
            "", job, self._take, still=lambda: self._key is key, failed=lambda _: self._take(()), what="Showing a cure"
        )

    def _take(self, made: tuple[CureShown, ...]) -> None:
        if made or self.cures:
            self.cures = made
            self.changed.emit()

    # ---- as a redline

    def redline(self, k: int = 0) -> Picture | None:
        """One of the cures as corrections over the drawing; ``None`` where nothing is to be moved."""
        c, d = self.document.character, self.document.drawing
        found = cures(self._told) if self._told is not None else ()
        if c is None or d is None or self._told is None or not found or self._told.schema.view != d.marks.view:
            return None
        points, steps, hh = on_picture(d, found, self._told.head)
        return redline(d.image.size, points, steps[min(k, len(steps) - 1)], hh, c.features, view=d.marks.view)

    def ask_and_write(self, k: int = 0) -> None:
        picture, d = self.redline(k), self.document.drawing
        if picture is None or d is None:
            self.station.say.emit(NOTHING, True)
            return
        kinds = {".png": "Transparent layer, PNG", ".svg": "SVG"}
        path = ask_where(self.station, "Write the redline", str(export_folder() / f"{d.name} redline.png"), kinds)
        if path:
            self.write(path, picture)

    def write(self, path: str, picture: Picture) -> None:
        """The redline as a transparent picture of the drawing's own size, or as SVG."""
        remember_export(path)

        def job(say: Say) -> None:
            from ....core.export.svg import to_svg
            from ....core.files import write_whole
            from ...render import encoded, to_image

            page = as_page(picture)
            data = (
                to_svg(page).encode() if path.lower().endswith(".svg") else encoded(to_image(page, dpi=96, ground=False), ".png")
            )
            if say(""):
                write_whole(path, data)

        def done(sentence: str) -> None:
            self.station.say.emit(sentence or f"Written to {Path(path).name}.", bool(sentence))
            self.station.exported.emit(path, sentence)

        self.station.run("Writing the redline…", job, lambda _: done(""), failed=done)
