"""The bottom ledge: what the hand can do now, the reading under the pointer, and sentences about trouble."""

from __future__ import annotations

from PySide6.QtCore import QRectF, QTimer
from PySide6.QtGui import QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QProgressBar, QWidget

from .gauges.marks import mark_look
from .theme.paint import RIGHT, hline, painting, text, text_width, vline
from .theme.tokens import LEDGE, PANEL, theme

Hint = list[tuple[str, str]]


class Ledge(QWidget):
    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.hint: Hint = []
        self.reading = ("", "", "")
        self.sentence, self.bad = "", False
        self._busy: dict[str, str] = {}
        self.setFixedHeight(LEDGE)
        self.setAccessibleName("What the hand can do now")
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(lambda: self.say(""))
        self.progress = QProgressBar(self)
        self.progress.setTextVisible(False)
        self.progress.hide()

    def set_hint(self, hint: Hint) -> None:
        if hint != self.hint:
            self.hint = hint
            self._tell_all()
            self.update()

    def _tell_all(self) -> None:
        """The whole of what may be cut, for the pointer that rests here."""
        self.setToolTip(self.sentence or "\n".join(f"{key}: {what}" for key, what in self.hint))

    def set_reading(self, name: str, value: str, note: str) -> None:
        if (name, value, note) != self.reading:
            self.reading = (name, value, note)
            self.update()

    def say(self, sentence: str, bad: bool = False, seconds: float = 8.0) -> None:
        """A sentence in the hint's place for a while; a click puts it away."""
        self.sentence, self.bad = sentence, bad
        self.setAccessibleDescription(sentence)
        self._tell_all()
        if sentence:
            self._timer.start(int(1000 * seconds * (2 if bad else 1)))
        self.update()

    def busy(self, who: str, words: str) -> None:
        """What somebody is busy with, or an empty string; the bar runs while anybody is."""
        self._busy[who] = words
        now = next((w for w in self._busy.values() if w), "")
        self.progress.setRange(0, 0)
        self.progress.setAccessibleName(now)
        self.progress.setVisible(bool(now))

    def resizeEvent(self, e: object) -> None:
        self.progress.setGeometry(self.width() - PANEL - 150, 14, 130, 12)

    def mousePressEvent(self, e: QMouseEvent) -> None:
        if self.sentence:
            self.say("")

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            t, w, h = theme.t, self.width(), self.height()
            p.fillRect(self.rect(), t.c("ledge"))
            hline(p, 0, w, 0, t.c("rule_strong"))
            split = w - PANEL
            x = 16.0
            look = "strong" if self.bad else "body_m"
            long = bool(self.sentence) and text_width(look, self.sentence) > split - 48
            if self.sentence:
                if self.bad:
                    p.fillRect(QRectF(0, 1, w if long else split, h - 1), t.c("look_wash"))
                    mark_look(p, x + 4, h / 2, t, "!", 9)
                    x += 20
                text(p, (x, 0, (w if long else split) - x - 12, h), self.sentence, look, t.c("ink"))
                if long:
                    return  # what went wrong counts for more than the reading under the pointer
            else:
                for k, (key, what) in enumerate(self.hint):
                    kw, ww = text_width("small_m", key), text_width("small", what)
                    more = 24 if k + 1 < len(self.hint) else 0  # room for the sign that there is more
                    if x + kw + ww + 10 + more > split:
                        text(p, (x, 0, 20, h), "…", "small_m", t.c("ink"))
                        break
                    text(p, (x, 0, kw + 2, h), key, "small_m", t.c("ink"))
                    text(p, (x + kw + 5, 0, ww + 2, h), what, "small", t.c("soft"))
                    x += kw + ww + 20
            vline(p, split, 9, h - 8, t.c("rule_strong"))
            name, value, note = self.reading
            rx = split + 16.0
            nw = text_width("small", name)
            text(p, (rx, 0, nw + 2, h), name, "small", t.c("soft"))
            vw = text_width("value_b", value)
            text(p, (rx + nw + 8, 0, vw + 2, h), value, "value_b", t.c("ink"))
            text(p, (rx + nw + vw + 18, 0, w - 16 - (rx + nw + vw + 18), h), note, "small", t.c("soft"), RIGHT)
