"""The space a plan lives in: its independent traits, and the limits that keep a face a face (or a body a body).

Coordinates: stations and signed traits as they are, sizes by logarithm. Every limit is ``Σ cᵢ·mᵢ(x) ≥ least`` with
``mᵢ`` a product of traits or the face's width at a station, so all rows and their slopes are two small products.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, field
from functools import cache, cached_property

import numpy as np

from ..datafiles import Record, load_folder
from ..head.outline import knot_stations
from ..head.taper import taper
from ..kinds import Array, Kind
from ..proportions.registry import Reading, Registry, Role, front_registry

SHAPE = (
    "eye_station", "nose_base_station", "mouth_station", "head_width_hh", "face_width_hh", "jaw_width_fw", "chin_width_fw",
)  # fmt: skip
"""Traits the head's outline follows."""
STEP = 1e-6
"""Step of the slopes of the outline's width."""


class LimitRow(Record):
    name: str
    say: str
    terms: list[tuple[float, str]]
    least: float
    either: str
    """Rows that share this word are alternatives: one of them has to hold."""
    order: bool
    """Part of the order hairline < brow < eye < nose base < mouth < chin: only the reference may break it."""


class Bound(Record):
    low: float
    high: float


class LimitTable(Record):
    name: str
    source: str
    rows: list[LimitRow]
    bounds: dict[str, Bound]


