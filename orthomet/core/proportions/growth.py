"""How the body grows: heads tall, lengths, widths and girths of the figure by age, smooth and monotone between the table's ages."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

from ..curves import pchip
from ..datafiles import Record, load_folder
from ..kinds import Kind, backward, forward
from .registry import Registry


class GrowthRow(Record):
    values: tuple[float, ...]
    source: str


class GrowthTable(Record):
    """Readings of the figure at ``years``, in their own units; the last column is the grown figure."""

    name: str
    source: str
    heads_source: str
    years: tuple[float, ...]
    heads: tuple[float, ...]
    rows: dict[str, GrowthRow]


@cache
def growth() -> GrowthTable:
    return load_folder("orthomet.core.proportions.growth_data", GrowthTable)["growth"]


def _at(values: tuple[float, ...], age: float) -> float:
    years = growth().years
    return float(pchip(years, values)(min(max(age, years[0]), years[-1])))


def heads_tall(age: float) -> float:
    """How many heads tall a person of this age, in years, usually is (source: the growth table's ``heads_source``).

    >>> round(heads_tall(10), 1)
    6.3
    """
    return _at(growth().heads, age)


def figure_of_age(age: float, adult: Mapping[str, float], registry: Registry) -> dict[str, float]:
    """Readings of the figure at an age, from an adult norm's means: ``g(mean) = g(adult) + g(at the age) − g(grown)``."""
    out = {"heads_tall": heads_tall(age)}
    for key, row in growth().rows.items():
        if key in adult and key in registry.index:
            kind: Kind = registry[key].kind
            shift = forward(kind, _at(row.values, age)) - forward(kind, row.values[-1])
            out[key] = float(backward(kind, forward(kind, adult[key]) + shift))
    return out
