"""The open 68-point text format (``.pts``): in and out.

The layout is the one common in face-alignment data sets: points 1–17 the jaw from the character's right ear to the left,
18–27 the brows, 28–36 the nose, 37–48 the eyes, 49–68 the mouth. What the layout says exactly (eye corners, nostrils, mouth
corners) becomes a placed landmark; jaw points only lie somewhere on the contour, so cheek, jaw and chin side come in as
estimated. The crown and the hairline are not in the format.
"""

from __future__ import annotations

import re
from pathlib import Path

import numpy as np

from ..datafiles import read_text
from ..errors import FormatError, shortened
from ..kinds import Array
from .points import Landmarks, State, require_front, require_measurable

COUNT = 68
MAX_BYTES = 200_000

# landmark → the points (from 0) whose mean it is
EXACT: dict[str, tuple[int, ...]] = {
    "gnathion": (8,), "nasion": (27,), "pronasale": (30,), "subnasale": (33,), "alare_r": (31,), "alare_l": (35,),
    "brow_outer_r": (17,), "brow_peak_r": (19,), "brow_inner_r": (21,), "brow_inner_l": (22,), "brow_peak_l": (24,),
    "brow_outer_l": (26,), "exocanthion_r": (36,), "palpebrale_superius_r": (37, 38), "endocanthion_r": (39,),
    "palpebrale_inferius_r": (40, 41), "endocanthion_l": (42,), "palpebrale_superius_l": (43, 44), "exocanthion_l": (45,),
    "palpebrale_inferius_l": (46, 47), "cheilion_r": (48,), "labiale_superius": (51,), "cheilion_l": (54,),
    "labiale_inferius": (57,), "stomion": (62, 66),
}  # fmt: skip
CONTOUR: dict[str, tuple[int, ...]] = {
    "zygion_r": (1,), "gonion_r": (4,), "chin_side_r": (6,), "chin_side_l": (10,), "gonion_l": (12,), "zygion_l": (15,),
}  # fmt: skip


def parse_pts(text: str, where: str = "The file") -> Array:
    """The 68 points of a ``.pts`` text, shape ``(68, 2)``.

    Raises
    ------
    FormatError
        Not in the format, another number of points, or coordinates that are not numbers.
    """
    m = re.search(r"n_points\s*:\s*(\d+)\s*\{([^{}]*)\}", text)
    if m is None:
        raise FormatError(f"{where} is not a point file: it lacks “n_points: 68 {{ … }}”.")
    if m.group(1).lstrip("0") != str(COUNT):
        raise FormatError(f"{where} says it holds {shortened(m.group(1), 12)} points; the 68-point layout is read.")
    rows = [line.split() for line in m.group(2).strip().splitlines() if line.strip()]
    try:
        xy = np.array([[float(v) for v in r] for r in rows])
    except ValueError:
        raise FormatError(f"{where} holds a coordinate that is no number.") from None
    if xy.shape != (COUNT, 2) or not np.isfinite(xy).all():
        raise FormatError(f"{where} does not hold 68 pairs of ordinary numbers.")
    return xy


def from_pts(text: str, where: str = "The file") -> Landmarks:
    """Landmarks of a ``.pts`` text (front view).

    Raises
    ------
    FormatError, LandmarkError
    """
    xy = parse_pts(text, where)
    points = {}
    for name, idx in (EXACT | CONTOUR).items():
        x, y = xy[list(idx)].mean(0)
        points[name] = (float(x), float(y))
    marks = Landmarks("front", points, dict.fromkeys(CONTOUR, State.ESTIMATED))
    require_measurable(marks)
    return marks


def read_pts(path: str | Path) -> Landmarks:
    """Read a ``.pts`` file.

    Raises
    ------
    FormatError, LandmarkError
    """
    return from_pts(read_text(path, MAX_BYTES, "a point file"), Path(path).name)


def to_pts(marks: Landmarks) -> str:
    """The 68 points of a face as text; points between landmarks are laid smoothly between their neighbours.

    Raises
    ------
    FormatError, LandmarkError
        A landmark the layout cannot do without is missing, or it is no face from the front.
    """
    require_front(marks, "The 68-point layout")
    missing = [n for n in (EXACT | CONTOUR) if n not in marks.points]
    if missing:
        raise FormatError(f"A 68-point file needs the {marks.schema[missing[0]].words}, which is missing.")
    xy = np.full((COUNT, 2), np.nan)
    at = {n: np.array(marks.points[n]) for n in (EXACT | CONTOUR)}
    for name, idx in (EXACT | CONTOUR).items():
        for k in idx:
            xy[k] = at[name]
    _spread_pairs(xy, at)
    xy[0] = xy[1] + (xy[1] - xy[4]) * 0.25
    xy[16] = xy[15] + (xy[15] - xy[12]) * 0.25
    for first, last in ((0, 17), (17, 22), (22, 27), (27, 31), (31, 36), (48, 55)):
        _fill(xy, first, last)
    _fill(xy, 54, 60, closing=48)
    xy[[60, 64]] = xy[[48, 54]] + (xy[[62, 62]] - xy[[48, 54]]) * 0.12
    _fill(xy, 60, 65)
    _fill(xy, 64, 68, closing=60)
    body = "\n".join(f"{x:.6f} {y:.6f}" for x, y in xy)
    return f"version: 1\nn_points: {COUNT}\n{{\n{body}\n}}\n"


def _spread_pairs(xy: Array, at: dict[str, Array]) -> None:
    """Two points of a lid stand a third of the eye apart, so that their mean is the lid's middle."""
    for side, upper, lower in (("r", (37, 38), (41, 40)), ("l", (43, 44), (47, 46))):
        outer, inner = at[f"exocanthion_{side}"], at[f"endocanthion_{side}"]
        first, second = (outer, inner) if side == "r" else (inner, outer)
        step = (second - first) / 6
        for pair, name in ((upper, f"palpebrale_superius_{side}"), (lower, f"palpebrale_inferius_{side}")):
            xy[pair[0]], xy[pair[1]] = at[name] - step, at[name] + step


def _fill(xy: Array, first: int, last: int, closing: int | None = None) -> None:
    """Interpolate the missing points of a run along its known ones."""
    idx = list(range(first, last)) + ([closing] if closing is not None else [])
    known = [k for k, i in enumerate(idx) if np.isfinite(xy[i]).all()]
    for axis in (0, 1):
        values = np.interp(range(len(idx)), known, [xy[idx[k], axis] for k in known])
        for k, i in enumerate(idx):
            if k not in known or not np.isfinite(xy[i, axis]):
                xy[i, axis] = values[k]
