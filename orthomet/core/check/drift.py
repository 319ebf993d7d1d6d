"""A character's drawings side by side: what strays from one to the next, what creeps, which drawing departs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime

import numpy as np
from scipy.stats import linregress

from ..kinds import Array, Kind
from ..landmarks.schema import FRONT
from ..proportions.registry import Role, front_registry
from ..styles.library import Style
from .rows import LEAST, MOST, STYLE_SPREADS

FEWEST, FEWEST_TREND = 2, 4
"""Drawings a mean is told from, and a trend (own)."""
CHANCE = 0.05
"""A trend that chance makes in more than so many of a hundred sets is none (common practice)."""
HALF_BAND = 0.5
"""Share of the band a trend has to cross from the first drawing to the last to be told (own)."""
LEAST_HEADS = 0.008
"""Heads a small size may stray by whatever its share (own: what a hand marks, left and right together)."""
FAR = 2.5
"""Robust standard deviations from the others' middle at which a drawing departs, if it is outside the band too (own)."""
STATION_BAND, SIZE_BAND, SIGNED_BAND = 0.02, 0.10, 2.0
"""Band where a style says nothing: heads of a station, share of a size, degrees of a tilt (own, as the check's tolerances)."""


LARGER = ("larger", "smaller")


@dataclass(frozen=True)
class Drawn:
    """One drawing of the set: its id, name, day it was made (ISO 8601, or empty) and its sure readings."""

    id: str
    name: str
    made: str
    values: Mapping[str, float]


@dataclass(frozen=True, eq=False)
class Trait:
    """What is planned of one reading, and how far a drawing may be from it."""

    key: str
    label: str
    kind: Kind
    plan: float
    band: float
    """Half its width, in the reading's own unit."""
    ways: tuple[str, str]
    """What more and less of it are called, where it is no station."""


@dataclass(frozen=True, eq=False)
class TraitDrift(Trait):
    values: Array
    """One a drawing, nan where it cannot be told."""
    mean: float
    sd: float
    """Of single drawings, with n − 1; nan for one."""
    change: float
    """From the first drawing to the last, along the trend; own unit."""
    p: float
    """How often chance alone would make such a trend; 1 where there are too few."""
    creeps: bool
    departs: tuple[int, ...]
    """Drawings that stand apart from the others and outside the band."""

    @property
    def off(self) -> float:
        """How far the mean is from the plan, in bands."""
        return (self.mean - self.plan) / self.band

    @property
    def weight(self) -> float:
        """What is told first: what creeps, then what is off on the whole, then what strays."""
        spread = 0.0 if np.isnan(self.sd) else self.sd / self.band
        return (
            2 * abs(self.change) / self.band * self.creeps
            + max(0.0, abs(self.off) - 0.5)
            + 0.3 * spread
            + 0.5 * len(self.departs)
        )


def band_of(key: str, plan: float, style: Style | None, points: Array) -> float:
    """Half the width that is let pass about a planned value: the style's own spread where it is known. ``points`` is the plan's face,
    heads, which says how long a small size is."""
    row = style.readings.get(key) if style is not None else None
    r = front_registry()[key]
    usual = {Kind.STATION: STATION_BAND, Kind.SIZE: SIZE_BAND * abs(plan)}.get(r.kind, SIGNED_BAND)
    if r.kind is Kind.SIZE:
        heads = abs(float(r.over.row(FRONT) @ np.nan_to_num(points).ravel()))
        usual = max(usual, LEAST_HEADS / heads * abs(plan)) if heads > 1e-6 else usual
    if row is None or row.sd is None or row.sd <= 0:
        return max(usual, 1e-9)
    return float(np.clip(STYLE_SPREADS * row.sd, LEAST * usual, MOST * usual))


def face_traits(plan: Mapping[str, float], points: Array, style: Style | None = None) -> tuple[Trait, ...]:
    """Every planned trait of a face; ``points`` is the plan's face, heads, ``(n, 2)``."""
    return tuple(
        Trait(r.key, r.label, r.kind, float(plan[r.key]), band_of(r.key, float(plan[r.key]), style, points), LARGER)
        for r in front_registry().of_role(Role.INDEPENDENT)
        if np.isfinite(plan.get(r.key, np.nan))
    )


def drifts(drawn: Sequence[Drawn], traits: Sequence[Trait]) -> tuple[TraitDrift, ...]:
    """Traits over a set of drawings in the order they were made; what matters most first."""
    if len(drawn) < FEWEST:
        return ()
    x = when(drawn)
    out = []
    for t in traits:
        values = np.array([d.values.get(t.key, np.nan) for d in drawn], float)
        if np.isfinite(values).sum() >= FEWEST:
            out.append(_one(t, x, values))
    return tuple(sorted(out, key=lambda t: -t.weight))


