"""Emphasis and style weights as they are moved on a list of gauges, for the head's plan and for the body's alike."""

from __future__ import annotations

from collections.abc import Callable

from ...core.project.edits import Edit, decide, set_emphasis, set_group_weight
from ..document import Document
from ..gauges.list import GaugeList, WeightBar


class TraitEdits:
    """What a list of gauges and the bar of the master weight decide for the open character, or the version that is worked on."""

    def __init__(self, document: Document, gauges: GaugeList, master: WeightBar, label: Callable[[str], str]):
        self.document, self.label = document, label
        gauges.emphasis_chosen.connect(self._emphasis)
        gauges.weight_began.connect(lambda g: document.begin(f"Style weight, {g.lower()}"))
        gauges.weight_moved.connect(self._weight)
        gauges.weight_reset.connect(self._follow)
        master.began.connect(lambda g: document.begin("Style weight"))
        master.moved.connect(self._master)

    def _edit(self, act: Callable[[Edit], object], made: Callable[[str, str], Edit]) -> None:
        c = self.document.character
        if c is not None:
            act(made(c.id, self.document.version_id))

    def _emphasis(self, key: str, e: float) -> None:
        self._edit(lambda x: self.document.do(f"Emphasis, {self.label(key)}", x), lambda c, v: set_emphasis(c, key, e, v))

    def _weight(self, group: str, value: float) -> None:
        self._edit(self.document.preview, lambda c, v: set_group_weight(c, group, round(value, 3), v))

    def _follow(self, group: str) -> None:
        self._edit(lambda x: self.document.do("Follow the master", x), lambda c, v: set_group_weight(c, group, None, v))

    def _master(self, _: str, value: float) -> None:
        self._edit(self.document.preview, lambda c, v: decide(c, v, style_weight=round(value, 3)))
