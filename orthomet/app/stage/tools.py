"""At hand over any picture: the measuring stick, level and plumb lines."""

from __future__ import annotations

from dataclasses import dataclass, replace

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainter

from ...core.landmarks.stick import XY, Stick
from ..theme.paint import pen
from ..theme.tokens import CASING, ON_PICTURE_LOOK
from .draw import cased, chip
from .view import StageView

NEAR = 10.0


@dataclass(frozen=True)
class Line:
    """A level or plumb line through a point of the picture."""

    level: bool
    at: XY


class Tools:
    """State and hand of the tools on one stage. They measure; nothing of theirs is saved until a span is kept."""

    def __init__(self, stage: StageView):
        self.stage = stage
        self.mode = ""
        """What the next drag or click lays: "stick", "other", "level", "plumb", or nothing."""
        self.stick: Stick | None = None
        self.other: tuple[XY, XY] | None = None
        self.lines: list[Line] = []
        self._held = ""
        self._from: XY = (0.0, 0.0)

    def begin(self, mode: str) -> None:
        self.mode = mode if mode != "other" or self.stick else "stick"
        self.stage.update()

    @property
    def busy(self) -> bool:
        return bool(self.mode or self.stick or self.lines)

    def clear(self) -> bool:
        """Esc: what is asked for first, then the second span, the stick, the lines. False when there was nothing."""
        if self.mode:
            self.mode = ""
        elif self.other:
            self.other = None
        elif self.stick:
            self.stick = None
        elif self.lines:
            self.lines.clear()
        else:
            return False
        self._held = ""
        self.stage.update()
        return True

    # ---- hand

    def press(self, q: QPointF) -> bool:
        xy = self.stage.to_picture(q)
        if self.mode in ("level", "plumb"):
            self.lines.append(Line(self.mode == "level", xy))
            self._held, self.mode = f"line {len(self.lines) - 1}", ""
        elif self.mode == "stick":
            self.stick, self._held, self.mode = Stick(xy, xy), "b", ""
            self.other = None
        elif self.mode == "other":
            self.other, self._held, self.mode = (xy, xy), "other 1", ""
        else:
            self._held = self.at(q)
        self._from = xy
        self.stage.update()
        return bool(self._held)

    def at(self, q: QPointF) -> str:
        """What of the tools lies under the pointer."""
        s = self.stage
        if self.stick:
            ends = {"a": self.stick.a, "b": self.stick.b}
            for name, p in ends.items():
                if _far(s.to_screen(*p), q) < NEAR:
                    return name
            if _from_segment(s.to_screen(*self.stick.a), s.to_screen(*self.stick.b), q) < NEAR:
                return "middle"
        if self.other:
            for k, p in enumerate(self.other):
                if _far(s.to_screen(*p), q) < NEAR:
                    return f"other {k}"
        for k, line in enumerate(self.lines):
            if _from_line(*self._ends(line), q) < NEAR * 0.7:
                return f"line {k}"
        return ""

    def move(self, q: QPointF, keep_length: bool) -> bool:
        if not self._held:
            return False
        xy = self.stage.to_picture(q)
        dx, dy = xy[0] - self._from[0], xy[1] - self._from[1]
        what, _, number = self._held.partition(" ")
        if what == "line":
            k = int(number)
            self.lines[k] = replace(self.lines[k], at=xy)
        elif what == "other" and self.other:
            ends = list(self.other)
            ends[int(number)] = xy
            self.other = (ends[0], ends[1])
        elif self.stick and what == "middle":
            self.stick = self.stick.moved(dx, dy)
        elif self.stick:
            turned = self.stick.turned(what, xy)
            self.stick = (
                turned
                if keep_length and self.stick.length > 2
                else replace(self.stick, a=xy)
                if what == "a"
                else replace(self.stick, b=xy)
            )
        self._from = xy
        self.stage.update()
        return True

    def release(self) -> bool:
        was, self._held = bool(self._held), ""
        if self.stick and self.stick.length * self.stage.scale < 3:
            self.stick = None
        if self.other and _length(self.other) * self.stage.scale < 3:
            self.other = None
        frame = self.stage.frame()
        self.lines = [li for li in self.lines if frame.adjusted(-4, -4, 4, 4).contains(self.stage.to_screen(*li.at))]
        if was:
            self.stage.update()
        return was

    def key(self, e: QKeyEvent) -> bool:
        key, stick = Qt.Key(e.key()), self.stick
        if stick is None:
            return False
        change = {
            Qt.Key.Key_Period: stick.stepped(1), Qt.Key.Key_Comma: stick.stepped(-1),
            Qt.Key.Key_Slash: stick.divided(1), Qt.Key.Key_Question: stick.divided(-1),
        }.get(key)  # fmt: skip
        if change is None:
            return False
        self.stick = change
        self.stage.update()
        return True

    def hint(self) -> list[tuple[str, str]]:
        if self.mode in ("stick", "other"):
            return [("Drag", "from end to end of the span"), ("Esc", "leave it")]
        if self.mode:
            return [("Click", f"where the {self.mode} line runs"), ("Esc", "leave it")]
        if self.stick:
            return [
                ("Drag", "carry it"), ("Ctrl-drag an end", "turn it"), (". ,", "step off more, fewer"), ("/ ?", "divide more, fewer"),
                ("Ctrl+R", "what it fits into"), ("Ctrl+K", "keep as a span"), ("Esc", "put it away"),
            ]  # fmt: skip
        return []

    # ---- paint

    def _ends(self, line: Line) -> tuple[QPointF, QPointF]:
        s = self.stage
        q, f = s.to_screen(*line.at), s.frame()
        reach = f.width() + f.height()
        c, n = s.level_direction()
        d = QPointF(c, n) if line.level else QPointF(-n, c)
        if s.mirrored:
            d.setX(-d.x())
        return q - d * reach, q + d * reach

    def paint(self, p: QPainter, heads: float | None) -> None:
        """Paint everything; ``heads`` is the head's height in picture pixels where it is known."""
        s = self.stage
        for line in self.lines:
            cased(p, [self._ends(line)], ON_PICTURE_LOOK, 1.2)
        if self.stick is None:
            return
        a, b = s.to_screen(*self.stick.a), s.to_screen(*self.stick.b)
        d = b - a
        n = max((d.x() ** 2 + d.y() ** 2) ** 0.5, 1e-6)
        across = QPointF(-d.y() / n, d.x() / n)
        steps = [s.to_screen(*m) for m in self.stick.marks()]
        splits = [s.to_screen(*m) for m in self.stick.splits()]
        lines = [(steps[0], steps[-1])]
        lines += [(m - across * 9, m + across * 9) for m in steps] + [(m - across * 4, m + across * 4) for m in splits]
        cased(p, lines, ON_PICTURE_LOOK, 1.8)
        for end in (a, b):
            _grip(p, end)
        words = f"{self.stick.length:.0f} px" + (f"   {self.stick.length / heads:.3f} heads" if heads else "")
        if self.stick.times > 1:
            words += f"   × {self.stick.times}"
        if self.stick.parts > 1:
            words += f"   in {self.stick.parts}"
        m = (a + b) / 2 + across * 24
        chip(p, m.x(), m.y(), words, ON_PICTURE_LOOK)
        if self.other is not None:
            c, e = (s.to_screen(*x) for x in self.other)
            cased(p, [(c, e)], ON_PICTURE_LOOK, 1.8)
            for end in (c, e):
                _grip(p, end)
            k = self.stick.fits(*self.other)
            m = (c + e) / 2
            chip(p, m.x(), m.y() - 20, f"the stick fits {k:.2f} times" if k is not None else "", ON_PICTURE_LOOK)


def _grip(p: QPainter, q: QPointF) -> None:
    p.setBrush(ON_PICTURE_LOOK)
    p.setPen(pen(CASING, 1.4))
    p.drawRect(QRectF(q.x() - 4, q.y() - 4, 8, 8))


def _far(a: QPointF, b: QPointF) -> float:
    return float(((a.x() - b.x()) ** 2 + (a.y() - b.y()) ** 2) ** 0.5)


def _length(ends: tuple[XY, XY]) -> float:
    (ax, ay), (bx, by) = ends
    return float(((bx - ax) ** 2 + (by - ay) ** 2) ** 0.5)


def _from_segment(a: QPointF, b: QPointF, q: QPointF) -> float:
    d, v = b - a, q - a
    n = d.x() ** 2 + d.y() ** 2
    t = min(1.0, max(0.0, (v.x() * d.x() + v.y() * d.y()) / n)) if n else 0.0
    return _far(a + d * t, q)


def _from_line(a: QPointF, b: QPointF, q: QPointF) -> float:
    d, v = b - a, q - a
    n = max((d.x() ** 2 + d.y() ** 2) ** 0.5, 1e-6)
    return float(abs(v.x() * d.y() - v.y() * d.x()) / n)
