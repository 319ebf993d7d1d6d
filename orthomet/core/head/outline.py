"""The head's front outline from section tables: half width over the station.

A cranium arc (superellipse), straight cheek and jaw runs and a rounded chin cap, smoothed over
``u = arccos(1 − 2t)/π`` (so both poles stay round) and then made exact at the skull, cheek, jaw and chin stations.
Head units throughout: one head is 1, crown at 0, chin at 1. Table values are own, tried against adult heads.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..kinds import Array

SAMPLES = 241
SMOOTH = 0.017
"""Width of the smoothing in u."""
CRANIUM_POWER, CHIN_POWER = 2.15, 2.3
_U = np.linspace(0, 1, SAMPLES)
STATIONS = (1 - np.cos(np.pi * _U)) / 2


def _smoother() -> Array:
    """Gaussian smoothing as a matrix, with odd reflection at both poles."""
    n, sigma = SAMPLES, SMOOTH * (SAMPLES - 1)
    reach = int(4 * sigma) + 1
    k = np.exp(-0.5 * (np.arange(-reach, reach + 1) / sigma) ** 2)
    k /= k.sum()
    m = np.zeros((n, n))
    for i in range(n):
        for j, w in zip(range(i - reach, i + reach + 1), k, strict=True):
            if j < 0:
                m[i, 0] += 2 * w
                m[i, -j] -= w
            elif j >= n:
                m[i, n - 1] += 2 * w
                m[i, 2 * n - 2 - j] -= w
            else:
                m[i, j] += w
    return m


_SMOOTHER = _smoother()


KnotStations = tuple[float, float, float, float]


@dataclass(frozen=True)
class Knots:
    """Where the outline is exact: stations and half widths of skull, cheek, jaw and chin."""

    stations: KnotStations
    half: tuple[float, float, float, float]


def knot_stations(eye: float, nose: float, mouth: float, head_width: float) -> KnotStations:
    """Stations of skull, cheek, jaw and chin for a face's lines and its skull's width in heads."""
    skull = min(max(0.27 + 0.35 * (head_width - 0.655), 0.22), 0.36)
    cheek = min(max(eye + 0.27 * (nose - eye), skull + 0.16), 0.64)
    jaw = min(max(mouth + 0.012, cheek + 0.10), 0.87)
    chin = max(1 - 0.32 * (1 - mouth), jaw + 0.35 * (1 - jaw))
    return skull, cheek, jaw, min(chin, 0.985)


def knots(p: Mapping[str, float]) -> Knots:
    """Stations move with the plan: the cheek with eyes and nose, the jaw and chin with the mouth."""
    fw = p["face_width_hh"]
    return Knots(
        knot_stations(p["eye_station"], p["nose_base_station"], p["mouth_station"], p["head_width_hh"]),
        (p["head_width_hh"] / 2, fw / 2, p["jaw_width_fw"] * fw / 2, p["chin_width_fw"] * fw / 2),
    )


RESIDUALS = 17
"""Places down the outline, evenly in u, at which it may be another than the table's widths make it."""
RESIDUAL_U = np.linspace(0, 1, RESIDUALS + 2)[1:-1]
RESIDUAL_KEYS = tuple(f"outline_{k:02d}" for k in range(RESIDUALS))
"""In a plan's table: log of how many times as wide the outline is there. Not said: as the widths make it."""


def residual(p: Mapping[str, float]) -> tuple[float, ...]:
    """An outline's own departures out of a table; none where it says nothing of them."""
    return tuple(p[k] for k in RESIDUAL_KEYS) if RESIDUAL_KEYS[0] in p else ()


def half_width(p: Mapping[str, float]) -> Array:
    """Half width of the outline at every one of :data:`STATIONS`, shape ``(SAMPLES,)``, read-only."""
    return _half_width(knots(p), residual(p))