def when(drawn: Sequence[Drawn]) -> Array:
    """Where each drawing stands in time: days, where all have a day and not all the same; else their order."""
    days = [d.made[:10] for d in drawn]
    if all(days) and len(set(days)) > 1:
        return np.array([date.fromisoformat(d).toordinal() for d in days], float)
    return np.arange(len(drawn), dtype=float)


def _one(trait: Trait, x: Array, values: Array) -> TraitDrift:
    band = trait.band
    here = np.isfinite(values)
    v, t = values[here], x[here]
    change, p = 0.0, 1.0
    if len(v) >= FEWEST_TREND and np.ptp(t) > 0 and np.ptp(v) > 0:
        line = linregress(t, v)
        change, p = float(line.slope * np.ptp(t)), float(line.pvalue)
    creeps = p < CHANCE and abs(change) > HALF_BAND * band
    rest = values - (np.polyval(np.polyfit(t, v, 1), x) if creeps else float(np.median(v)))
    middle = 1.4826 * float(np.median(np.abs(rest[here])))
    departs = tuple(int(i) for i in np.flatnonzero(here & (np.abs(rest) > np.maximum(FAR * middle, band)))) if len(v) > 2 else ()
    sd = float(v.std(ddof=1)) if len(v) > 1 else float("nan")
    return TraitDrift(
        **vars(trait), values=values, mean=float(v.mean()), sd=sd, change=change, p=p, creeps=creeps, departs=departs
    )


def words_of(t: TraitDrift, drawn: Sequence[Drawn]) -> str:
    """“has crept up 0.030 heads since March”, “11 % wider than planned”, “steady”."""
    if t.creeps:
        return f"has crept {_amount(t, t.change)}{_since(drawn)}"
    if abs(t.off) > 1:
        return f"{_amount(t, t.mean - t.plan)} than planned, in all of them".replace("heads than planned", "heads from its plan")
    if t.departs:
        names = ", ".join(drawn[i].name for i in t.departs[:2])
        return f"departs on {names}" + (f" and {len(t.departs) - 2} more" if len(t.departs) > 2 else "")
    return "steady" if np.isnan(t.sd) or t.sd < 0.5 * t.band else "strays, but passes"


def _amount(t: TraitDrift, by: float) -> str:
    way = t.ways[0 if by > 0 else 1]
    if t.kind is Kind.STATION:
        return f"{'down' if by > 0 else 'up'} {abs(by):.3f} heads"
    if t.kind is Kind.SIZE:
        return f"{100 * abs(by) / max(abs(t.plan), 1e-9):.0f} % {way}"
    if not t.key.endswith("_deg"):
        return f"{abs(by):.3f} heads {way}"
    return f"{abs(by):.1f}° {'up' if by > 0 else 'down'}"


def _since(drawn: Sequence[Drawn]) -> str:
    first = drawn[0].made[:10]
    if not first or len({d.made[:10] for d in drawn}) < 2:
        return " from the first to the last"
    day = datetime.fromisoformat(first)
    return (
        f" since {day.strftime('%B')}"
        if day.year == datetime.fromisoformat(drawn[-1].made[:10]).year
        else f" since {day.strftime('%B %Y')}"
    )


def as_csv(rows: Sequence[TraitDrift], drawn: Sequence[Drawn]) -> str:
    """A line a trait: plan, band, mean, spread, trend, and every drawing's value."""
    import csv
    import io

    from ..export.table import safe

    out = io.StringIO()
    w = csv.writer(out)
    w.writerow(["trait", "words", "plan", "band", "mean", "sd", "change", "p", "departs", *(safe(d.name) for d in drawn)])
    w.writerow(["made", "", "", "", "", "", "", "", "", *(d.made[:10] for d in drawn)])
    for t in rows:
        cells = ["" if np.isnan(v) else f"{v:.5g}" for v in t.values]
        names = "; ".join(safe(drawn[i].name) for i in t.departs)
        numbers = [
            f"{t.plan:.5g}",
            f"{t.band:.3g}",
            f"{t.mean:.5g}",
            "" if np.isnan(t.sd) else f"{t.sd:.3g}",
            f"{t.change:.4g}",
            f"{t.p:.3g}",
        ]
        w.writerow([t.key, f"{t.label}: {words_of(t, drawn)}", *numbers, names, *cells])
    return out.getvalue()
