"""A drawn figure against its plan: lengths with foreshortening discounted, girths, shoulder and hip lines, heads tall, and the smallest fix.

A limb drawn shorter than planned is turned out of the picture, and told as a range; one drawn longer than it can be is a finding. Widths of
the trunk may look narrower, never wider. Thicknesses are the same from everywhere.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache, partial

import numpy as np

from ..errors import LandmarkError
from ..figure.skeleton import Skeleton
from ..kinds import Array
from ..landmarks.points import Landmarks
from ..landmarks.views import FIGURE
from ..pose.lift import Lift, Segment, Verdict, bones_seen, lift
from ..pose.model import STANDING, Pose
from .figure_moves import WORDS, figure_moves
from .figure_rows import figure_rows, reading_of, said, seen_of
from .moves import Move
from .rows import tolerance_table
from .stance import LINES, Stance, slope_of, stance_of
from .view import ViewCheck, as_drawn, fixed, table, told_by_cause


@dataclass(frozen=True, eq=False)
class FigureCheck(ViewCheck):
    segments: tuple[Segment, ...]
    lifting: Callable[[], Lift]
    """What works out its depth."""
    lines: dict[str, float]
    """Slope of shoulder and hip line on the drawing, degrees; positive falls to the picture's right."""
    stance: Stance | None
    """Which of the known poses it shows, and from where."""

    @cached_property
    def lift(self) -> Lift:
        """How it stands in three dimensions; worked out when it is asked for."""
        return self.lifting()


def check_figure(
    drawing: Landmarks, s: Skeleton, plan: Mapping[str, float], meant: Collection[str] = (), noise: float | None = None,
    px_per_mm: float | None = None, poses: Collection[Pose] = (STANDING,), quick: bool = False,
) -> FigureCheck:  # fmt: skip
    """Compare a figure's landmarks with a planned body and name the smallest fix.

    ``noise`` is how well the points are marked, one standard deviation in heads; a point's own spread adds to it, and one that is estimated
    without a known spread is not judged. Where the drawing shows one of the ``poses``, from any
    side, lengths are compared as they are seen in it, and what is shorter is a finding, too; in any other a shorter limb is only turned.
    ``quick``: while a hand drags, by greedy moves and without rivals.

    Raises
    ------
    LandmarkError
        Not a figure, or no limb on it.
    """
    if drawing.view != "figure":
        raise LandmarkError(f"A figure's check needs figure landmarks; these show a {drawing.view}.")
    loose = {n for n in drawing.points if n not in FIGURE.index or drawing.unknown(n)}
    sure = replace(drawing, points={n: p for n, p in drawing.points.items() if n not in loose})
    noise = tolerance_table().noise if noise is None else noise
    lifted = bones_seen(s, sure, noise)
    stance = stance_of(sure.points, s, poses)
    seen = seen_of(sure, lifted, stance, noise, px_per_mm)
    lines = {
        name: slope_of(seen.at[f"{k}_r"], seen.at[f"{k}_l"]) for name, k in LINES.items() if {f"{k}_r", f"{k}_l"} <= set(seen.at)
    }
    rows = figure_rows(seen, plan)
    here = np.full((len(FIGURE.names), 2), np.nan)
    for n, p in seen.at.items():
        here[FIGURE.index[n]] = p
    to_page = np.eye(2) * seen.scale
    if rows:
        forms, off, tolerance = table(rows)
        frame = _free(forms, np.nan_to_num(here))
        judged = frozenset(
            x.name
            for x in lifted.segments
            if x.verdict is not Verdict.FORESHORTENED or (stance is not None and x.name in stance.lengths)
        )
        moves = (_roughly if quick else figure_moves)(here, stance is not None, judged)
        fix = fixed(rows, moves, seen.noise, frame, None, quick)
        off = off + frame @ fix.frame
    else:
        fix, off, tolerance = fixed([], [], np.zeros(0), np.zeros((0, 1))), np.zeros(0), np.zeros(0)
    found, quiet = told_by_cause(rows, fix, off, to_page, meant, px_per_mm)
    bad = {r.key for r, d, t in zip(rows, off, tolerance, strict=True) if abs(d) > t}
    drawn = [reading_of(x.name) for x in lifted.segments if x.name in (*LINES, "trunk") or x.name[:-2] in WORDS]
    passed = tuple(k for k in dict.fromkeys([*drawn, *(r.key for r in rows)]) if k not in bad)
    lifting = partial(lift, s, sure, noise=noise)
    return FigureCheck(
        found, passed, quiet, noise, "figure", fix, to_page, as_drawn(rows), lifted.segments, lifting, lines, stance
    )


def _roughly(here: Array, known: bool, judged: frozenset[str]) -> list[Move]:
    """Moves of a figure of which a hand drags a point: few are made anew."""
    return _kept_moves(np.round(here, 1).tobytes(), known, judged)


@lru_cache(maxsize=16)
def _kept_moves(data: bytes, known: bool, judged: frozenset[str]) -> list[Move]:
    return figure_moves(np.frombuffer(data).reshape(-1, 2), known, judged)


def _free(forms: Array, here: Array) -> Array:
    """What the figure's size on the paper changes every row by, per share of it, ``(rows, 1)``."""
    return np.asarray(forms @ here.ravel())[:, None]


def turned_words(c: FigureCheck) -> list[str]:
    """What of a drawn figure is turned out of the picture, as ranges, and how its lines slope."""
    out = []
    for x in c.segments:
        low, high = x.angle
        if c.stance is not None and x.name in c.stance.lengths:
            continue  # it goes the way of a pose that is known
        if x.verdict is Verdict.FORESHORTENED and low > 12 and x.name[:-2] in WORDS and not x.name.startswith(("hand", "foot")):
            words = said(x.name)
            out.append(f"{words[0].upper()}{words[1:]}: {low:.0f} to {high:.0f}° out of the picture.")
    for name, slope in c.lines.items():
        if abs(slope) >= 1:
            out.append(f"{name.capitalize()} fall {abs(slope):.0f}° to the picture’s {'right' if slope > 0 else 'left'}.")
    return out
