"""Norms that hold together: from a norm's independent readings, all the others by the readings' own forms.

A face is laid out from the independent means and measured: what follows from them (nose root, eyes across, one side's
eye) is then what that face reads. What nothing follows for (the gap between the brows, a temple) moves as far as it
moves on that face. Spreads go the same way: ``sd = adult's · √Σ(∂r/∂xᵢ·sdᵢ)² / √Σ(∂r/∂xᵢ·sdᵢ)²|adult``, so that what the
adult's table knows of how readings move together stays.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np

from ..head.points import plan_points
from ..kinds import Array, Kind, backward, forward
from ..landmarks.templates import template
from .measure import measure_array
from .registry import Reading, Registry, Role, front_registry
from .views import figure_registry, profile_registry

STEP = 1e-5


@dataclass(frozen=True)
class Row:
    """A reading's mean and spread in its own unit."""

    mean: float
    sd: float


Rows = Mapping[str, Row]


@cache
def _independent() -> tuple[str, ...]:
    return tuple(r.key for r in front_registry().of_role(Role.INDEPENDENT))


def _face(means: Mapping[str, float]) -> Array:
    """Every front reading of the face laid out from independent means, registry order."""
    return measure_array(plan_points(means), front_registry())


def _reach(means: Mapping[str, float], sds: Mapping[str, float]) -> tuple[Array, Array]:
    """Spread of every front reading, ``(readings,)``, when each independent one varies for itself; and what each of them
    moves, ``(independent, readings)`` of bool.
    """
    here = _face(means)
    by_each = np.array([(_face({**means, k: means[k] + STEP * sds[k]}) - here) / STEP for k in _independent()])
    by_each = np.nan_to_num(by_each)
    return np.sqrt((by_each**2).sum(0)), np.abs(by_each) > 1e-9


def front_rows(adult: Rows, chosen: Mapping[str, float]) -> dict[str, Row]:
    """All front readings of a norm that is the adult's but for ``chosen`` means.

    Independent readings are taken as chosen; sizes keep their relative spread. What follows from any chosen one follows; a
    derived reading that is chosen itself stands only where nothing chosen says more.
    """
    reg, keys = front_registry(), _independent()
    a = {k: adult[k].mean for k in keys}
    means = {k: chosen.get(k, v) for k, v in a.items()}
    sds = {k: adult[k].sd * (means[k] / a[k] if reg[k].kind is Kind.SIZE else 1.0) for k in keys}
    v0, v1 = _face(a), _face(means)
    s0, _ = _reach(a, {k: adult[k].sd for k in keys})
    s1, follows = _reach(means, sds)
    moved = np.array([k in chosen for k in keys])
    out = {k: Row(means[k], sds[k]) for k in keys}
    for i, r in enumerate(reg.readings):
        if r.key in out or r.key not in adult:
            continue
        led = bool((follows[:, i] & moved).any())
        if r.role is Role.OBSERVED:
            out[r.key] = _with_mean(r, adult[r.key], chosen.get(r.key, _shifted(r, adult[r.key], v0[i], v1[i])))
        elif led and np.isfinite(v1[i]):
            wider = float(s1[i] / s0[i]) if s0[i] > 1e-12 else 1.0
            out[r.key] = Row(float(v1[i]), adult[r.key].sd * wider)
        elif r.key in chosen:
            out[r.key] = _with_mean(r, adult[r.key], chosen[r.key])
        else:
            out[r.key] = adult[r.key]
    return out


def _shifted(r: Reading, adult: Row, before: float, after: float) -> float:
    """The adult's mean moved as far as a reading moves from one face to another, in its kind's transform."""
    shift = float(forward(r.kind, after) - forward(r.kind, before))
    return float(backward(r.kind, forward(r.kind, adult.mean) + shift)) if np.isfinite(shift) else adult.mean


def _with_mean(r: Reading, adult: Row, mean: float) -> Row:
    """Another mean; a size keeps its relative spread, anything else its own."""
    return Row(mean, adult.sd * (mean / adult.mean if r.kind is Kind.SIZE and adult.mean > 0 else 1.0))


LINES = ("hairline_station", "brow_station", "nasion_station", "eye_station", "nose_base_station", "mouth_station")


def _profile(front: Mapping[str, float]) -> Array:
    """Profile readings of the template with its heights moved to a front norm's lines, registry order."""
    xy = template(profile_registry().schema).copy()
    names = profile_registry().schema.names
    points = ("trichion", "brow_peak", "nasion", "exocanthion", "subnasale", "stomion")
    at = [0.0, *(float(xy[names.index(n), 1]) for n in points), 1.0]
    to = [0.0, *(front[k] for k in LINES), 1.0]
    order = np.argsort(at)
    xy[:, 1] = np.where(
        (xy[:, 1] >= 0) & (xy[:, 1] <= 1),
        np.interp(xy[:, 1], np.array(at)[order], np.maximum.accumulate(np.array(to)[order])),
        xy[:, 1],
    )
    for n, key in (("superaurale", "ear_top_station"), ("subaurale", "ear_bottom_station")):
        xy[names.index(n), 1] = front[key]
    return measure_array(xy, profile_registry())


def profile_rows(adult: Rows, front: Rows, chosen: Mapping[str, float]) -> dict[str, Row]:
    """All profile readings: those it shares with the front as there, the rest as far as the lines move them."""
    v0 = _profile({k: r.mean for k, r in adult.items()})
    v1 = _profile({k: r.mean for k, r in front.items()})
    out = {}
    for i, r in enumerate(profile_registry().readings):
        if r.key in front:
            out[r.key] = front[r.key]
        elif r.key in adult:
            out[r.key] = _with_mean(r, adult[r.key], chosen.get(r.key, _shifted(r, adult[r.key], v0[i], v1[i])))
    return out


@cache
def _composed() -> dict[str, tuple[str, str]]:
    """Figure readings that are one other by another: key → (over, by)."""
    rows = figure_registry().readings
    out = {}
    for r in rows:
        over, by = r.quotients[0]
        a = next((q for q in rows if q is not r and q.quotients[0][0] == over), None)
        b = next((q for q in rows if q is not r and q.quotients[0][0] == by), None)
        if a is not None and b is not None and a.quotients[0][1] == b.quotients[0][1]:
            out[r.key] = (a.key, b.key)
    return out


def figure_rows(adult: Rows, chosen: Mapping[str, float]) -> dict[str, Row]:
    """All figure readings; those that are one by another follow from the two."""
    reg, out = figure_registry(), {}
    for r in reg.readings:
        if r.key in adult:
            out[r.key] = _with_mean(r, adult[r.key], chosen.get(r.key, adult[r.key].mean))
    for key, (a, b) in _composed().items():
        if key in out and (a in chosen or b in chosen):
            out[key] = _with_mean(reg[key], adult[key], out[a].mean / out[b].mean)
    return out


def rows_of(registry: Registry, adult: Rows, chosen: Mapping[str, float]) -> dict[str, Row]:
    """Rows of a norm over any view's registry, from the adult's rows of all views and what is chosen instead."""
    view = registry.schema.view
    if view == "figure":
        return figure_rows(adult, chosen)
    front = front_rows(adult, chosen)
    return front if view == "front" else profile_rows(adult, front, chosen)
