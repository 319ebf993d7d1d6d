"""What can be laid beside a drawing, and how it comes to lie there."""

from __future__ import annotations

import numpy as np
from PySide6.QtGui import QImage, QTransform

from ....core.check.overlay import reference_way
from ....core.kinds import Array
from ....core.picture import Picture
from ....core.project.model import Character, Drawing, Earlier, Reference
from .beside import Beside
from .curing import CureShown

CURE, PLAN, REFERENCE, EARLIER = "cure", "plan", "reference", "earlier"


def offered(c: Character | None, d: Drawing | None, cures: tuple[CureShown, ...], planned: bool) -> list[tuple[str, str]]:
    """Keys and words of all that can be laid beside a drawing now."""
    if c is None or d is None:
        return []
    out = [(f"{CURE}:{k}", "its cure" if len(cures) < 2 else f"cure {k + 1}") for k in range(min(2, len(cures)))]
    if planned:
        out.append((PLAN, "its plan"))
    if reference_of(c, d) is not None:
        out.append((REFERENCE, "its reference"))
    for k, e in reversed(list(enumerate(d.earlier))):
        today = k == len(d.earlier) - 1
        out.append((f"{EARLIER}:{k}", "the save before" if today else f"as on {e.when[:10]}"))
    return out


def reference_of(c: Character, d: Drawing) -> Reference | None:
    """The reference that can be laid over a drawing: the chosen one of its view with points enough in common."""
    same = [r for r in c.references if r.marks.view == d.marks.view and len(set(r.marks.points) & set(d.marks.points)) >= 3]
    return next((r for r in same if r.id == c.chosen_reference), same[0] if same else None)


def qt(m: Array) -> QTransform:
    """A ``(2, 3)`` map as Qt holds it."""
    return QTransform(*(float(v) for v in (m[0, 0], m[1, 0], m[0, 1], m[1, 1], m[0, 2], m[1, 2])))


def beside_cure(s: CureShown) -> Beside:
    return Beside("cured", QTransform.fromTranslate(*s.at), s.patch, key=s)


def beside_plan(overlay: Picture, to_page: QTransform, back: QTransform) -> Beside:
    return Beside("its plan", to_page * back, picture=overlay, key=(overlay, to_page))


def beside_earlier(e: Earlier, image: QImage) -> Beside:
    return Beside(f"as it was {e.when[11:16]}", qt(np.array(e.way).reshape(2, 3)), image, key=e)


def beside_reference(r: Reference, d: Drawing, image: QImage) -> Beside | None:
    """The reference brought over the drawing by their landmarks; ``None`` where they have too few in common."""
    way = reference_way(r.marks, d.marks)
    return Beside("its reference", qt(way), image, key=(r, d.marks)) if way is not None else None
