"""The youth index J of a trait (adult 0, infant 1, extreme stylisation 2), and the norm of an age.

Piecewise linear in J, geometric for sizes above 1 where a straight line would run below nothing. The face of an age is
the youth table's row at the J whose heads tall match that age.
"""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

import numpy as np

from ..datafiles import Record, load_folder
from .growth import heads_tall
from .registry import Rule
from .views import every_reading


class YouthRow(Record):
    adult: float
    infant: float
    extreme: float
    source: str


class YouthTable(Record):
    name: str
    source: str
    rows: dict[str, YouthRow]


@cache
def youth() -> YouthTable:
    return load_folder("orthomet.core.proportions.youth_data", YouthTable)["youth"]


def at_youth(key: str, j: float) -> float:
    """Value of a trait at youth index ``j``, 0 ≤ j ≤ 2."""
    r = youth().rows[key]
    if j <= 1:
        return r.adult + j * (r.infant - r.adult)
    if min(r.infant, r.extreme) > 0 and every_reading()[key].rule is not Rule.STATION:
        return float(r.infant * (r.extreme / r.infant) ** (j - 1))
    return r.infant + (j - 1) * (r.extreme - r.infant)


def youth_of_age(age: float) -> float:
    """J of an age: where the table's heads tall are those of the age; above 1 for the very youngest."""
    heads = heads_tall(age)
    j = np.linspace(0, 2, 401)
    tall = np.array([at_youth("heads_tall", v) for v in j])
    return float(np.interp(-heads, -tall, j))


MOVES_WITH = {
    "brow_station": "eye_station", "glabella_station": "eye_station", "ear_top_station": "eye_station",
    "hairline_station": "eye_station", "nose_base_station": "mouth_station", "ear_bottom_station": "mouth_station",
}  # fmt: skip
"""Stations that keep their adult distance from another one (own; the hairline half of it)."""


def face_of_age(age: float, adult: Mapping[str, float]) -> dict[str, float]:
    """Readings that differ from the adult's at an age, from an adult norm's means."""
    return face_of_youth(youth_of_age(age), adult)


def face_of_youth(j: float, adult: Mapping[str, float]) -> dict[str, float]:
    """Readings that differ from the adult's at a youth index, from an adult norm's means.

    What the youth table says; the mouth lies a chin above 1; brow, ears and nose base keep the adult's distance from eyes
    or mouth; the nose root lies a nose above its base.
    """
    own = ("chin_hh", "heads_tall")
    out = {k: adult[k] * at_youth(k, j) / youth().rows[k].adult for k in youth().rows if k in adult and k not in own}
    out["eye_station"] = adult["eye_station"] + at_youth("eye_station", j) - youth().rows["eye_station"].adult
    chin = at_youth("chin_hh", j)
    out |= {"chin_hh": chin, "mouth_station": 1 - chin}
    for key, lead in MOVES_WITH.items():
        if key in adult:
            out[key] = adult[key] + (0.5 if key == "hairline_station" else 1.0) * (out[lead] - adult[lead])
    out["nasion_station"] = out["nose_base_station"] - out["nose_length_hh"]
    return out
