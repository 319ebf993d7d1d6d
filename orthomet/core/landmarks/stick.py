"""The measuring stick: a span marked by hand, carried, turned, stepped off and divided. No landmark is needed."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

XY = tuple[float, float]
MOST = 24
"""Most steps or parts of a stick (own)."""


@dataclass(frozen=True)
class Stick:
    """A span from ``a`` to ``b``, picture pixels, repeated ``times`` along its own direction and divided in ``parts``."""

    a: XY
    b: XY
    times: int = 1
    parts: int = 1

    @property
    def length(self) -> float:
        return float(np.hypot(self.b[0] - self.a[0], self.b[1] - self.a[1]))

    def moved(self, dx: float, dy: float) -> Stick:
        """Carried along; its length and direction stay.

        >>> Stick((0.0, 0.0), (3.0, 4.0)).moved(1.0, 1.0).length
        5.0
        """
        return replace(self, a=(self.a[0] + dx, self.a[1] + dy), b=(self.b[0] + dx, self.b[1] + dy))

    def turned(self, end: str, toward: XY) -> Stick:
        """Turned about its other end so that ``end`` (``"a"`` or ``"b"``) points toward a place; its length stays."""
        pivot = self.b if end == "a" else self.a
        dx, dy = toward[0] - pivot[0], toward[1] - pivot[1]
        n = float(np.hypot(dx, dy))
        if n == 0 or self.length == 0:
            return self
        k = self.length / n
        place = (pivot[0] + dx * k, pivot[1] + dy * k)
        return replace(self, a=place) if end == "a" else replace(self, b=place)

    def stepped(self, more: int) -> Stick:
        return replace(self, times=max(1, min(MOST, self.times + more)))

    def divided(self, more: int) -> Stick:
        return replace(self, parts=max(1, min(MOST, self.parts + more)))

    def marks(self) -> list[XY]:
        """Ends of all steps, ``times`` + 1 points."""
        dx, dy = self.b[0] - self.a[0], self.b[1] - self.a[1]
        return [(self.a[0] + dx * k, self.a[1] + dy * k) for k in range(self.times + 1)]

    def splits(self) -> list[XY]:
        """Points that divide every step in equal parts, step ends left out."""
        dx, dy = self.b[0] - self.a[0], self.b[1] - self.a[1]
        return [
            (self.a[0] + dx * (k + j / self.parts), self.a[1] + dy * (k + j / self.parts))
            for k in range(self.times)
            for j in range(1, self.parts)
        ]

    def fits(self, c: XY, d: XY) -> float | None:
        """How many times the stick fits between two points; ``None`` for a stick without length."""
        return float(np.hypot(d[0] - c[0], d[1] - c[1])) / self.length if self.length > 0 else None
