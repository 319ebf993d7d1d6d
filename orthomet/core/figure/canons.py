"""Canons: figures whose readings and form go together, by name or by age, of any number of heads, more masculine or more feminine."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from ..curves import pchip
from ..datafiles import Record, load_folder
from ..errors import FormatError, UnknownName, quoted
from ..kinds import Array, backward, forward
from ..proportions.growth import figure_of_age
from ..proportions.norms import norm
from ..proportions.registry import front_registry
from ..proportions.views import figure_registry
from ..proportions.youth import youth_of_age
from .build import JOINTED, OF_READING, Form
from .choices import BY_AGE, FEWEST, MOST

PLANNED = (*OF_READING, "neck_hw")


class CanonRow(Record):
    title: str
    note: str
    stature: float
    """True height against the measured adult's."""
    limbs: str
    school: str
    source: str
    readings: dict[str, float]
    form: dict[str, float]
    face: float
    """Youth of the face that belongs on it."""
    hair: str
    """The hairstyle it is shown with."""


class CanonTable(Record):
    name: str
    source: str
    canons: dict[str, CanonRow]
    years: tuple[float, ...]
    grown: dict[str, tuple[float, ...]]
    """Form by age, over ``years``."""


@dataclass(frozen=True)
class Canon:
    """A figure everybody's is read against: planned readings and form."""

    name: str
    title: str
    note: str
    readings: Mapping[str, float]
    form: Form
    limbs: str = JOINTED
    school: str = ""
    source: str = ""
    stature: float = 1.0
    face: float = 0.0
    hair: str = ""

    @property
    def heads(self) -> float:
        return self.readings["heads_tall"]


@cache
def _table() -> CanonTable:
    return load_folder("orthomet.core.figure.canons_data", CanonTable)["canons"]


@cache
def named() -> dict[str, Canon]:
    """Canons of the library by name, in their order."""
    return {
        k: Canon(
            k, c.title, c.note, c.readings, Form().with_values(c.form), c.limbs, c.school, c.source, c.stature, c.face, c.hair
        )
        for k, c in _table().canons.items()
    }


AGES = (1, 5, 10, 15)
"""Ages that are offered by name."""


def canon_names() -> list[str]:
    """Every name :func:`canon` knows that is worth a list: the library's, then some ages."""
    return [*named(), *(f"age:{a}" for a in AGES)]


def age_of(name: str) -> float | None:
    """The age a canon's name gives (``age:8``), if it gives one.

    Raises
    ------
    FormatError
        It is no number of years from 0 to 150.
    """
    if not name.startswith(f"{BY_AGE}:"):
        return None
    try:
        age = float(name.partition(":")[2])
    except ValueError:
        age = float("nan")
    if not 0 <= age <= 150:
        raise FormatError(f"An age is a number of years from 0 to 150; {quoted(name.partition(':')[2])} is not.")
    return age


@cache
def canon(name: str) -> Canon:
    """A canon by name, ``age:N`` for the measured body of an age.

    Raises
    ------
    UnknownName, FormatError
        There is none of this name.
    """
    age = age_of(name)
    if age is not None:
        return at_age(age)
    try:
        return named()[name]
    except KeyError:
        raise UnknownName("canon", name, canon_names()) from None


@cache
def at_age(age: float) -> Canon:
    """The measured body of an age: all lengths, widths and girths go along, smooth in between."""
    grown = named()["measured"]
    reg = figure_registry()
    known = {k: v for k, v in grown.readings.items() if k in reg.index}
    found = dict(grown.readings) | {k: v for k, v in figure_of_age(age, known | _follows(known), reg).items() if k in PLANNED}
    leg = figure_of_age(age, {"thigh_hh": 1.85, "shin_hh": 1.79}, reg)
    found["leg_balance"] = leg["thigh_hh"] / leg["shin_hh"]
    face, at = norm(f"age:{age:g}").mean, front_registry().index
    found |= {"head_width_hh": float(face[at["head_width_hh"]]), "neck_hw": float(face[at["neck_width_hw"]])}
    years = _table().years
    year = float(np.clip(age, years[0], years[-1]))
    form = Form().with_values({k: float(pchip(years, v)(year)) for k, v in _table().grown.items()})
    title = "Measured, 1 year" if age == 1 else f"Measured, {age:g} years"
    stature = found["heads_tall"] * head_m(age) / (grown.heads * head_m(30))
    note = "An ordinary person of this age."
    hair = "cropped" if age < 3 or age > 15 else "bowl"
    return Canon(f"age:{age:g}", title, note, found, form, JOINTED, "", "the growth table", stature, youth_of_age(age), hair)


