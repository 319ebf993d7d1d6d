"""A drawn profile against its plan: the stations it shares with the front, and how far nose, lips and chin stand out."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from ..errors import LandmarkError
from ..kinds import Array, Kind, there
from ..landmarks.level import facing
from ..landmarks.points import Landmarks, require_measurable, without_own
from ..landmarks.views import PROFILE
from ..proportions.forms import HH
from ..proportions.views import profile_registry
from .check import QUARTER_TURN, REGISTRATIONS, Finding, turned_by
from .instruct import amount_words, on_page_words
from .profile_moves import profile_moves
from .rows import tolerance_table
from .view import AsDrawn, ViewCheck, ViewRow, as_drawn, fixed, table, told_by_cause

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
    "nose_depth_hh": "the nose", "upper_lip_out_hh": "the upper lip", "lower_lip_out_hh": "the lower lip", "chin_out_hh": "the chin", "chin_hh": "the chin",
}  # fmt: skip
HEIGHT, _HEAD = "chin_hh", HH
"""What the head's own height is told as: that the chin is too low, or too high."""
_OUT = ("nose_depth_hh", "upper_lip_out_hh", "lower_lip_out_hh", "chin_out_hh")


@dataclass(frozen=True, eq=False)
class ProfileCheck(ViewCheck):
    differences: Mapping[str, float]
    """Drawing − plan in heads, by reading."""
    registered: Array
    """The drawing's landmarks in heads, ``(n, 2)``, looking right, the crown at 0."""


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
    quick: bool = False,
) -> ProfileCheck:
    """Compare a profile's landmarks with what is planned of it (:func:`profile_plan`) and name the smallest fix.

    The head's size and turn on the page are free within reason, so that a chin too low does not move everything else.
    ``quick``: while a hand drags, by greedy moves and without rivals. What rests on points that are estimated without a known spread is not judged. ``noise`` is how well the points are marked, one
    standard deviation in heads.

    Raises
    ------
    LandmarkError
        Not a profile, or it cannot be measured.
    """
    if drawing.view != "profile":
        raise LandmarkError(f"A profile's check needs a profile's landmarks; these show a {drawing.view}.")
    noise = tolerance_table().noise if noise is None else noise
    if "vertex" not in drawing.points or "gnathion" not in drawing.points:
        raise LandmarkError("A profile is checked by its crown and chin: place them first.")
    require_measurable(drawing)
    known = without_own(drawing)
    unknown = frozenset(n for n in known.points if known.unknown(n))
    xy = known.array(PROFILE)
    way = np.diag([float(facing(xy, PROFILE)), 1.0])
    crown, chin = xy[PROFILE.index["vertex"]], xy[PROFILE.index["gnathion"]]
    tall = abs(float(chin[1] - crown[1]))
    marked = np.hypot(noise, known.spreads(PROFILE) / tall)
    here, to_page = (xy - crown) @ way / tall, way * tall
    taken: Array = np.zeros(2)
    moves = profile_moves(here)
    for left in range(0 if quick else REGISTRATIONS - 1, -1, -1):  # roughly is enough for where it lies
        rows = _rows(here, marked, plan, unknown, to_page, px_per_mm)
        if len(rows) < 2:
            raise LandmarkError(
                "Nothing of this profile can be compared yet: confirm its points, or plan its side from a profile reference."
            )
        forms = table(rows)[0]
        flat = np.nan_to_num(here)
        turned = flat @ QUARTER_TURN
        fix = fixed(
            rows, moves, marked, np.column_stack([forms @ flat.ravel(), forms @ turned.ravel()]), taken, quick or left > 0
        )
        m = turned_by(*fix.frame)
        here, to_page, taken = here @ m.T, to_page @ np.linalg.inv(m), taken + fix.frame
    rows = _rows(here, marked, plan, unknown, to_page, px_per_mm)
    off = table(rows)[1]
    found, quiet = told_by_cause(rows, fix, off, to_page, meant, px_per_mm)
    told = {r.key: float(d) for r, d in zip(rows, off, strict=True) if r.key in plan}
    passed = tuple(r.key for r in rows if r.key in plan and abs(r.off) <= r.tolerance)
    silent = tuple(k for k in meant if k in told)
    meant_or_quiet = (*silent, *(k for k in quiet if k not in silent))
    return ProfileCheck(found, passed, meant_or_quiet, noise, "profile", fix, to_page, as_drawn(rows), told, here)


def _rows(
    here: Array, marked: Array, plan: Mapping[str, float], unknown: frozenset[str], to_page: Array, px_per_mm: float | None
) -> list[ViewRow]:
    """What can be compared: every planned reading, and the head's own height, which is one."""
    flat, factor = np.nan_to_num(here).ravel(), tolerance_table().noise_factor
    tall = float(np.sqrt(abs(np.linalg.det(to_page))))
    lost = ~there(here)
    out = []
    for key, wished in ((HEIGHT, 1.0), *plan.items()):
        over = _HEAD if key == HEIGHT else profile_registry()[key].over
        kind = Kind.STATION if key == HEIGHT else profile_registry()[key].kind
        if unknown & over.needs or any(lost[PROFILE.index[n]] for n in over.needs):
            continue
        form = over.row(PROFILE)
        tolerance = max(_usual(kind, wished), factor * float(np.sqrt((form**2) @ np.repeat(marked, 2) ** 2)))
        told = partial(_finding, key, kind, tolerance, tall, px_per_mm, over.needs)
        value = float(form @ flat)
        drawn = AsDrawn(wished, value, tolerance) if key != HEIGHT else None
        out.append(ViewRow(key, form, value - wished, tolerance, told, drawn))
    return out


def _usual(kind: Kind, wished: float) -> float:
    """The tolerance of the front's own rules, for a reading in heads."""
    rules = tolerance_table().rules
    rule = rules["station" if kind is Kind.STATION else "length" if kind is Kind.SIZE else "level"]
    return float(np.clip(rule.share * abs(wished), rule.low, rule.high))


def _finding(
    key: str, kind: Kind, tolerance: float, tall: float, px_per_mm: float | None, points: frozenset[str], off: float
) -> Finding:
    words, px = _WORDS[key], off * tall
    amount, short = amount_words(off, px, px_per_mm), on_page_words(px, px_per_mm)
    if kind is Kind.STATION:  # the chin's height, too
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
