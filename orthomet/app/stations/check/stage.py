"""The drawing under check: its rings, the plan over it, arrows from what is to what should be; and other ways to see it."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPolygonF, QTransform
from PySide6.QtWidgets import QPushButton

from ....core.check.check import Finding
from ....core.check.cures import Pointer
from ....core.landmarks.points import State
from ....core.picture import Picture
from ...gauges.marks import mark_look
from ...looks import overlay_looks
from ...render import paint
from ...stage.asking import AskingStage
from ...stage.draw import cased, chip, ring_mark
from ...stage.marked import MINOR
from ...theme.paint import pen
from ...theme.tokens import CASING, ON_PICTURE_DRAW, ON_PICTURE_LOOK, theme
from .beside import FLICKER_MS, Beside, Way, on_wipe, paint_beside

LOOK_KEYS = {
    Qt.Key.Key_M: "mirror", Qt.Key.Key_U: "upside", Qt.Key.Key_S: "small", Qt.Key.Key_G: "grey", Qt.Key.Key_B: "blur",
    Qt.Key.Key_L: "lines", Qt.Key.Key_X: "axes",
}  # fmt: skip
WAY_KEYS = {Qt.Key.Key_W: Way.WIPE, Qt.Key.Key_I: Way.ONION, Qt.Key.Key_K: Way.FLICKER}
SMALL = 0.22
"""How much smaller the small view is than one that fills the frame (own)."""


class CheckStage(AskingStage):
    look_asked = Signal(str)
    """One of the ways to see it was asked for by its key: the other state of it."""
    way_asked = Signal(object)
    cure_asked = Signal()

    def __init__(self, *buttons: QPushButton):
        lines = ("Drop or choose a picture of your drawing; or follow its file,", "and it is checked again at every save.")
        super().__init__("drawing", "No drawing yet", lines, buttons)
        self.findings: tuple[Finding, ...] = ()
        self.pointers: tuple[Pointer | None, ...] = ()
        self.overlay: Picture | None = None
        self.redline: Picture | None = None
        self.overlay_map = QTransform()
        """From the overlay's unit to the flat page's pixels."""
        self.show_plan = True
        self.held = False
        self.lit_finding = -1
        self.dim = True
        self.colour = ON_PICTURE_DRAW
        self.back = QTransform()
        """From the flat page to the picture."""
        self.beside: Beside | None = None
        self.way = Way.WIPE
        self.wipe_at = 0.5
        self.axes = False
        self._wiping = False
        self._flick = True
        self._before_small: tuple[float, QPointF, bool] | None = None
        self._clock = QTimer(self, interval=FLICKER_MS)
        self._clock.timeout.connect(self._flicker)

    def set_check(self, findings: tuple[Finding, ...], pointers: tuple[Pointer | None, ...]) -> None:
        """What is found, and where each finding points (flat pixels)."""
        self.findings, self.pointers = findings, pointers
        self.update()

    def lay_plan(self, overlay: Picture | None, overlay_map: QTransform) -> None:
        """What it is checked against, to be laid over the drawing."""
        self.overlay, self.overlay_map = overlay, overlay_map
        self.update()

    # ---- other ways to see it

    def look(self, key: str, on: bool) -> None:
        if key == "mirror":
            self.mirrored = on
        elif key == "upside":
            self.upside = on
        elif key == "small":
            self._look_small(on)
        elif key == "axes":
            self.axes = on
        else:
            self.seen_as = key if on else "" if self.seen_as == key else self.seen_as
        self.update()

    def looks_on(self) -> set[str]:
        flags = {"mirror": self.mirrored, "upside": self.upside, "small": self._before_small is not None, "axes": self.axes}
        return {k for k, on in flags.items() if on} | ({self.seen_as} if self.seen_as else set())

    def _look_small(self, on: bool) -> None:
        if on and self._before_small is None and self.size_px is not None:
            self._before_small = self.scale, QPointF(self.offset), self.fitted
            self.fit()
            self.zoom(SMALL)
        elif not on and self._before_small is not None:
            (self.scale, self.offset, self.fitted), self._before_small = self._before_small, None
            if self.fitted:
                self.fit()

    def set_beside(self, beside: Beside | None, way: Way) -> None:
        self.beside, self.way = beside, way
        self._flick = True
        if beside is not None and way is Way.FLICKER:
            self._clock.start()
        else:
            self._clock.stop()
        self.update()

    def _flicker(self) -> None:
        self._flick = not self._flick
        self.update()

    # ---- hand

    def keyPressEvent(self, e: QKeyEvent) -> None:
        key, plain = Qt.Key(e.key()), not e.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        if e.isAutoRepeat() or not plain or self.placing is not None or self.faces:
            super().keyPressEvent(e)
        elif key == Qt.Key.Key_O:
            self.held = True
            self.update()
        elif key in LOOK_KEYS:
            self.look_asked.emit(LOOK_KEYS[key])
        elif key in WAY_KEYS:
            self.way_asked.emit(WAY_KEYS[key])
        elif key == Qt.Key.Key_C:
            self.cure_asked.emit()
        else:
            super().keyPressEvent(e)

    def keyReleaseEvent(self, e: QKeyEvent) -> None:
        if e.key() == Qt.Key.Key_O and not e.isAutoRepeat():
            self.held = False
            self.update()
        else:
            super().keyReleaseEvent(e)

    def _on_wipe(self, q: QPointF) -> bool:
        wiped = self.beside is not None and self.way is Way.WIPE
        return wiped and on_wipe(q, self.frame(), self.wipe_at)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if e.button() == Qt.MouseButton.LeftButton and not self._space and self._on_wipe(e.position()):
            self._wiping = True
            self.setFocus()
            return
        super().mousePressEvent(e)

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if self._wiping:
            f = self.frame()
            self.wipe_at = max(0.0, min(1.0, (e.position().x() - f.left()) / f.width()))
            self.update()
            return
        super().mouseMoveEvent(e)
        if self._on_wipe(e.position()):
            self.setCursor(Qt.CursorShape.SplitHCursor)

    def mouseReleaseEvent(self, e: QMouseEvent) -> None:
        if self._wiping:
            self._wiping = False
            return
        super().mouseReleaseEvent(e)

    # ---- paint

    def flat_to_screen(self) -> QTransform:
        """Pixels of the flat page → widget, through the page's own perspective."""
        return self.back * self.view_transform()

    def paint_between(self, p: QPainter, frame: QRectF) -> None:
        if self.beside is not None and (self.way is not Way.FLICKER or self._flick):
            paint_beside(p, self.beside, self.view_transform(), frame, self.way, self.wipe_at)
        if self.redline is not None:
            p.save()
            p.setTransform(self.view_transform(), True)
            paint(p, self.redline, 1.0, overlay_looks(theme.t), 1.0)
            p.restore()
        if self.overlay is not None and self.show_plan and not self.held and self.beside is None and self.redline is None:
            t = self.overlay_map * self.flat_to_screen()
            scale = (t.m11() ** 2 + t.m12() ** 2) ** 0.5
            if scale > 1e-6:
                p.save()
                p.setTransform(QTransform.fromScale(1 / scale, 1 / scale) * t, True)
                paint(p, self.overlay, scale, overlay_looks(theme.t), 1.0)
                p.restore()
        if self.axes:
            self._paint_axes(p)

    def _paint_axes(self, p: QPainter) -> None:
        """The face's own middle from crown to chin, the level of the eyes, and the triangle of outer corners and mouth."""
        m = self.marks.points

        def at(*names: str) -> QPointF | None:
            here = [m[n] for n in names if n in m]
            return (
                self.to_screen(sum(x for x, _ in here) / len(here), sum(y for _, y in here) / len(here))
                if len(here) == len(names)
                else None
            )

        top, chin = at("vertex"), at("gnathion")
        if top is not None and chin is not None:
            d = (chin - top) * 0.12
            cased(p, [(top - d, chin + d)], ON_PICTURE_LOOK, 1.3)
        left, right, mouth = at("exocanthion_l"), at("exocanthion_r"), at("stomion")
        if left is not None and right is not None:
            d = (left - right) * 0.4
            cased(p, [(right - d, left + d)], ON_PICTURE_LOOK, 1.3)
            if mouth is not None:
                cased(p, [(right, mouth), (left, mouth)], ON_PICTURE_LOOK, 1.3)

    def _only_looked_at(self) -> bool:
        """Whether the drawing is looked at just now, not marked."""
        return self.beside is not None or self.redline is not None or self._before_small is not None or bool(self.seen_as)

    def _paint_spread(self, p: QPainter, name: str, q: QPointF) -> None:
        if not self._only_looked_at():
            super()._paint_spread(p, name, q)

    def paint_point(self, p: QPainter, name: str, q: QPointF, lit: bool) -> None:
        if not lit and self._only_looked_at():
            return
        ring_mark(
            p,
            q,
            self._state(name) is State.PLACED,
            ON_PICTURE_DRAW,
            big=lit or (name in self._off_points() and name not in MINOR),
            minor=name in MINOR,
        )

    def _off_points(self) -> set[str]:
        out = {n for f in self.findings for n in f.moved}
        return out if len(out) < 0.6 * len(self.marks.points) else set()

    def lit_points(self) -> set[str]:
        here = 0 <= self.lit_finding < len(self.findings)
        return super().lit_points() | (self.findings[self.lit_finding].moved if here else frozenset())

    def paint_over(self, p: QPainter, frame: QRectF) -> None:
        super().paint_over(p, frame)
        if self.active or self._only_looked_at():
            return
        p.save()
        p.setClipRect(frame)
        used: list[float] = []
        for k, (f, at) in enumerate(zip(self.findings, self.pointers, strict=False)):
            self._paint_finding(p, k, f, at, frame, used)
        p.restore()

    def _paint_finding(self, p: QPainter, k: int, f: Finding, at: Pointer | None, frame: QRectF, used: list[float]) -> None:
        t = self.flat_to_screen()
        if at is None and f.move is not None:
            return
        xs = [self.to_screen(*xy) for xy in self.marks.points.values()]
        edge = max((q.x() for q in xs), default=frame.center().x())
        a, b = (t.map(QPointF(*end)) for end in at) if at is not None else (QPointF(edge, frame.center().y()),) * 2
        left = min(edge + 0.02 * frame.width(), frame.right() - 150)
        y = a.y()
        while any(abs(y - v) < 26 for v in used):
            y += 26
        used.append(y)
        lit = k == self.lit_finding
        p.setPen(pen(CASING, 1, (2, 2)))
        p.drawLine(QPointF(a.x() + 9, a.y()), QPointF(left + 2, y))
        self._arrow(p, a, b)
        mark_look(p, left + 14, y, theme.t, str(k + 1), 12 if lit else 11)
        chip(p, left + 30, y, f.short, ON_PICTURE_LOOK, align=Qt.AlignmentFlag.AlignLeft)

    @staticmethod
    def _arrow(p: QPainter, a: QPointF, b: QPointF) -> None:
        d = b - a
        n = (d.x() ** 2 + d.y() ** 2) ** 0.5
        if n < 1:
            return
        u = d / n
        v = QPointF(-u.y(), u.x())
        start = a - u * max(0.0, 12 - n)
        cased(p, [(start, b - u * 5)], ON_PICTURE_LOOK, 2)
        p.setPen(pen(CASING, 1))
        p.setBrush(ON_PICTURE_LOOK)
        p.drawPolygon(QPolygonF([b, b - u * 8 + v * 4.5, b - u * 8 - v * 4.5]))