def _follows(known: Mapping[str, float]) -> dict[str, float]:
    return {"thigh_hh": 1.85, "shin_hh": 1.79, "acromion_hh": 0.85 * known["shoulder_hh"], "crotch_station_fig": 0.53}


def head_m(age: float) -> float:
    """Head height of an age in metres, for a line-up (from memory of growth references for head circumference, times 0.407)."""
    return float(pchip([0, 1, 2, 5, 10, 15, 18], [0.142, 0.187, 0.196, 0.208, 0.217, 0.227, 0.231])(np.clip(age, 0, 18)))


@cache
def _by_heads() -> tuple[Array, dict[str, Array]]:
    """Figures from squat to tall, as logarithms of their readings over heads tall: what a change of heads alone does."""
    row = [named()["two-heads"], at_age(1), at_age(5), at_age(10), named()["measured"], named()["classical"]]
    heads = np.array([c.heads for c in row])
    return heads, {k: np.log([c.readings[k] for c in row]) for k in PLANNED}


def _series(key: str, heads: float) -> float:
    """Logarithm of a reading at a number of heads, continued straight past the ends of the series."""
    at, rows = _by_heads()
    x, low, high = np.log(heads), np.log(at[0]), np.log(at[-1])
    curve = pchip(np.log(at), rows[key])
    if x < low:
        return float(rows[key][0] + (x - low) * (rows[key][1] - rows[key][0]) / (np.log(at[1]) - low))
    if x > high:
        return float(rows[key][-1] + (x - high) * 0.6 * (rows[key][-1] - rows[key][-2]) / (high - np.log(at[-2])))
    return float(curve(x))


MOST_TRUNK = 0.68
"""Share of a figure below its chin that neck, trunk and ankles may take (own): the rest is legs."""
OFF_FLOOR = 0.9
"""Share of the way from the shoulders to the floor that hanging arms may take (own)."""
KEPT = ("head_width_hh", "neck_hw")
"""The head's own: they do not change with the heads a body is tall."""


def with_heads(c: Canon, heads: float) -> Canon:
    """The same canon of another number of heads: lengths, widths and girths go along as they do from squat to tall figures."""
    heads = min(max(heads, FEWEST), MOST)
    if abs(heads - c.heads) < 1e-9:
        return c
    readings = {
        k: v if k in KEPT or k == "leg_balance" else float(v * np.exp(_series(k, heads) - _series(k, c.heads)))
        for k, v in c.readings.items()
    }
    readings["heads_tall"] = heads
    return replace(c, readings=_standing(readings))


def _standing(r: dict[str, float]) -> dict[str, float]:
    """Readings of a figure that has legs: where neck, trunk and ankles would leave none they give way together."""
    below = r["heads_tall"] - 1
    used = r["neck_length_hh"] + r["trunk_hh"] + r["ankle_height_hh"]
    if used > MOST_TRUNK * below:
        k = MOST_TRUNK * below / used
        r = r | {key: r[key] * k for key in ("neck_length_hh", "trunk_hh", "ankle_height_hh")}
    arms = ("upper_arm_hh", "forearm_hh", "hand_hh")
    hangs, room = sum(r[key] for key in arms), OFF_FLOOR * (below - r["neck_length_hh"])
    return r if hangs <= room else r | {key: r[key] * room / hangs for key in arms}


def with_feminine(c: Canon, feminine: float) -> Canon:
    """The same canon, more masculine (0) or more feminine (1): shoulders, waist, hips, girths and the form, less the younger it is."""
    share = (min(max(feminine, 0.0), 1.0) - c.form.feminine) * _grown_up(c)
    a, b = named()["masculine"].readings, named()["feminine"].readings
    reg = figure_registry()
    readings = dict(c.readings)
    for key in PLANNED:
        if key not in (*KEPT, "heads_tall", "leg_balance"):
            kind = reg[key].kind
            step = float(forward(kind, b[key]) - forward(kind, a[key]))
            readings[key] = float(backward(kind, forward(kind, readings[key]) + share * step))
    neck = float(np.log(b["neck_hw"] / a["neck_hw"]))
    readings["neck_hw"] *= float(np.exp(share * neck))
    f, g = named()["masculine"].form, named()["feminine"].form
    moved = {
        k: getattr(c.form, k) + share * (getattr(g, k) - getattr(f, k)) for k in ("bust", "softness", "slope", "muscle", "seat")
    }
    moved["bust"] = max(moved["bust"], 0.0)
    return replace(c, readings=readings, form=c.form.with_values(moved | {"feminine": feminine}))


def _grown_up(c: Canon) -> float:
    """0 for a small child's proportions, 1 for a grown figure's: before that the two hardly differ (common practice)."""
    return float(np.clip((c.heads - 5.0) / 2.2, 0.0, 1.0)) if c.name.startswith(BY_AGE) else 1.0
