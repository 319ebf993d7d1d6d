"""Norms: the values a reading is compared with, and how far people usually spread about them."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np

from ..datafiles import Record, load_folder
from ..errors import UnknownName
from ..kinds import Array, Kind, forward, spread
from .registry import Registry, front_registry


class NormRow(Record):
    norm: float
    sd: float
    source: str


class BalanceRow(Record):
    norm: float
    sd: float
    gaze_sd: float
    source: str


class NormTable(Record):
    name: str
    title: str
    source: str
    balance: BalanceRow
    readings: dict[str, NormRow]


@dataclass(frozen=True)
class Norm:
    """A norm laid out over a registry: means and spreads in registry order, nan where the table has no row."""

    name: str
    title: str
    note: str
    mean: Array
    sd: Array
    sources: tuple[str, ...]
    g_mean: Array
    """Means in the transform of each reading's kind."""
    g_sd: Array


@cache
def tables() -> dict[str, NormTable]:
    return load_folder("orthomet.core.proportions.data", NormTable)


def _row(table: NormTable, key: str) -> NormRow | None:
    if key in table.readings:
        return table.readings[key]
    b = table.balance
    if key.startswith("gaze"):
        return NormRow(norm=b.norm, sd=b.gaze_sd, source=b.source)
    if key.startswith(("level_", "centre_", "offset_", "feature_offset")):
        return NormRow(norm=b.norm, sd=b.sd, source=b.source)
    return None


def by_kind(registry: Registry, op: object, *columns: Array) -> Array:
    """Apply a function of (kind, columns…) to each kind's own rows."""
    out = np.full(columns[0].shape, np.nan)
    kinds = np.array([r.kind for r in registry.readings])
    for kind in Kind:
        at = kinds == kind
        if at.any():
            out[..., at] = op(kind, *(c[..., at] for c in columns))  # type: ignore[operator]
    return out


def lay_out(table: NormTable, registry: Registry) -> Norm:
    rows = [_row(table, k) for k in registry.keys]
    mean = np.array([r.norm if r else np.nan for r in rows])
    sd = np.array([r.sd if r else np.nan for r in rows])
    sources = tuple(r.source if r else "" for r in rows)
    return Norm(
        table.name, table.title, table.source, mean, sd, sources,
        by_kind(registry, forward, mean), by_kind(registry, spread, mean, sd),
    )  # fmt: skip


@cache
def norm(name: str = "adult") -> Norm:
    """A norm of the library over the front registry.

    Raises
    ------
    UnknownName
        No table of that name.
    """
    known = tables()
    if name not in known:
        raise UnknownName("norm", name, list(known))
    return lay_out(known[name], front_registry())


def z_scores(values: Array, against: Norm, registry: Registry) -> Array:
    """Spreads from the norm, by kind; nan where a value is missing, has no norm or cannot be compared."""
    out: Array = (by_kind(registry, forward, values) - against.g_mean) / against.g_sd
    return out
