"""The space a plan lives in: its independent traits, and the limits that keep a face a face.

Coordinates: stations and signed traits as they are, sizes by logarithm. Every limit is ``Σ cᵢ·mᵢ(x) ≥ least`` with
``mᵢ`` a product of traits or the face's width at a station, so all rows and their slopes are two small products.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, cached_property

import numpy as np

from ..datafiles import Record, load_folder
from ..head.taper import taper
from ..kinds import Array, Kind
from ..proportions.registry import Reading, Role, front_registry


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

    @cached_property
    def keys(self) -> tuple[str, ...]:
        return tuple(t.key for t in self.traits)

    @cached_property
    def index(self) -> dict[str, int]:
        return {k: i for i, k in enumerate(self.keys)}

    @cached_property
    def in_registry(self) -> Array:
        """Each trait's place in the registry."""
        at = front_registry().index
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

    def room(self, x: Array) -> Array:
        """``h(x)`` alone: how far every limit is from binding, ``(rows,)``."""
        c, exponents, linear, least, tapers, has_linear = self._compiled
        m = np.exp(exponents @ x) * np.where(has_linear, x[linear], 1.0)
        if tapers:
            wj, wc = float(np.exp(x[self.index["jaw_width_fw"]])), float(np.exp(x[self.index["chin_width_fw"]]))
            for k, station in tapers:
                m[k] = taper(float(x[station]), wj, wc)[0]
        return c @ m - least

    def rows(self, x: Array) -> tuple[Array, Array]:
        """``h(x)`` (≥ 0 where a limit holds) and its slope, shapes ``(rows,)`` and ``(rows, traits)``."""
        c, exponents, linear, least, tapers, has_linear = self._compiled
        size = np.exp(exponents @ x)
        factor = np.where(has_linear, x[linear], 1.0)
        m = size * factor
        slope = m[:, None] * exponents
        at = np.flatnonzero(has_linear)
        slope[at, linear[at]] += size[at]
        if tapers:
            jaw, chin = self.index["jaw_width_fw"], self.index["chin_width_fw"]
            wj, wc = float(np.exp(x[jaw])), float(np.exp(x[chin]))
            for k, station in tapers:
                m[k], dt, dj, dc = taper(float(x[station]), wj, wc)
                slope[k] = 0
                slope[k, station], slope[k, jaw], slope[k, chin] = dt, dj * wj, dc * wc
        return c @ m - least, c @ slope

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
