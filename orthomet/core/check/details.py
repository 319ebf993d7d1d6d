"""Counted details and attachment lines: declared once for a character, asked on each drawing."""

from __future__ import annotations

from dataclasses import dataclass

import cv2
import numpy as np

from ..kinds import Array
from ..landmarks.views import SCHEMAS
from ..project.checked import Attached, Counted
from ..project.model import Character, Drawing

SHARE_TOLERANCE = 0.03
"""Of the way along a part an attachment may be off (own)."""
LEAST_BLOB, LARGEST_BLOB = 0.0004, 0.2
"""Area of a dark blob that counts, as a share of its zone (own)."""
SIDES = {"": "", "left": "on the left", "right": "on the right", "both": "on each side"}


@dataclass(frozen=True)
class CountSeen:
    """A counted detail on a drawing; ``seen`` is ``None`` until somebody has counted."""

    detail: Counted
    seen: int | None

    @property
    def off(self) -> bool:
        return self.seen is not None and self.seen != self.detail.count

    @property
    def words(self) -> str:
        d = self.detail
        place = " ".join(w for w in (d.where, SIDES[d.side]) if w)
        planned = f"{d.name}{', ' + place if place else ''}: {d.count} planned"
        return planned if self.seen is None else f"{planned}, {self.seen} drawn"


@dataclass(frozen=True)
class AttachedSeen:
    """Where something sits on a drawing, as a share along its part; ``None`` until its place was clicked."""

    line: Attached
    seen: float | None

    @property
    def off(self) -> bool:
        return self.seen is not None and abs(self.seen - self.line.share) > SHARE_TOLERANCE

    @property
    def words(self) -> str:
        planned = f"{self.line.name}: {100 * self.line.share:.0f} % of the way"
        return planned if self.seen is None else f"{planned}, drawn at {100 * self.seen:.0f} %"


def counts_on(c: Character, d: Drawing) -> tuple[CountSeen, ...]:
    return tuple(CountSeen(x, d.counts.get(x.id)) for x in c.counted if x.version in ("", d.version))


def attached_on(c: Character, d: Drawing) -> tuple[AttachedSeen, ...]:
    """Attachments whose part the drawing's view shows."""
    names = set(SCHEMAS[d.marks.view].names)
    rows = [x for x in c.attached if x.version in ("", d.version) and {x.start, x.end} <= names]
    return tuple(AttachedSeen(x, d.attached.get(x.id)) for x in rows)


def share_along(at: tuple[float, float], start: tuple[float, float], end: tuple[float, float]) -> float:
    """How far along from ``start`` to ``end`` a place is, seen square to that line: 0 at its start, 1 at its end.

    >>> share_along((5.0, 3.0), (0.0, 0.0), (10.0, 0.0))
    0.5
    """
    a, b, p = (np.array(x, float) for x in (start, end, at))
    long = float((b - a) @ (b - a))
    return float((p - a) @ (b - a)) / long if long > 0 else 0.0


def dark_spots(grey: Array) -> int:
    """How many separate dark things there are in a zone ``(h, w)`` uint8: buttons, freckles, lashes that do not touch."""
    if min(grey.shape) < 4:
        return 0
    soft = cv2.GaussianBlur(grey, (0, 0), max(0.6, 0.004 * max(grey.shape)))
    if int(np.ptp(soft)) < 24:
        return 0  # paper
    _, ink = cv2.threshold(soft, 0, 255, cv2.THRESH_BINARY_INV | cv2.THRESH_OTSU)
    count, _, stats, _ = cv2.connectedComponentsWithStats(ink, connectivity=8)
    area = stats[1:count, cv2.CC_STAT_AREA] / grey.size
    return int(((area > LEAST_BLOB) & (area < LARGEST_BLOB)).sum())
