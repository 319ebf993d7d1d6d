"""Measuring: landmarks → readings, for one face or for many at once.

A value is ``Π (aᵢ·p)/(bᵢ·p)`` over the levelled, flattened points ``p``; with ``angle`` it is ``atan2(a·p, b·p)`` in
degrees. A reading whose landmarks are not all there is nan ("not measured"); nothing is guessed.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..errors import FormatError
from ..kept import remembered
from ..kinds import Array, there
from ..landmarks.level import LevelBy, levelled
from ..landmarks.points import Landmarks, State, require_measurable, shared_in
from ..landmarks.stance import stands
from .registry import Registry, front_registry
from .views import registry_of


class _Compiled:
    """A registry's forms as matrices."""

    def __init__(self, registry: Registry):
        schema, readings = registry.schema, registry.readings
        one = np.zeros(2 * len(schema.names))
        pairs = list(dict.fromkeys(p for r in readings for q in r.quotients for f in q for p in f.lengths))
        self.ends = np.array([[schema.index[a], schema.index[b]] for a, b in pairs], int).reshape(-1, 2)
        depth = max(len(r.quotients) for r in readings)
        self.num = np.zeros((depth, len(readings), one.size))
        self.den = np.zeros_like(self.num)
        self.used = np.zeros((depth, len(readings)), bool)
        self.num_far = np.zeros((depth, len(readings), len(pairs)))
        self.den_far = np.zeros_like(self.num_far)
        self.needs = np.zeros((len(readings), len(schema.names)))
        for i, r in enumerate(readings):
            for k, (a, b) in enumerate(r.quotients):
                self.num[k, i], self.den[k, i], self.used[k, i] = a.row(schema), b.row(schema), True
                for form, table in ((a, self.num_far), (b, self.den_far)):
                    for pair, weight in form.lengths.items():
                        table[k, i, pairs.index(pair)] = weight
            for n in r.needs:
                self.needs[i, schema.index[n]] = 1
        self.angle = np.array([r.angle for r in readings])


@remembered(24)
def compiled(registry: Registry) -> _Compiled:
    """Matrices of a registry."""
    return _Compiled(registry)


def measure_array(xy: Array, registry: Registry | None = None, by: LevelBy = LevelBy.CENTRE) -> Array:
    """Readings of points ``(..., n, 2)`` in schema order → ``(..., readings)``; nan where not measured."""
    reg = registry or front_registry()
    m = compiled(reg)
    p = levelled(xy, by, reg.schema)
    missing = ~there(p)
    flat = np.where(missing[..., None], 0.0, p).reshape(*p.shape[:-2], -1)
    lacks = missing.astype(float) @ m.needs.T > 0
    with np.errstate(divide="ignore", invalid="ignore"):
        a, b = _sums(m, 0, flat, p)
        value = np.where(m.angle, np.degrees(np.arctan2(a, b)), a / b)
        for k in range(1, len(m.num)):
            more = np.divide(*_sums(m, k, flat, p))
            value = np.where(m.used[k], value * more, value)
    out: Array = np.where(lacks | ~np.isfinite(value), np.nan, value)
    return out


def _sums(m: _Compiled, k: int, flat: Array, p: Array) -> tuple[Array, Array]:
    """Numerators and denominators of the readings' quotients number ``k``."""
    a, b = flat @ m.num[k].T, flat @ m.den[k].T
    if len(m.ends):
        far = np.nan_to_num(np.linalg.norm(p[..., m.ends[:, 1], :] - p[..., m.ends[:, 0], :], axis=-1))
        a, b = a + far @ m.num_far[k].T, b + far @ m.den_far[k].T
    return a, b


@dataclass(frozen=True)
class Measured:
    """Readings of one face, in registry order. ``noise`` is each reading's uncertainty from the points' own spreads."""

    registry: Registry
    values: Array
    states: tuple[State | None, ...]
    noise: Array

    @cached_property
    def table(self) -> Mapping[str, float]:
        """Measured readings by key; those not measured are left out."""
        return {k: float(v) for k, v in zip(self.registry.keys, self.values, strict=True) if np.isfinite(v)}

    def value(self, key: str) -> float | None:
        v = self.values[self.registry.index[key]]
        return float(v) if np.isfinite(v) else None

    def state(self, key: str) -> State | None:
        """Worst state among the landmarks it rests on; ``None`` when it is not measured."""
        return self.states[self.registry.index[key]]

    def sure(self, key: str) -> bool:
        return self.state(key) is State.PLACED


