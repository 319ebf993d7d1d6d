"""A drawn profile against its plan: the stations it shares with the front, and how far nose, lips and chin stand out."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

import numpy as np

from ..errors import LandmarkError
from ..kinds import Kind
from ..landmarks.points import Landmarks, State
from ..landmarks.views import SCHEMAS
from ..proportions.measure import measure
from ..proportions.views import profile_registry
from .check import Finding, amount_words, on_page_words
from .rows import tolerance_table
from .view import ViewCheck

STATIONS = (
    "hairline_station",
    "brow_station",
    "eye_station",
    "nose_base_station",
    "mouth_station",
    "ear_top_station",
    "ear_bottom_station",
)
"""What the side shares with the front's plan."""
_WORDS = {
    "hairline_station": "the hairline", "brow_station": "the brow", "eye_station": "the eye", "nose_base_station": "the nose base", "mouth_station": "the mouth",
    "ear_top_station": "the ear’s top", "ear_bottom_station": "the ear lobe", "nose_length_hh": "the nose", "head_depth_hh": "the head from front to back",
    "nose_depth_hh": "the nose", "upper_lip_out_hh": "the upper lip", "lower_lip_out_hh": "the lower lip", "chin_out_hh": "the chin",
}  # fmt: skip
_OUT = ("nose_depth_hh", "upper_lip_out_hh", "lower_lip_out_hh", "chin_out_hh")


@dataclass(frozen=True, eq=False)
class ProfileCheck(ViewCheck):
    differences: Mapping[str, float]
    """Drawing − plan in heads, by reading."""


def profile_plan(front: Mapping[str, float], side: Mapping[str, float]) -> dict[str, float]:
    """What a drawn profile is compared with: the front plan's stations and the side's own readings, heads."""
    shared = {k: v for k, v in front.items() if k in (*STATIONS, "nose_length_hh") and np.isfinite(v)}
    return {**shared, **{k: v for k, v in side.items() if k in _WORDS}}


def check_profile(
    drawing: Landmarks,
    plan: Mapping[str, float],
    meant: Collection[str] = (),
    noise: float | None = None,
    px_per_mm: float | None = None,
) -> ProfileCheck:
    """Compare a profile's landmarks with what is planned of it (:func:`profile_plan`), reading by reading.

    What rests on points that are estimated without a known spread is not judged. ``noise`` is how well the points are marked, one
    standard deviation in heads.

    Raises
    ------
    LandmarkError
        Not a profile, or it cannot be measured.
    """
    if drawing.view != "profile":
        raise LandmarkError(f"A profile's check needs a profile's landmarks; these show a {drawing.view}.")
    table = tolerance_table()
    noise = table.noise if noise is None else noise
    m = measure(drawing)
    points = drawing.points
    if "vertex" not in points or "gnathion" not in points:
        raise LandmarkError("A profile is checked by its crown and chin: place them first.")
    tall = abs(points["gnathion"][1] - points["vertex"][1])
    reg, schema = profile_registry(), SCHEMAS["profile"]
    unknown = {n for n in points if drawing.state(n) in (State.ESTIMATED, State.HIDDEN) and not drawing.spread.get(n)}
    found: list[Finding] = []
    passed: list[str] = []
    off: dict[str, float] = {}
    for key, wished in plan.items():
        v = m.value(key)
        r = reg[key]
        if v is None or unknown & set(r.over.needs):
            continue
        form = r.over.row(schema)
        each = np.repeat([np.hypot(noise, drawing.spread.get(n, 0.0) / max(tall, 1e-9)) for n in schema.names], 2)
        tolerance = max(_usual(r.kind, wished), table.noise_factor * float(np.sqrt((form**2) @ each**2)))
        off[key] = v - wished
        if abs(off[key]) <= tolerance:
            passed.append(key)
        elif key not in meant:
            found.append(_finding(key, r.kind, off[key], tolerance, tall, px_per_mm, frozenset(r.over.needs)))
    if not off:
        raise LandmarkError(
            "Nothing of this profile can be compared yet: confirm its points, or plan its side from a profile reference."
        )
    found.sort(key=lambda f: -f.severity)
    return ProfileCheck(tuple(found), tuple(passed), tuple(k for k in meant if k in off), noise, "profile", off)


def _usual(kind: Kind, wished: float) -> float:
    """The tolerance of the front's own rules, for a reading in heads."""
    rules = tolerance_table().rules
    rule = rules["station" if kind is Kind.STATION else "length" if kind is Kind.SIZE else "level"]
    return float(np.clip(rule.share * abs(wished), rule.low, rule.high))


def _finding(
    key: str, kind: Kind, off: float, tolerance: float, tall: float, px_per_mm: float | None, points: frozenset[str]
) -> Finding:
    words, px = _WORDS[key], off * tall
    amount, short = amount_words(off, px, px_per_mm), on_page_words(px, px_per_mm)
    if kind is Kind.STATION:
        verb = "Raise" if off > 0 else "Lower"
        say, way = f"{verb} {words} by {amount}", "up" if off > 0 else "down"
    elif key in _OUT:
        verb = "Take back" if off > 0 else "Bring forward"
        say = f"{'Take' if off > 0 else 'Bring'} {words} {'back' if off > 0 else 'forward'} by {amount}"
        way = "back" if off > 0 else "forward"
    else:
        verb = "Shorten" if off > 0 else "Lengthen"
        say, way = f"{verb} {words} by {amount}", "shorter" if off > 0 else "longer"
    return Finding(
        key,
        str(kind),
        off,
        px,
        verb.lower(),
        tolerance,
        abs(off) / tolerance,
        (),
        say,
        None,
        -off,
        None,
        points,
        f"{short} {way}",
    )
