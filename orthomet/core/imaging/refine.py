"""Seeds moved onto what the picture shows, feature by feature: iris, lids, brows, mouth, nose wings, chin and cheeks, hair.

The mesh regresses to an average face, so it says where a feature is, not how large. Each step here looks only near its seed
and leaves the seed alone where the picture tells nothing. What it moves stays *estimated* until a person confirms it.

Iris: the circle at which brightness jumps most between inside and outside, on the arcs the lids leave free (after
Daugman, *IEEE PAMI* 15(11), 1993). Lids and corners: what is not skin around the iris, filled. Mouth line: the darkest path
between the lips. Brows: the same over each eye. Outline: the edge across the contour, both sides weighed together. Nose wings: the
crease beside each. Hair: what is not the ground.
"""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..kinds import Array
from .brows import brows
from .edges import Ray, Sides, heaviest, looked_along, moved_sideways
from .eyes import eyes
from .hair import hair
from .mouth import mouth
from .working import Face, Points, prepare, sharper


def refine(rgb: Array, points: Mapping[str, tuple[float, float]]) -> Points:
    """Better places for the front landmarks of one face.

    Parameters
    ----------
    rgb
        The picture ``(h, w, 3)``, uint8.
    points
        Seeds in picture pixels; both eyes' corners are needed.

    Returns
    -------
    dict
        Only the landmarks that were moved.
    """
    if any(f"{b}_{s}" not in points for b in ("endocanthion", "exocanthion") for s in "lr"):
        return {}
    face = prepare(rgb, points)
    if face is None:
        return {}
    at = face.work(points)
    out = eyes(sharper(rgb, face), at)
    for step in (brows, mouth, _chin, _outline, hair):
        out |= step(face, {**at, **out})
    return face.picture(out)


# ---- nose, chin, cheeks


FACE_EVEN, NOSE_EVEN = 0.035, 0.10
"""How unlike both sides of a face and of a nose may be, in half widths (own; the middle of the nose is less well known)."""
WIDEST_WING = 1.16
"""A wing lies no farther out than this share of its seed's half width: beyond it lie the folds of a smile. The network draws noses
rather too wide (true by seed .71–1.16 over 24 painted portraits, own)."""
WINGS = Sides("alare", 0.30, WIDEST_WING - 0.30, 0.75, 0.30, 6, NOSE_EVEN, crease=True)
WING_EDGES = Sides("alare", 0.45, WIDEST_WING - 0.45, 0.55, 0.30, 4, NOSE_EVEN)
OUTLINE = tuple(Sides(base, 0.75, 0.6, 0.25, 0.09, 6, FACE_EVEN) for base in ("zygion", "gonion"))
"""Where nose wings, cheeks and jaw corners are looked for about their seeds (own, tried on 90 painted portraits)."""


def _chin(face: Face, at: Points) -> Points:
    """Where the face ends below the mouth."""
    if "gnathion" not in at or "stomion" not in at:
        return {}
    mouth, chin = np.array(at["stomion"]), np.array(at["gnathion"])
    tall = float(chin[1] - mouth[1])
    if tall < 6:
        return {}
    ray = Ray(mouth + [0, 0.60 * tall], np.array([0.0, 1.0]), 1.2 * tall, 0.60 * tall, 0.28 * tall, 8)
    found = heaviest(looked_along(face, [ray])[0])
    return {} if found is None else {"gnathion": (float(chin[0]), float(mouth[1] + 0.60 * tall + found))}


def _outline(face: Face, at: Points) -> Points:
    """Cheeks and jaw corners: the face's edge level with their seeds; wings of the nose: the crease beside each, or its edge."""
    middle = (at["endocanthion_l"][0] + at["endocanthion_r"][0]) / 2
    asked = [(s, middle) for s in OUTLINE]
    if "subnasale" not in at:
        return moved_sideways(face, at, asked)
    nose = at["subnasale"][0]
    out = moved_sideways(face, at, [*asked, (WINGS, nose)])
    return out if "alare_l" in out and "alare_r" in out else out | moved_sideways(face, at, [(WING_EDGES, nose)])
