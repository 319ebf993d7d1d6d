"""The Reference station's panel: readings against a norm, the picture, the idea, the colours; only the page that shows is kept up."""

from __future__ import annotations

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QWidget

from ....core.gauges.reference import gauge_items
from ...document import Document
from ...gauges.list import GaugeList
from ...parts import across, choices, down, pile, soft
from ..base import Panel
from ..pages import PageSwitch, fill
from .colours_page import ColoursPage
from .idea_page import IdeaPage
from .noticed import NoticedFirst
from .picture_page import PicturePage


class ReferencePanel(Panel):
    norm_chosen = Signal(str)

    def __init__(self, document: Document) -> None:
        super().__init__("Readings")
        self.document = document
        self.title.hide()
        self.pages = PageSwitch(("Readings", "Picture", "Idea", "Colours"))
        self.top.addWidget(self.pages)
        self.top.addStretch(1)
        self.picture, self.idea, self.colours = PicturePage(), IdeaPage(), ColoursPage()
        self.stack = pile(self._readings(), self.picture, self.idea, self.colours)
        self.column.addWidget(self.stack, 1)
        self.pages.turned.connect(self._turn)

    def _readings(self) -> QWidget:
        page = QWidget()
        column = down(owner=page)
        self.noticed, self.list = NoticedFirst(), GaugeList("reference")
        self.against = choices("Read against", "The norm the face is read against, and planned from", slot=self.norm_chosen.emit)
        self.against.setMaximumWidth(176)
        self.foot = soft()
        row = across((self.foot, 1), self.against, margins=(16, 5, 16, 6), spacing=10)
        column.addWidget(self.noticed)
        column.addSpacing(6)
        column.addWidget(self.list, 1)
        column.addLayout(row)
        return page

    def _turn(self, k: int) -> None:
        self.stack.setCurrentIndex(k)
        self.refresh()

    def light(self, keys: set[str]) -> None:
        self.list.light(keys)
        self.noticed.light(keys)

    def refresh(self) -> None:
        """Bring up to date the page that shows; a drag pays for no other."""
        c = self.document.character
        ref = c.reference if c else None
        m = self.document.seen()
        against = self.document.norm(m.registry)
        k = self.stack.currentIndex()
        if k == 0:
            items = gauge_items(c, ref, m, against)
            self.list.set_items(items)
            front = m.registry.schema.view == "front"
            self.noticed.setVisible(front)
            if front:
                self.noticed.set_content(c.noticed if c else (), self.document.plan().noticed, {i.key: i for i in items})
            self._show_norms()
        elif k == 1:
            self.picture.set_content(c, ref, m, against)
        elif k == 2:
            self.idea.set_content(c)
        else:
            self.colours.set_content(c, ref is not None)

    def _show_norms(self) -> None:
        c = self.document.character
        name = c.decisions.norm if c else "adult"
        fill(self.against, [(words, key) for key, words in self.document.norm_choices()], name)
        self.against.setEnabled(c is not None)
        self.foot.setText("Approximate averages, no ideal." if not name.startswith("style:") else "Judged by its own style.")
