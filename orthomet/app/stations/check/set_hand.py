"""A station's hand on the record: checks kept, the log written out, details counted, a look again asked for."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Callable
from datetime import date, timedelta

from PySide6.QtCore import QObject

from ....core.check.details import dark_spots, share_along
from ....core.export.table import safe
from ....core.project.checked import Attached, Counted
from ....core.project.edits import change_drawing, new_id, set_character
from ....core.project.model import Character, Drawing
from ...ask import ask_where
from ...stage.pixels import to_grey
from ..base import Station, export_folder
from .live import checked_of, kept_check
from .stage import CheckStage

Ends = tuple[tuple[float, float], tuple[float, float]]


class SetHand(QObject):
    def __init__(self, station: Station, stage: CheckStage):
        super().__init__(station)
        self.station, self.stage, self.document = station, stage, station.document
        self._wanted: Callable[[Ends], None] | None = None
        stage.span_marked.connect(self._marked)

    def _here(self) -> tuple[Character, Drawing] | None:
        c, d = self.document.character, self.document.drawing
        return (c, d) if c is not None and d is not None else None

    # ---- the log

    def keep(self) -> None:
        """Keep this check in the log."""
        at = self._here()
        check = checked_of(self.document)
        if at is None or isinstance(check, str):
            self.station.say.emit(check if isinstance(check, str) and check else "There is no check to keep yet.", True)
            return
        edit = kept_check(at[0].id, at[1], check)
        if edit is None:
            self.station.say.emit("The very same was kept last.", False)
        else:
            self.document.do("Keep this check", edit)
            self.station.say.emit("Kept.", False)

    def keep_closing(self) -> None:
        """The project is saved: the check of the drawing at hand is kept with it, where it is another than the last."""
        at = self._here()
        check = checked_of(self.document)
        if at is None or isinstance(check, str) or at[1].marks.estimated:
            return
        edit = kept_check(at[0].id, at[1], check, why="closed")
        if edit is not None:
            self.document.note(edit)

    def write_log(self) -> None:
        at = self._here()
        if at is None or not at[1].log:
            self.station.say.emit("No check of this drawing was kept yet.", True)
            return
        d = at[1]
        kinds = {".csv": "Table, CSV", ".json": "JSON"}
        path = ask_where(self.station, "Write the log", str(export_folder() / f"{d.name} log.csv"), kinds)
        if path:
            self.station.write_text(path, log_json(d) if path.lower().endswith(".json") else log_csv(d))

    # ---- look again, gate

    def again(self, on: bool) -> None:
        at = self._here()
        if at is not None:
            day = (date.today() + timedelta(days=1)).isoformat() if on else ""
            self.document.do("Look again tomorrow" if on else "Look again no more", change_drawing(at[0].id, at[1].id, again=day))

    def overrule(self, key: str, on: bool) -> None:
        at = self._here()
        if at is not None:
            rest = {k: v for k, v in at[1].gate.items() if k != key}
            gate = {**rest, key: "overruled"} if on else rest
            self.document.do("Overrule" if on else "Ask again", change_drawing(at[0].id, at[1].id, gate=gate))

    # ---- details

    def add_detail(self, name: str, count: int, where: str, side: str) -> None:
        at = self._here()
        if at is not None:
            detail = Counted(id=new_id(), name=name, count=count, where=where, side=side)
            self.document.do(f"Count {name}", set_character(at[0].id, counted=(*at[0].counted, detail)))

    def add_line(self, name: str, start: str, end: str, share: float) -> None:
        at = self._here()
        if at is not None:
            line = Attached(id=new_id(), name=name, start=start, end=end, share=share)
            self.document.do(f"Where {name} sits", set_character(at[0].id, attached=(*at[0].attached, line)))

    def forget(self, key: str) -> None:
        at = self._here()
        if at is not None:
            counted = tuple(x for x in at[0].counted if x.id != key)
            attached = tuple(x for x in at[0].attached if x.id != key)
            self.document.do("Forget a detail", set_character(at[0].id, counted=counted, attached=attached))

    def count(self, key: str, value: int) -> None:
        at = self._here()
        if at is not None and at[1].counts.get(key) != value:
            self.document.do("Count", change_drawing(at[0].id, at[1].id, counts={**at[1].counts, key: value}))

    def count_spots(self, key: str) -> None:
        """Two clicked corners of a zone: its dark spots are counted."""

        def counted(ends: Ends) -> None:
            at = self._here()
            image = self.station.images.get(at[1].image.hash) if at is not None else None
            if image is None:
                return
            (x0, y0), (x1, y1) = ends
            left, top = int(max(0, min(x0, x1))), int(max(0, min(y0, y1)))
            wide, tall = int(min(image.width(), max(x0, x1))) - left, int(min(image.height(), max(y0, y1))) - top
            if wide < 4 or tall < 4:
                self.station.say.emit("That zone is too small to count in.", True)
                return
            n = dark_spots(to_grey(image.copy(left, top, wide, tall)))
            self.count(key, n)
            self.station.say.emit(f"{n} dark spots counted; correct the number where it is not what you see.", False)

        self._ask(counted, "Click two corners of the zone to count in.")

    def place_line(self, key: str) -> None:
        """One click where an attachment sits."""
        at = self._here()
        line = next((x for x in at[0].attached if x.id == key), None) if at is not None else None
        if at is None or line is None:
            return
        points = at[1].marks.points
        if line.start not in points or line.end not in points:
            self.station.say.emit("The points it lies between are not on this drawing yet.", True)
            return

        def placed(ends: Ends) -> None:
            now_ = self._here()
            if now_ is not None:
                share = share_along(ends[0], now_[1].marks.points[line.start], now_[1].marks.points[line.end])
                share = max(-5.0, min(5.0, share))
                self.document.do(
                    f"Where {line.name} sits", change_drawing(now_[0].id, now_[1].id, attached={**now_[1].attached, key: share})
                )

        self._ask(placed, f"Click where {line.name} sits.", 1)

    def _ask(self, then: Callable[[Ends], None], words: str, clicks: int = 2) -> None:
        self._wanted = then
        self.stage.mark_span(clicks, words)

    def _marked(self, a: tuple[float, float], b: tuple[float, float]) -> None:
        then, self._wanted = self._wanted, None
        if then is not None:
            then((a, b))


def log_csv(d: Drawing) -> str:
    """A line a finding of every check that was kept; one line for a check without."""
    out = io.StringIO()
    w = csv.writer(out)
    w.writerow(["when", "why", "basis", "passed", "reading", "off_heads", "tolerance", "say"])
    for e in d.log:
        for f in e.findings or (None,):
            row = ["", "", "", ""] if f is None else [f.reading, f"{f.off:.5f}", f"{f.tolerance:.5f}", safe(f.say)]
            w.writerow([e.when, e.why, e.basis or "plan", e.passed, *row])
    return out.getvalue()


def log_json(d: Drawing) -> str:
    return json.dumps({"drawing": d.name, "checks": [e.model_dump() for e in d.log]}, indent=1, ensure_ascii=False) + "\n"