@lru_cache(maxsize=16)
def _half_width(k: Knots, own: tuple[float, ...] = ()) -> Array:
    (ts, tf, tj, tc), (cw, fw, jw, ch) = k.stations, k.half
    t = STATIONS
    rise = np.clip((ts - t) / ts, 0, 1)
    arc = cw * (1 - rise**CRANIUM_POWER) ** (1 / CRANIUM_POWER)
    tm, tn = (tf + tj) / 2, (tj + tc) / 2
    run = np.interp(
        t,
        [ts, ts + 0.35 * (tf - ts), tf - 0.04, tf + 0.03, tm, tj, tn, tc, 1],
        [cw, cw * 0.985, fw + 0.12 * (cw - fw), fw, (fw + jw) / 2 * 1.035, jw, ch + (jw - ch) * 0.62, ch, ch * 0.80],
    )
    start = tc - 0.25 * (1 - tc)
    cap = (1 - np.clip((t - start) / (1 - start), 0, 1) ** CHIN_POWER) ** (1 / CHIN_POWER)
    a = np.where(t < ts, arc, run) * cap
    a = np.maximum(_SMOOTHER @ a, 0)
    u = np.arccos(1 - 2 * np.array(k.stations)) / np.pi
    at = np.concatenate([[0], u, [1]])
    for smooth in (True, False):  # a smooth correction first; what is left to be exact is then too small to show
        ratio = np.array(k.half) / np.maximum(np.interp(u, _U, a), 1e-9)
        lift = np.interp(_U, at, np.concatenate([[ratio[0]], ratio, [ratio[-1]]]))
        a = a * (_SMOOTHER @ lift if smooth else lift)
        if smooth and own:
            a = a * np.exp(_departure(own))
    a[0] = a[-1] = 0.0
    a.flags.writeable = False
    return np.asarray(a)


def _departure(own: tuple[float, ...]) -> Array:
    """Log departures at every station, a smooth curve through the places they are given at."""
    return np.asarray(_basis() @ np.array(own))


@lru_cache(maxsize=1)
def _basis() -> Array:
    """What every place adds to the curve, ``(samples, places)``: the natural cubic spline is linear in what it goes through."""
    from scipy.interpolate import CubicSpline

    u = np.concatenate([[0.0], RESIDUAL_U, [1.0]])
    through = np.vstack([np.eye(RESIDUALS)[:1], np.eye(RESIDUALS), np.eye(RESIDUALS)[-1:]])
    return np.asarray(CubicSpline(u, through, bc_type="natural")(_U))


def departures(p: Mapping[str, float], half: Array) -> tuple[float, ...]:
    """What an outline of half widths at :data:`STATIONS` departs by from the one the table's widths make: log, at :data:`RESIDUAL_U`."""
    built = _half_width(knots(p), ())
    inner = slice(2, -2)
    off = np.log(np.maximum(half[inner], 1e-4) / np.maximum(built[inner], 1e-4))
    return tuple(round(float(np.clip(v, -MOST_DEPARTURE, MOST_DEPARTURE)), 4) for v in np.interp(RESIDUAL_U, _U[inner], off))


MOST_DEPARTURE = 0.7
DEPTH = 0.86
"""Brow ridge to the back of the skull, in heads (adult mean, from memory of Farkas 1994)."""
FRONT_SHARE = 0.483
"""Share of that depth that lies before the axis of the ears (own)."""


def head_depth(p: Mapping[str, float]) -> float:
    """Brow ridge to the back of the skull: a wider skull is deeper, within bounds."""
    return DEPTH * float(np.clip(0.5 + 0.5 * p["head_width_hh"] / 0.655, 0.85, 1.12))


def head_front(p: Mapping[str, float]) -> float:
    """From the axis of the ears forward to the brow ridge."""
    return FRONT_SHARE * head_depth(p)


def width_at(a: Array, station: float | Array) -> Array:
    """Half width at any station, from the table ``a`` of :func:`half_width`."""
    out: Array = np.interp(np.arccos(np.clip(1 - 2 * np.asarray(station, float), -1, 1)) / np.pi, _U, a)
    return out
