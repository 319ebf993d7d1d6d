"""What a check compares: lengths in heads, one row per thing that can be off, each with its tolerance.

After registration every reading's length is a linear form over the landmarks, so all differences are one product. Rows
that measure the same length in another unit (eyes across, thirds) are not repeated.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache, cached_property
from typing import TYPE_CHECKING, NamedTuple

import numpy as np

from ..datafiles import Record, load_folder
from ..kinds import Array, Kind, there
from ..landmarks.schema import FRONT
from ..proportions.registry import Reading, Role, Tolerance, front_registry

if TYPE_CHECKING:
    from ..styles.library import Style


class Rule(Record):
    """Tolerance ``clip(share·|length|, low, high)`` in heads."""

    share: float
    low: float
    high: float
    say: str


class ToleranceTable(Record):
    name: str
    source: str
    rules: dict[str, Rule]
    noise: float
    """How well an ordinary hand marks a point, one standard deviation in heads."""
    noise_factor: float
    noise_say: str


@cache
def tolerance_table() -> ToleranceTable:
    return load_folder("orthomet.core.check.data", ToleranceTable)["tolerances"]


@dataclass(frozen=True)
class Row:
    """One compared length: a reading, or (with ``sides``) the left–right difference of a pair's size."""

    key: str
    rule: str
    form: Array
    needs: Array
    sides: tuple[str, str] | None = None


class Sided(NamedTuple):
    """Rows that compare two sides: which they are, both sides' own readings and forms; and every row's key."""

    keys: Array
    at: Array
    pairs: Array
    """``(pairs, 2)`` keys."""
    forms: Array
    """``(pairs, 2, 2n)``."""


@dataclass(frozen=True, eq=False)
class Rows:
    rows: tuple[Row, ...]
    forms: Array
    needs: Array

    @cached_property
    def sided(self) -> Sided:
        reg = front_registry()
        pairs = [r.sides for r in self.rows if r.sides is not None]
        forms = np.array([[reg[k].over.row(FRONT) for k in pair] for pair in pairs])
        return Sided(
            np.array([r.key for r in self.rows], object),
            np.array([i for i, r in enumerate(self.rows) if r.sides is not None], int),
            np.array(pairs, object).reshape(-1, 2),
            forms.reshape(-1, 2, 2 * len(FRONT.names)),
        )


_FIRST = {Role.INDEPENDENT: 0, Role.DERIVED: 1, Role.OBSERVED: 2, Role.BALANCE: 3}
"""A length that several readings share is told by the planned one."""


@cache
def face_rows() -> Rows:
    reg = front_registry()
    rows: list[Row] = []
    seen: set[bytes] = set()
    for r in sorted(reg.readings, key=lambda r: _FIRST[r.role]):
        if r.tolerance is Tolerance.NONE or r.pair:
            continue
        form = r.over.row(FRONT)
        mark = np.round(form, 9).tobytes()
        if mark in seen or not form.any():
            continue
        seen.add(mark)
        rows.append(Row(r.key, r.tolerance, form, _needs(r)))
    for r in reg.readings:
        if r.side == "l" and r.tolerance is not Tolerance.NONE:
            other = reg[r.pair]
            form = r.over.row(FRONT) - other.over.row(FRONT)
            rows.append(Row(r.key, "side", form, _needs(r) | _needs(other), (r.key, other.key)))
    return Rows(tuple(rows), np.array([r.form for r in rows]), np.array([r.needs for r in rows]))


def _needs(r: Reading) -> Array:
    out = np.zeros(len(FRONT.names), bool)
    out[[FRONT.index[n] for n in r.over.needs]] = True
    return out


def lengths(points: Array, rows: Rows) -> Array:
    """Every row's length in heads; nan where a landmark is missing."""
    missing = ~there(points)
    out = rows.forms @ np.where(missing[:, None], 0.0, points).ravel()
    out[(rows.needs & missing).any(1)] = np.nan
    return np.asarray(out)


STYLE_SPREADS, LEAST, MOST = 2.0, 0.5, 2.0
"""How many of a style's own spreads pass; and the bounds of that, as shares of the usual tolerance (own)."""


def style_spreads(style: Style | None) -> tuple[tuple[str, float], ...]:
    """What a style is known to stray by, one standard deviation by reading: a share of a size, heads of a station."""
    reg = front_registry()
    out = []
    for key, row in (style.readings if style is not None else {}).items():
        if row.sd and key in reg.index and (row.n is None or row.n >= FEWEST):
            kind = reg[key].kind
            share = row.sd / abs(row.mean) if kind is Kind.SIZE and row.mean else row.sd if kind is Kind.STATION else 0.0
            if share > 0:
                out.append((key, float(share)))
    return tuple(out)


FEWEST = 4
"""Drawings a style's spread is learned from before it counts (own)."""


def tolerances(plan: Array, rows: Rows, noise: Array, spreads: Mapping[str, float] | None = None) -> Array:
    """Tolerance of every row in heads; where a style's own spread is known (:func:`style_spreads`) it decides. ``noise`` is each landmark's uncertainty in heads, schema order: ``(n,)``, or ``(n, 2)``
    where it differs across and down."""
    table = tolerance_table()
    reg = front_registry()
    base = np.abs(lengths(plan, rows))
    out = np.empty(len(rows.rows))
    for i, r in enumerate(rows.rows):
        rule = table.rules[r.rule]
        size = base[i]
        if r.sides:
            form = reg[r.sides[0]].over.row(FRONT) + reg[r.sides[1]].over.row(FRONT)
            size = abs(float(form @ np.nan_to_num(plan).ravel())) / 2
        out[i] = np.clip(rule.share * size, rule.low, rule.high)
        own = (spreads or {}).get(r.key)
        if own is not None and not r.sides:
            wide = STYLE_SPREADS * own * (size if reg[r.key].kind is Kind.SIZE else 1.0)
            out[i] = np.clip(wide, LEAST * out[i], MOST * out[i])
    per_coordinate = np.repeat(noise, 2) if noise.ndim == 1 else noise.ravel()
    out = np.fmax(out, table.noise_factor * np.sqrt((rows.forms**2) @ per_coordinate**2))
    return np.asarray(out)
