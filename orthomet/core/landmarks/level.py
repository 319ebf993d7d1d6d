"""Levelling: undo the roll of a head before anything is measured."""

from __future__ import annotations

import warnings
from enum import StrEnum

import numpy as np

from ..kinds import Array, there
from .schema import FRONT, Schema


class LevelBy(StrEnum):
    CENTRE = "centre"  # the line from crown to chin becomes the plumb line
    EYES = "eyes"  # the line through both eyes becomes the level line


_MIDLINE = ("vertex", "trichion", "glabella", "nasion", "pronasale", "subnasale", "stomion", "sublabiale", "gnathion")


def _down_direction(xy: Array, schema: Schema) -> Array:
    """Unit vector down the centre line, shape ``(..., 2)``: the first and last midline points that are there."""
    line = xy[..., [schema.index[n] for n in _MIDLINE], :]
    here = there(line)
    first = here.argmax(-1)
    last = len(_MIDLINE) - 1 - here[..., ::-1].argmax(-1)
    a = np.take_along_axis(line, first[..., None, None], -2)[..., 0, :]
    b = np.take_along_axis(line, last[..., None, None], -2)[..., 0, :]
    d = np.where((here.sum(-1) >= 2)[..., None], b - a, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(d / np.linalg.norm(d, axis=-1, keepdims=True))


def facing(xy: Array, schema: Schema) -> Array:
    """Which way a profile looks, shape ``(...)``: 1 to the picture's right, -1 to its left (1 where nothing tells)."""
    front = xy[..., [schema.index[n] for n in ("glabella", "pronasale", "subnasale", "pogonion")], 0]
    back = xy[..., [schema.index[n] for n in ("tragion", "opisthocranion", "gonion", "neck_back")], 0]
    with np.errstate(invalid="ignore"), warnings.catch_warnings():
        warnings.simplefilter("ignore", RuntimeWarning)
        ahead = np.nanmean(front, -1) - np.nanmean(back, -1)
    return np.where(np.isfinite(ahead) & (ahead < 0), -1.0, 1.0)


def _across_direction(xy: Array, schema: Schema) -> Array:
    """Unit vector from the character's right eye to the left one, shape ``(..., 2)``."""
    at = {n: xy[..., schema.index[n], :] for n in schema.names if n.startswith(("endocanthion", "exocanthion"))}
    d = at["endocanthion_l"] + at["exocanthion_l"] - at["endocanthion_r"] - at["exocanthion_r"]
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(d / np.linalg.norm(d, axis=-1, keepdims=True))


def roll_of(xy: Array, by: LevelBy = LevelBy.CENTRE, schema: Schema = FRONT) -> Array:
    """Clockwise roll of the head in radians, shape ``(...)``; falls back to the other line, then to 0.

    A profile and a figure are measured as they stand: 0.
    """
    if schema.view != "front":
        return np.zeros(xy.shape[:-2])
    down = _down_direction(xy, schema)
    across = _across_direction(xy, schema)
    from_centre = np.arctan2(-down[..., 0], down[..., 1])
    from_eyes = np.arctan2(across[..., 1], across[..., 0])
    first, second = (from_centre, from_eyes) if by is LevelBy.CENTRE else (from_eyes, from_centre)
    out: Array = np.nan_to_num(np.where(np.isfinite(first), first, second))
    return out


def levelled(xy: Array, by: LevelBy = LevelBy.CENTRE, schema: Schema = FRONT) -> Array:
    """Points ``(..., n, 2)`` turned about the origin so that the head stands plumb; a profile is made to look right."""
    if schema.view == "profile":
        return np.asarray(xy * np.stack([facing(xy, schema), np.ones(xy.shape[:-2])], -1)[..., None, :])
    if schema.view != "front":
        return xy
    a = roll_of(xy, by, schema)
    c, s = np.cos(a), np.sin(a)
    turn = np.stack([np.stack([c, -s], -1), np.stack([s, c], -1)], -2)
    out: Array = xy @ turn
    return out
