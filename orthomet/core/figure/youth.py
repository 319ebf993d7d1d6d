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


def known_youth(values: Mapping[str, float]) -> dict[str, float | None]:
    """Youth by part; nothing where nothing of a part is known."""
    return {part.value: _of_part(part, {k: youth_of(k, float(v)) for k, v in values.items() if k in table()}) for part in Part}


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
    found = {}
    for part in Part:
        j = _of_part(part, each)
        if j is None:
            names = ", ".join(k for k, r in table().items() if r.part is part)
            raise OrthometError(f"To judge head against body at least one of these is needed: {names}.")
        found[part] = j
    return Youth(found[Part.FACE], found[Part.WIDTH], found[Part.LENGTH], each)


def _of_part(part: Part, each: Mapping[str, float]) -> float | None:
    """The weighted mean of a part's traits."""
    eyes = [each[k] for k in EYES if k in each]
    keys = [k for k in each if table()[k].part is part and k != EYES[1]]
    if part is Part.FACE and eyes and EYES[0] not in keys:
        keys.append(EYES[1])
    if not keys:
        return None
    weight = sum(table()[k].weight for k in keys)
    return sum(table()[k].weight * (max(eyes) if k in EYES else each[k]) for k in keys) / weight
