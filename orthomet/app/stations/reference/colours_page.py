"""Colours of the reference: swatches with their edge and centre tone, a ramp, what is opposite, saturation, what they paint."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QColor, QMouseEvent, QPaintEvent
from PySide6.QtWidgets import QSlider, QVBoxLayout, QWidget

from ....core.imaging.palette import complement, ramp, saturated
from ....core.project.model import Character, Swatch
from ...parts import across, button, down, entry, soft
from ...theme.paint import CENTRE, outline, painting, text
from ...theme.tokens import theme
from ..fields import put_words
from ..pages import Page, put_away


class SwatchCard(QWidget):
    """One swatch: large colour with its edge round its centre, ramp, complement, name and parts."""

    edited = Signal(int, object)
    gone = Signal(int)

    def __init__(self, k: int, s: Swatch, parent: QWidget | None = None):
        super().__init__(parent)
        self.k, self.swatch = k, s
        self.face = SwatchFace(s)
        self.name = entry(f"Name of colour {k + 1}", most=60, slot=self._rename)
        self.parts = entry("", "coat, hat…", slot=self._parts, tip="Which parts it paints, with commas between")
        self.away = button("×", lambda: self.gone.emit(self.k), "", bare=True)
        across(self.face, (down(self.name, self.parts, spacing=3), 1), self.away, owner=self, spacing=10)

    def show_swatch(self, owner: str, s: Swatch) -> None:
        """Show a character's swatch; words being typed for this same one are left alone."""
        self.swatch = s
        self.face.show_swatch(s)
        put_words(self.name, (owner, self.k, s.name), s.name)
        put_words(self.parts, (owner, self.k, s.parts), ", ".join(s.parts))
        self.parts.setAccessibleName(f"Parts of {s.name}")
        self.away.setToolTip(f"Take {s.name} away")
        self.away.setAccessibleName(f"Take {s.name} away")

    def _rename(self) -> None:
        new = self.name.text().strip()
        if new and new != self.swatch.name:
            self.edited.emit(self.k, self.swatch.model_copy(update={"name": new}))

    def _parts(self) -> None:
        new = tuple(dict.fromkeys(p.strip()[:40] for p in self.parts.text().split(",") if p.strip()))[:40]
        if new != self.swatch.parts:
            self.edited.emit(self.k, self.swatch.model_copy(update={"parts": new}))


class SwatchFace(QWidget):
    """The colour itself: centre tone inside, edge tone around, beside it light and dark, and the opposite."""

    def __init__(self, s: Swatch):
        super().__init__()
        self.saturation = 1.0
        self.setFixedSize(164, 54)
        self.show_swatch(s)

    def show_swatch(self, s: Swatch) -> None:
        self.swatch = s
        self.setToolTip(
            f"{s.colour}; edge {s.edge}, centre {s.centre}; dark {ramp(s.colour)[1]}; opposite {complement(s.colour)}"
        )
        self.setAccessibleName(f"{s.name}, {s.colour}, {s.share:.0%} of the picture")
        self.update()

    def set_saturation(self, k: float) -> None:
        self.saturation = k
        self.update()

    def paintEvent(self, e: QPaintEvent) -> None:
        s, k = self.swatch, self.saturation
        with painting(self) as p:
            light, dark = ramp(s.colour)
            for x, w, c in ((72, 28, light), (100, 28, dark), (132, 28, complement(s.colour))):
                p.fillRect(QRectF(x, 4, w, 46), QColor(saturated(c, k)))
            p.fillRect(QRectF(0, 4, 66, 46), QColor(saturated(s.edge, k)))
            p.fillRect(QRectF(7, 11, 52, 32), QColor(saturated(s.colour, k)))
            p.fillRect(QRectF(17, 18, 32, 18), QColor(saturated(s.centre, k)))
            outline(p, theme.t.c("rule_strong"), 1)
            for r in (QRectF(0.5, 4.5, 65, 45), QRectF(72.5, 4.5, 55, 45), QRectF(132.5, 4.5, 27, 45)):
                p.drawRect(r)


