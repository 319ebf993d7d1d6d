"""The face's shape class from its own ratios, and the old canons read off a face: thirds, halves, five eyes.

Classes as artists name them (common practice); each is a place in four ratios, the nearest one is named. The places are own.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

AXES = ("face_ratio", "temple_width_fw", "jaw_width_fw", "chin_width_fw")
SPREAD = np.array([0.10, 0.05, 0.06, 0.06])
"""One step on each axis (own, about the norm's spread)."""

# height:width, temples, jaw corners, chin, the last three in face widths
CLASSES: dict[str, tuple[float, float, float, float]] = {
    "oval": (1.70, 0.85, 0.78, 0.44),
    "round": (1.48, 0.85, 0.80, 0.50),
    "square": (1.58, 0.90, 0.92, 0.56),
    "long": (1.95, 0.86, 0.82, 0.48),
    "egg": (1.68, 0.80, 0.86, 0.54),
    "inverted egg": (1.66, 0.90, 0.72, 0.38),
    "heart": (1.62, 0.94, 0.66, 0.30),
    "diamond": (1.74, 0.76, 0.70, 0.34),
}
CLOSE = 0.25
"""When the second class lies no farther than this beyond the first, both are named (own)."""


def face_class(table: Mapping[str, float]) -> tuple[str, ...]:
    """Nearest class, and the runner-up where the two are close; empty while a ratio it needs is not measured.

    Temples may be missing (hair often covers them); the other ratios then decide.

    >>> face_class({})
    ()
    """
    here = np.array([table.get(k, np.nan) for k in AXES])
    if not np.isfinite(here[[0, 2, 3]]).all():
        return ()
    ok = np.isfinite(here)
    names = list(CLASSES)
    d = np.array([np.linalg.norm(((here - np.array(CLASSES[n])) / SPREAD)[ok]) for n in names])
    order = np.argsort(d)
    first, second = names[order[0]], names[order[1]]
    return (first, second) if d[order[1]] - d[order[0]] < CLOSE else (first,)


@dataclass(frozen=True)
class Canon:
    """One old rule read off a face: its name, what the face has, what the rule says, in words."""

    name: str
    says: str
    face: str
    off: float
    """Departure in the rule's own unit; 0 fits."""


def canons(table: Mapping[str, float]) -> list[Canon]:
    """Rules that can be read from what is measured (Vitruvius III.1; neoclassical canons, published in Farkas et al. 1985)."""
    out = []
    thirds = [table.get(f"{k}_third") for k in ("upper", "middle", "lower")]
    if all(t is not None for t in thirds):
        u, m, low = (float(t) for t in thirds if t is not None)
        largest = ("upper", "middle", "lower")[int(np.argmax([u, m, low]))]
        off = max(abs(t - 1 / 3) for t in (u, m, low))
        words = f"{u:.2f}  {m:.2f}  {low:.2f}" + (f", {largest} one largest" if off > 0.01 else "")
        out.append(Canon("Thirds", "brow and nose base part hairline to chin in three", words, off))
    if "eye_station" in table:
        v = table["eye_station"]
        side = "at the half" if abs(v - 0.5) < 0.005 else f"{abs(v - 0.5):.3f} heads {'below' if v > 0.5 else 'above'} the half"
        out.append(Canon("Halves", "the eyes halve the head", side, v - 0.5))
    if "eyes_across" in table:
        v = table["eyes_across"]
        out.append(Canon("Five eyes", "the face is five eyes wide", f"{v:.2f} eyes", v - 5))
    if "eye_gap_ew" in table:
        v = table["eye_gap_ew"]
        out.append(Canon("An eye between", "one eye lies between the eyes", f"{v:.2f} eyes", v - 1))
    if "mouth_nose" in table:
        v = table["mouth_nose"]
        out.append(Canon("Mouth and nose", "the mouth is 1½ noses wide", f"{v:.2f} noses", v - 1.5))
    if "nose_width_fw" in table:
        v = table["nose_width_fw"]
        out.append(Canon("Nose and face", "the nose is a quarter of the face", f"{v:.3f} of it", v - 0.25))
    if "nose_length_hh" in table and "ear_length_hh" in table:
        v = table["ear_length_hh"] / table["nose_length_hh"]
        out.append(Canon("Ear and nose", "the ear is as long as the nose", f"{v:.2f} noses", v - 1))
    return out
