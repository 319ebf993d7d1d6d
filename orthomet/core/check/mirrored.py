"""A face of which one half was copied and mirrored: no hand is that even; and what that does to the gaze."""

from __future__ import annotations

import numpy as np

from ..kinds import Array
from ..landmarks.points import Landmarks
from ..landmarks.schema import FRONT
from .rows import tolerance_table

FEWEST = 12
"""Pairs from which on evenness says anything (own)."""
TOO_EVEN = 0.35
"""Share of what two marked points differ by anyway, under which both halves are one (own: a hand marks each within 0.3 % of the head)."""
ASIDE = 0.06
"""Eye widths both pupils may look toward or away from the nose before the eyes squint (own)."""


def evenness(marks: Landmarks) -> float | None:
    """How far a face's halves differ from each other's mirror image, root mean square in heads; ``None`` with too few pairs."""
    xy = marks.array(FRONT)
    partner = np.array(FRONT.mirror)
    left = np.flatnonzero(np.arange(len(partner)) < partner)
    here = left[np.isfinite(xy[left, 0]) & np.isfinite(xy[partner[left], 0])]
    top, chin = xy[FRONT.index["vertex"]], xy[FRONT.index["gnathion"]]
    tall = float(np.hypot(*(chin - top)))
    if len(here) < FEWEST or not tall > 0:
        return None
    a, b = xy[here], xy[partner[here]]
    across = _axis(a, b)
    down = np.array([-across[1], across[0]])
    middle = (a + b) @ across / 2
    off = np.concatenate([middle - np.median(middle), (a - b) @ down])
    return float(np.sqrt(np.mean(off**2))) / tall


def _axis(a: Array, b: Array) -> Array:
    """The direction pairs lie across the face, a unit vector."""
    d = (a - b) * np.sign((a - b) @ (a - b).sum(0))[:, None]
    u = d.sum(0)
    return np.asarray(u / np.linalg.norm(u))


def mirrored_words(marks: Landmarks) -> tuple[str, ...]:
    """What is to be said of a face that is too even: that it was mirrored, and whether its gaze was mirrored along."""
    even = evenness(marks)
    if even is None or even > TOO_EVEN * tolerance_table().noise:
        return ()
    out = [
        f"Both halves are each other's mirror image, to {100 * even:.2f} % of the head: one was copied. A living face is not that even."
    ]
    squint = gaze(marks)
    if squint is not None and abs(squint) > ASIDE:
        way = "toward the nose" if squint > 0 else "away from it"
        out.append(f"The gaze was mirrored along: both pupils look {way}. Move one of them over.")
    return tuple(out)


def gaze(marks: Landmarks) -> float | None:
    """How far both pupils stand toward the nose from the middle of their eyes, in eye widths; ``None`` where an eye is not marked."""
    p = marks.points
    rows = []
    for s in "lr":
        names = (f"endocanthion_{s}", f"exocanthion_{s}", f"pupil_{s}")
        if any(n not in p for n in names):
            return None
        inner, outer, pupil = (np.array(p[n]) for n in names)
        wide = inner - outer
        rows.append(float((pupil - (inner + outer) / 2) @ wide / max(float(wide @ wide), 1e-9)))
    a, b = rows
    return (a + b) / 2 if a * b > 0 else 0.0
