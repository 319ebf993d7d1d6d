"""Colours taken from the reference; colours and readings written to files."""

from __future__ import annotations

from typing import TYPE_CHECKING

from ....core.errors import OrthometError
from ....core.export.table import readings_csv
from ....core.files import write_whole
from ....core.imaging.palette import as_json, css
from ....core.project.edits import set_character
from ...ask import ask_where
from ..jobs import swatches_of
from .colours_page import merged

if TYPE_CHECKING:
    from .station import ReferenceStation


class Saving:
    def __init__(self, station: ReferenceStation):
        self.s = station

    def take_colours(self) -> None:
        c, ref = self.s.document.character, self.s.reference
        image = self.s.images.get(ref.image.hash) if ref else None
        if c is not None and image is not None:
            old, cid = c.swatches, c.id
            self.s.work_wanted.emit(
                "Sorting the colours…", lambda say: swatches_of(image, say),
                lambda new: self.s.document.do("Take colours", set_character(cid, swatches=merged(old, new))),
            )  # fmt: skip

    def save_colours(self) -> None:
        c = self.s.document.character
        if c is None:
            return
        path = ask_where(self.s, "Save colours", f"{c.name}.css", {".css": "Style sheet", ".json": "JSON"})
        if path:
            if path.lower().endswith(".json"):
                text = as_json([s.model_dump() for s in c.swatches], c.name)
            else:
                text = css([(s.name, s.colour, s.edge, s.centre) for s in c.swatches], c.name)
            self.write(path, text)

    def save_csv(self) -> None:
        c = self.s.document.character
        if c is None or self.s.reference is None:
            return
        path = ask_where(self.s, "Save readings", f"{c.name}.csv", {".csv": "Table"})
        if path:
            m = self.s.document.seen()
            self.write(path, readings_csv(m, self.s.document.norm(m.registry)))

    def write(self, path: str, text: str) -> None:
        try:
            write_whole(path, text.encode())
            self.s.say.emit(f"Written to {path.rsplit('/', 1)[-1]}.", False)
        except OrthometError as e:
            self.s.say.emit(str(e), True)