class AreaBar(QWidget):
    """All swatches by their share of the picture."""

    picked = Signal(int)

    def __init__(self) -> None:
        super().__init__()
        self.swatches: tuple[Swatch, ...] = ()
        self.saturation = 1.0
        self.setFixedHeight(34)
        self.setAccessibleName("Colours by area")

    def show_swatches(self, swatches: tuple[Swatch, ...]) -> None:
        self.swatches = swatches
        self.update()

    def parts(self) -> list[tuple[QRectF, Swatch]]:
        total = sum(max(s.share, 0.02) for s in self.swatches) or 1.0
        x, out = 0.0, []
        for s in self.swatches:
            w = self.width() * max(s.share, 0.02) / total
            out.append((QRectF(x, 2, w, self.height() - 4), s))
            x += w
        return out

    def mousePressEvent(self, e: QMouseEvent) -> None:
        for k, (r, _) in enumerate(self.parts()):
            if r.contains(e.position()):
                self.picked.emit(k)

    def paintEvent(self, e: QPaintEvent) -> None:
        with painting(self) as p:
            for r, s in self.parts():
                p.fillRect(r, QColor(saturated(s.colour, self.saturation)))
            outline(p, theme.t.c("rule_strong"), 1)
            if self.swatches:
                p.drawRect(QRectF(0.5, 2.5, self.width() - 1, self.height() - 5))
            else:
                text(p, QRectF(self.rect()), "No colours taken yet", "small", theme.t.c("soft"), CENTRE)


class ColoursPage(Page):
    changed = Signal(str, object)
    take_wanted = Signal()
    export_wanted = Signal()

    def __init__(self, parent: QWidget | None = None):
        super().__init__(parent)
        self.character: Character | None = None
        self.take = button(
            "Take from this picture", self.take_wanted.emit, "Main colours of the reference by area; named ones stay", strong=True
        )
        self.export = button("Save colours…", self.export_wanted.emit, "Write the swatches as CSS or JSON")
        self.row(self.take, self.export)
        self.bar = AreaBar()
        self.rows.addWidget(self.bar)
        self.dial = QSlider(Qt.Orientation.Horizontal)
        self.dial.setRange(0, 160)
        self.dial.setValue(100)
        self.dial.setAccessibleName("Saturation shown")
        self.dial.setToolTip("Look at the swatches with less or more saturation; nothing is changed")
        self.dial.valueChanged.connect(self._saturate)
        self.row("Saturation shown", self.dial, stretch=1)
        self.list = QVBoxLayout()
        self.list.setSpacing(8)
        self.rows.addLayout(self.list)
        self.legend = soft("Each: centre in edge; light and dark for two-value shading; the opposite.", wrap=True)
        self.rows.addWidget(self.legend)
        self.cards: list[SwatchCard] = []
        self.end()

    def set_content(self, c: Character | None, has_picture: bool) -> None:
        before = self.character.swatches if self.character else None
        self.character = c
        swatches = c.swatches if c else ()
        self.setEnabled(c is not None)
        self.take.setEnabled(has_picture)
        self.export.setEnabled(bool(swatches))
        self.legend.setVisible(bool(swatches))
        if swatches == before:
            return
        self.bar.show_swatches(swatches)
        while len(self.cards) > len(swatches):
            card = self.cards.pop()
            self.list.removeWidget(card)
            put_away(card, self.take)
        for k, s in enumerate(swatches):
            if k == len(self.cards):
                card = SwatchCard(k, s)
                card.edited.connect(self._edit)
                card.gone.connect(self._drop)
                self.list.addWidget(card)
                self.cards.append(card)
            self.cards[k].show_swatch(self.character.id if self.character else "", s)
        self._saturate(self.dial.value())

    def _saturate(self, percent: int) -> None:
        self.bar.saturation = percent / 100
        self.bar.update()
        for card in self.cards:
            card.face.set_saturation(percent / 100)

    def _edit(self, k: int, s: Swatch) -> None:
        if self.character is not None:
            self.changed.emit("Colour", {"swatches": tuple(s if i == k else o for i, o in enumerate(self.character.swatches))})

    def _drop(self, k: int) -> None:
        if self.character is not None:
            self.changed.emit(
                "Take a colour away", {"swatches": tuple(o for i, o in enumerate(self.character.swatches) if i != k)}
            )