@dataclass(frozen=True)
class Space:
    """Independent traits in registry order and the limits over them."""

    traits: tuple[Reading, ...]
    table: LimitTable
    registry: Registry = field(default_factory=front_registry)

    @cached_property
    def keys(self) -> tuple[str, ...]:
        return tuple(t.key for t in self.traits)

    @cached_property
    def index(self) -> dict[str, int]:
        return {k: i for i, k in enumerate(self.keys)}

    @cached_property
    def in_registry(self) -> Array:
        """Each trait's place in the registry."""
        at = self.registry.index
        return np.array([at[k] for k in self.keys])

    @cached_property
    def is_size(self) -> Array:
        return np.array([t.kind is Kind.SIZE for t in self.traits])

    @cached_property
    def is_station(self) -> Array:
        return np.array([t.kind is Kind.STATION for t in self.traits])

    def encode(self, values: Array) -> Array:
        """Trait values → coordinates (log of sizes)."""
        v = np.array(values, float)
        v[..., self.is_size] = np.log(v[..., self.is_size])
        return v

    def decode(self, x: Array) -> Array:
        v = np.array(x, float)
        v[..., self.is_size] = np.exp(v[..., self.is_size])
        return v

    def encoded_sd(self, mean: Array, sd: Array) -> Array:
        return np.where(self.is_size, sd / mean, sd)

    @cached_property
    def bounds(self) -> tuple[Array, Array]:
        low = np.array([self.table.bounds[k].low for k in self.keys])
        high = np.array([self.table.bounds[k].high for k in self.keys])
        return self.encode(low), self.encode(high)

    @cached_property
    def _compiled(self) -> tuple[Array, Array, Array, Array, list[tuple[int, int]], Array]:
        """(coefficients by row and term, log exponents by term and trait, linear factor by term, least, tapers, is-linear)."""
        names = list(dict.fromkeys(t for r in self.table.rows for _, t in r.terms))
        n = len(self.keys)
        exponents, linear, tapers = np.zeros((len(names), n)), np.full(len(names), -1), []
        for k, name in enumerate(names):
            if name.startswith("W("):
                tapers.append((k, self.index[name[2:-1]]))
                continue
            for key in name.split("*"):
                i = self.index[key]
                if self.is_size[i]:
                    exponents[k, i] += 1
                else:
                    linear[k] = i
        c = np.zeros((len(self.table.rows), len(names)))
        for r, row in enumerate(self.table.rows):
            for v, name in row.terms:
                c[r, names.index(name)] = v
        least = np.array([r.least for r in self.table.rows])
        return c, exponents, linear, least, tapers, linear >= 0

    @cached_property
    def _shape(self) -> Array:
        """Places of the traits that shape the outline, in the order :meth:`_width` takes them."""
        return np.array([self.index[k] for k in SHAPE])

    @staticmethod
    def _width(which: int, v: list[float]) -> float:
        """The face's width at the station ``v[which]``; ``v`` are the traits of :data:`SHAPE`, sizes by logarithm."""
        eye, nose, mouth, head, face, jaw, chin = v
        skull, fw = math.exp(head), math.exp(face)
        return taper(v[which], knot_stations(eye, nose, mouth, skull), skull / fw, math.exp(jaw), math.exp(chin))

    def _eased(self, ease: Array | None) -> tuple[Array, Array]:
        """Coefficients and least values, what speaks for a limit multiplied by its ``ease``."""
        c, _, _, least, _, _ = self._compiled
        if ease is None:
            return c, least
        return np.where(c > 0, c * ease[:, None], c), np.where(least < 0, least * ease, least)

    def _terms(self, x: Array) -> Array:
        _, exponents, linear, _, tapers, has_linear = self._compiled
        m = np.exp(exponents @ x) * np.where(has_linear, x[linear], 1.0)
        if tapers:
            v = x[self._shape].tolist()
            for k, station in tapers:
                m[k] = self._width(SHAPE.index(self.keys[station]), v)
        return np.asarray(m)

    def room(self, x: Array, ease: Array | None = None) -> Array:
        """``h(x)`` alone: how far every limit is from binding, ``(rows,)``; ``ease`` is a factor per limit, 1 or more."""
        c, least = self._eased(ease)
        return c @ self._terms(x) - least

    def sides(self, x: Array) -> tuple[Array, Array]:
        """What speaks for every limit at ``x`` and what against it: it holds while the first is not less, ``(rows,)`` each."""
        c, _, _, least, _, _ = self._compiled
        m = self._terms(x)
        return np.maximum(c, 0) @ m + np.maximum(-least, 0), np.maximum(-c, 0) @ m + np.maximum(least, 0)

    def rows(self, x: Array, ease: Array | None = None) -> tuple[Array, Array]:
        """``h(x)`` (≥ 0 where a limit holds) and its slope, shapes ``(rows,)`` and ``(rows, traits)``."""
        _, exponents, linear, _, tapers, has_linear = self._compiled
        c, least = self._eased(ease)
        size = np.exp(exponents @ x)
        factor = np.where(has_linear, x[linear], 1.0)
        m = size * factor
        slope = m[:, None] * exponents
        at = np.flatnonzero(has_linear)
        slope[at, linear[at]] += size[at]
        v = x[self._shape].tolist() if tapers else []
        for k, station in tapers:
            which = SHAPE.index(self.keys[station])
            m[k] = self._width(which, v)
            slope[k] = 0
            for i, place in enumerate(self._shape.tolist()):
                there = v.copy()
                there[i] += STEP
                slope[k, place] = (self._width(which, there) - m[k]) / STEP
        return c @ m - least, c @ slope

    @cached_property
    def relative(self) -> Array:
        """Limits that compare sizes with sizes: what breaks one is told as a ratio, ``(rows,)`` of bool."""
        _, _, linear, _, _, has_linear = self._compiled
        names = list(dict.fromkeys(t for r in self.table.rows for _, t in r.terms))
        place = {names[k] for k in range(len(names)) if has_linear[k] and self.is_station[linear[k]]}
        return np.array([not any(t in place for _, t in r.terms) for r in self.table.rows])

    @cached_property
    def alternatives(self) -> tuple[tuple[int, ...], ...]:
        groups: dict[str, list[int]] = {}
        for i, r in enumerate(self.table.rows):
            if r.either:
                groups.setdefault(r.either, []).append(i)
        return tuple(tuple(g) for g in groups.values())


@cache
def face_space() -> Space:
    table = load_folder("orthomet.core.plan.data", LimitTable)["face"]
    return Space(front_registry().of_role(Role.INDEPENDENT), table)