def side_by_side(many: list[Measured]) -> tuple[Registry, Array]:
    """A registry all have in common and their sure values over it, shape ``(len(many), readings)``; nan where not sure.

    Own spans stay where all measure the same ones.

    Raises
    ------
    FormatError
        Different views, or nothing at all.
    """
    views = {m.registry.schema.view for m in many}
    if len(views) != 1:
        raise FormatError(
            "A face, a profile and a figure cannot be put together: use one view." if views else "There is no face."
        )
    first = many[0].registry
    reg = first if all(m.registry is first for m in many) else registry_of(views.pop())
    n = len(reg.readings)
    sure = np.array([[s is State.PLACED for s in m.states[:n]] for m in many])
    return reg, np.where(sure, np.array([m.values[:n] for m in many]), np.nan)


FLOOR = "floor"
_WORST: dict[State | None, int] = {State.PLACED: 0, State.HIDDEN: 1, State.ESTIMATED: 2}
_CODES = tuple(s for s in _WORST if s is not None)


def measure(marks: Landmarks, registry: Registry | None = None, by: LevelBy = LevelBy.CENTRE) -> Measured:
    """Measure one face.

    Raises
    ------
    LandmarkError
        Points that are not finite or lie on one spot, or a chin above the crown.
    """
    require_measurable(marks)
    reg = registry or registry_of(marks.view, marks.spans)
    xy = marks.array(reg.schema)
    values = measure_array(xy, reg, by)
    if marks.view == "figure" and not stands(xy, reg.schema):  # a seated figure's height is not its stature
        values = np.where([FLOOR in r.needs for r in reg.readings], np.nan, values)
    codes = np.array([_WORST[s] if (s := marks.state(n)) in _WORST else 0 for n in reg.schema.names])
    worst = (compiled(reg).needs * codes).max(1).astype(int)
    states = tuple(_CODES[w] if ok else None for w, ok in zip(worst.tolist(), np.isfinite(values).tolist(), strict=True))
    return Measured(
        reg, values, states, reading_noise(xy, marks.spreads(reg.schema), reg, by, values, shared_in(marks, reg.schema))
    )


def reading_noise(
    xy: Array, spread: Array, registry: Registry, by: LevelBy, values: Array | None = None, shared: Array | None = None
) -> Array:
    """One standard deviation of each reading when point ``i`` is uncertain by ``spread[i]`` pixels along both axes, and all points
    together by every one of the ``shared`` shifts ``(shifts, n, 2)``, one standard deviation each.

    First order: √(Σ (∂r/∂p · σ)² + Σ (∂r/∂shift)²), derivatives by small steps, for the uncertain points only.
    """
    v = measure_array(xy, registry, by) if values is None else values
    loose = np.flatnonzero((spread > 0) & there(xy))
    by_shift = _by_shift(xy, registry, by, v, shared)
    if not len(loose):
        return np.sqrt(by_shift)
    step = 1e-4 * float(np.nanmax(np.ptp(xy[there(xy)], axis=0)))
    moved = np.repeat(xy[None], 2 * len(loose), 0)
    k = np.arange(2 * len(loose))
    moved[k, loose[k // 2], k % 2] += step
    slope = (measure_array(moved, registry, by) - v) / step
    out: Array = np.sqrt(np.nansum((slope * spread[loose][k // 2, None]) ** 2, axis=0) + by_shift)
    return out


def _by_shift(xy: Array, registry: Registry, by: LevelBy, values: Array, shared: Array | None) -> Array:
    """What shared shifts add to the variance of every reading."""
    if shared is None or not len(shared):
        return np.zeros(len(registry.readings))
    slope = (measure_array(xy + SHARE * shared, registry, by) - values) / SHARE
    return np.asarray(np.nansum(slope**2, axis=0))


SHARE = 1e-3
"""The part of a shift that is tried for its slope."""


def missing_for(marks: Landmarks, key: str, registry: Registry | None = None) -> list[str]:
    """Landmarks a reading still lacks, in placing order."""
    reg = registry or registry_of(marks.view, marks.spans)
    needs = reg[key].needs
    return [n for n in reg.schema.names if n in needs and marks.state(n) in (None, State.ABSENT)]
