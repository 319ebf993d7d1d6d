"""The page of the ink: flat colours or paper, four pens, how many inner lines, and a light dragged over a ball."""

from __future__ import annotations

import math
from functools import partial

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPaintEvent, QRadialGradient
from PySide6.QtWidgets import QWidget

from ....core.features.pens import USUAL_PENS, LinePlan
from ....core.head.shadow import Light
from ...parts import quiet, tick
from ...theme.paint import arrow, outline, painting, pen
from ...theme.tokens import theme
from ..dials import Dial
from ..pages import Page

SIZE = 150
STEP = 5.0
HELD = 85.0


class LightBall(QWidget):
    """A ball lit as the head is; its bright spot is where the light comes from."""

    moved = Signal(object)

    def __init__(self) -> None:
        super().__init__()
        self.light = Light()
        self.setFixedSize(SIZE, SIZE)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Where the light comes from")
        self.setToolTip("Drag the light over the ball; arrow keys move it by 5°")
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def show_light(self, light: Light) -> None:
        self.light = light
        self.setAccessibleDescription(f"{light.azimuth:.0f}° across, {light.height:.0f}° above")
        self.update()

    def _at(self, q: QPointF) -> Light:
        r = SIZE / 2 - 8
        x, y = (q.x() - SIZE / 2) / r, (q.y() - SIZE / 2) / r
        far = math.hypot(x, y)
        if far > 0.98:
            x, y = x / far * 0.98, y / far * 0.98
        height = math.degrees(math.asin(-y))
        azimuth = math.degrees(math.atan2(x, math.sqrt(max(1 - x * x - y * y, 1e-6))))
        return Light(round(azimuth, 1), round(max(-HELD, min(HELD, height)), 1))

    def mousePressEvent(self, e: QMouseEvent) -> None:
        self.setFocus()
        self.moved.emit(self._at(e.position()))

    def mouseMoveEvent(self, e: QMouseEvent) -> None:
        if e.buttons() & Qt.MouseButton.LeftButton:
            self.moved.emit(self._at(e.position()))

    def keyPressEvent(self, e: QKeyEvent) -> None:
        step = arrow(e)
        if step is None:
            super().keyPressEvent(e)
            return
        a = max(-HELD, min(HELD, self.light.azimuth + step[0] * STEP))
        self.moved.emit(Light(a, max(-HELD, min(HELD, self.light.height - step[1] * STEP))))

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, r = theme.t, SIZE / 2 - 8
            d = self.light.direction
            spot = QPointF(SIZE / 2 + d[0] * r, SIZE / 2 + d[1] * r)
            shade = QRadialGradient(spot, 1.7 * r)
            shade.setColorAt(0, t.c("sheet"))
            shade.setColorAt(0.55, t.c("board"))
            shade.setColorAt(1, t.c("rule_strong"))
            p.setPen(pen(t.c("rule_strong"), 1))
            p.setBrush(shade)
            p.drawEllipse(QPointF(SIZE / 2, SIZE / 2), r, r)
            p.setBrush(t.c("look_fill"))
            p.setPen(pen(t.c("ink"), 1.2))
            p.drawEllipse(spot, 7, 7)
            if self.hasFocus():
                outline(p, t.c("plan"), 1, (2, 2))
                p.drawEllipse(QPointF(SIZE / 2, SIZE / 2), r + 5, r + 5)


PENS = (
    ("outer", "Outline", "Against the ground, in millimetres"), ("edge", "Edges", "Where one form covers another"),
    ("inner", "Inner lines", "Within hair, on neck and ears"), ("feature", "Features", "Lids, nose, mouth, brows"),
)  # fmt: skip
PEN_MOST = 3.0


class LightPage(Page):
    changed = Signal()
    """How it is looked at: tones, the light."""
    pen_began = Signal(str)
    pen_moved = Signal(str, float)
    pen_dropped = Signal()
    true_chosen = Signal(bool)

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.section("Tone")
        tip = "Hair, skin, eyes and wear in the colours that were given to these parts at Reference (T)"
        self.colours = tick("In flat colours, by part", tip, lambda _: self.changed.emit())
        self.row(self.colours)
        self.tone_words = self.note("")
        self.section("Pens")
        self.pens: dict[str, Dial] = {}
        for key, words, tip in PENS:
            self._dial(key, Dial(words, 0.1, PEN_MOST, getattr(USUAL_PENS, key), f"{tip}; at a head of 120 mm"))
        self._dial("lines", Dial("How many of them", 0.0, 2.0, 1.0, "Inner lines: 0 only what the form needs, 2 twice as many"))
        self.true = tick(
            "The same pens at any size", "Off: they grow and shrink with the head", lambda on: self.true_chosen.emit(bool(on))
        )
        self.row(self.true)
        self.section("Light and shadow")
        self.on = tick("Shadow shapes, in two tones", slot=lambda _: self.changed.emit())
        self.row(self.on)
        self.note(
            "What turns away from the light, and what something stands before: under the chin, beside the nose, under the hair."
        )
        self.ball = LightBall()
        self.ball.moved.connect(self._moved)
        self.row(self.ball)
        self.words = self.note("")
        self.end()
        self._moved(Light())

    def _dial(self, key: str, dial: Dial) -> None:
        self.pens[key] = dial
        dial.began.connect(partial(self.pen_began.emit, dial.name.text()))
        dial.moved.connect(partial(self.pen_moved.emit, key))
        dial.settled.connect(self.pen_dropped)
        self.rows.addWidget(dial)

    def set_content(self, pens: LinePlan, painted: list[str]) -> None:
        """A character's pens, and which parts have colours."""
        for key, dial in self.pens.items():
            dial.show_value(getattr(pens, key))
        with quiet(self.true):
            self.true.setChecked(pens.true_mm)
        self.colours.setEnabled(bool(painted))
        known = (
            f"Painted: {', '.join(painted)}."
            if painted
            else "No colour belongs to hair, skin, eyes or wear yet: name parts at Reference, Colours."
        )
        self.tone_words.setText(known)

    @property
    def light(self) -> Light | None:
        return self.ball.light if self.on.isChecked() else None

    def _moved(self, light: Light) -> None:
        self.ball.show_light(light)
        side = "from the left" if light.azimuth < -3 else "from the right" if light.azimuth > 3 else "from the front"
        self.words.setText(f"{side.capitalize()}, {abs(light.azimuth):.0f}° across, {light.height:.0f}° above.".replace("-", "−"))
        if not self.on.isChecked() and self.isVisible():
            self.on.setChecked(True)  # tells of it
        else:
            self.changed.emit()
