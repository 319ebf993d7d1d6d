"""Youth in a picture of three: of the face, of the body's widths, of its length. Adult 0, infant 1, extreme stylisation 2.

Piecewise linear in each trait; beyond 2 geometric for sizes (a straight line would run below nothing), below 0 straight on.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from math import exp, log

from ..datafiles import Record, load_folder
from ..errors import OrthometError


class Part(StrEnum):
    FACE = "face"
    WIDTH = "width"
    LENGTH = "length"


class MatchRow(Record):
    adult: float
    infant: float
    extreme: float
    weight: float
    part: Part
    source: str


class MatchTable(Record):
    name: str
    source: str
    rows: dict[str, MatchRow]


STATION = "eye_station"
EYES = ("eye_width_fw", "eye_height_hh")
"""Eyes count once: by whichever of the two reads younger."""
SMALLEST = 1e-3


@cache
def table() -> dict[str, MatchRow]:
    return load_folder("orthomet.core.figure.match_data", MatchTable)["match"].rows


def youth_of(key: str, value: float) -> float:
    """How young one trait reads."""
    r = table()[key]
    a, b, c = r.adult, r.infant, r.extreme
    if key != STATION:
        value = max(value, SMALLEST)
        if (value - c) * (c - b) > 0:
            return 2 + log(value / c) / log(c / b)
    if (value - b) * (c - a) <= 0:
        return (value - a) / (b - a)
    return 1 + (value - b) / (c - b)


def value_at(key: str, j: float) -> float:
    """The value of a trait that reads so young; inverse of :func:`youth_of`."""
    r = table()[key]
    if j > 2 and key != STATION:
        return r.extreme * exp((j - 2) * log(r.extreme / r.infant))
    v = r.adult + (r.infant - r.adult) * j if j <= 1 else r.infant + (r.extreme - r.infant) * (j - 1)
    return max(v, SMALLEST)


@dataclass(frozen=True)
class Youth:
    """Youth indices, and by trait."""

    face: float
    width: float
    length: float
    traits: Mapping[str, float]


def measure_youth(values: Mapping[str, float]) -> Youth:
    """Youth of a figure's readings; ``values`` may hold more than what counts.

    Raises
    ------
    OrthometError
        Nothing is known of the face, of the widths or of the length.
    """
    each = {k: youth_of(k, float(v)) for k, v in values.items() if k in table()}
    eyes = [each[k] for k in EYES if k in each]
    found = {}
    for part in Part:
        keys = [k for k in each if table()[k].part is part and k != "eye_height_hh"]
        if part is Part.FACE and eyes and EYES[0] not in keys:
            keys.append(EYES[1])
        if not keys:
            names = ", ".join(k for k, r in table().items() if r.part is part)
            raise OrthometError(f"To judge head against body at least one of these is needed: {names}.")
        weight = sum(table()[k].weight for k in keys)
        found[part] = sum(table()[k].weight * (max(eyes) if k in EYES else each[k]) for k in keys) / weight
    return Youth(found[Part.FACE], found[Part.WIDTH], found[Part.LENGTH], each)
