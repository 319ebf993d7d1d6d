"""Norms: the values a reading is compared with, and how far people usually spread about them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np

from ..datafiles import Record, load_folder
from ..errors import FormatError, UnknownName, quoted
from ..kept import remembered
from ..kinds import Array, Kind, backward, forward, spread
from .follow import Row, rows_of
from .growth import figure_of_age, growth
from .registry import UNEVENNESS, Reading, Registry, Rule, front_registry
from .youth import face_of_age, youth


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


def _row(table: NormTable, r: Reading) -> NormRow | None:
    if r.key in table.readings:
        return table.readings[r.key]
    b = table.balance
    if r.rule is Rule.GAZE:
        return NormRow(norm=b.norm, sd=b.gaze_sd, source=b.source)
    if r.rule in (*UNEVENNESS, Rule.BLOCK):
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
    rows = [_row(table, r) for r in registry.readings]
    mean = np.array([r.norm if r else np.nan for r in rows])
    sd = np.array([r.sd if r else np.nan for r in rows])
    sources = tuple(r.source if r else "" for r in rows)
    return Norm(
        table.name, table.title, table.source, mean, sd, sources,
        by_kind(registry, forward, mean), by_kind(registry, spread, mean, sd),
    )  # fmt: skip


def norm_over(name: str, registry: Registry) -> Norm:
    """A norm by name over any registry; own spans have none.

    Raises
    ------
    UnknownName, FormatError
    """
    return _by_name(name, registry)


def norm(name: str = "adult") -> Norm:
    """A norm over the front registry: ``adult``, or ``age:10`` for the youth table's row at that age.

    Raises
    ------
    UnknownName
        No such norm.
    FormatError
        An age that is no number of years.
    """
    return norm_over(name, front_registry())


@remembered(64)
def _by_name(name: str, registry: Registry) -> Norm:
    known, name = tables(), name.casefold()
    if name in known:
        return lay_out(known[name], registry)
    if name.startswith("age:"):
        return at_age(_age(name[4:]), registry)
    raise UnknownName("norm", name, [*known, "age:YEARS"])


def _age(text: str) -> float:
    try:
        age = float(text)
    except ValueError:
        age = float("nan")
    if not 0 <= age <= 150:
        raise FormatError(f"An age is a number of years from 0 to 150; {quoted(text)} is not.")
    return age


def with_means(name: str, title: str, note: str, means: Mapping[str, float], registry: Registry, source: str) -> Norm:
    """The adult's norm with other means for some readings of any view; all that follows from them follows
    (:mod:`.follow`), in means and spreads. Sizes keep their relative spread, the others their own.
    """
    adult = lay_out(tables()["adult"], registry)
    rows = rows_of(registry, adult_rows(), means)
    mean, sd, sources = adult.mean.copy(), adult.sd.copy(), list(adult.sources)
    for i, key in enumerate(registry.keys):
        row = rows.get(key)
        if row is not None and np.isfinite(mean[i]):
            sources[i] = source if row.mean != mean[i] else sources[i]
            mean[i], sd[i] = row.mean, row.sd
    return Norm(
        name, title, note, mean, sd, tuple(sources), by_kind(registry, forward, mean), by_kind(registry, spread, mean, sd)
    )  # fmt: skip


@cache
def adult_rows() -> dict[str, Row]:
    """The adult's rows of all views by key."""
    return {k: Row(r.norm, r.sd) for k, r in tables()["adult"].readings.items()}


def at_age(age: float, registry: Registry) -> Norm:
    """The norm of an age, from 0 years to grown up, of any view."""
    adult = {k: r.mean for k, r in adult_rows().items()}
    means = face_of_age(age, adult) | figure_of_age(age, adult, registry)
    title = f"{age:g} years old" if age != 1 else "1 year old"
    note = f"An ordinary person at {title.removesuffix(' old')}. One population's averages, approximate. Not an ideal."
    source = growth().source if registry.schema.view == "figure" else youth().source
    return with_means(f"age:{age:g}", title, note, means, registry, source)


def cast_mean(tables_of: list[Mapping[str, float]], registry: Registry) -> Norm:
    """The mean of a cast's own readings, each compared in its kind; where nobody is measured the adult's stands.

    Raises
    ------
    FormatError
        Nobody is measured.
    """
    if not any(tables_of):
        raise FormatError("Nobody in the cast is measured yet, so there is no mean of it.")
    rows = np.array([[t.get(k, np.nan) for k in registry.keys] for t in tables_of])
    g = by_kind(registry, forward, rows)
    n = np.isfinite(g).sum(0)
    mean = by_kind(registry, backward, np.where(n > 0, np.nansum(g, 0) / np.maximum(n, 1), np.nan))
    means = {k: float(v) for k, v in zip(registry.keys, mean, strict=True) if np.isfinite(v)}
    note = f"The mean of {len([t for t in tables_of if t])} measured faces of this cast; spreads are the adult's."
    return with_means("cast", "mean of the cast", note, means, registry, "measured in this project")


def z_scores(values: Array, against: Norm, registry: Registry) -> Array:
    """Spreads from the norm, by kind; nan where a value is missing, has no norm or cannot be compared."""
    out: Array = (by_kind(registry, forward, values) - against.g_mean) / against.g_sd
    return out
