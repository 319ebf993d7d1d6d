"""From a character's references to what is measured: the page made flat, the lens undone, the turn undone, photos pooled."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from .features.expression import NEUTRAL, expressions, weaker
from .head.rest import at_rest
from .imaging.rectify import homography, to_page
from .kinds import Array, backward, forward, there
from .landmarks.level import LevelBy, levelled
from .landmarks.own import OwnSpan
from .landmarks.points import Landmarks, State, from_array
from .landmarks.register import fit
from .landmarks.schema import FRONT
from .landmarks.turn import from_distance, shared_errors, undone
from .landmarks.views import SCHEMAS
from .project.model import Character, Drawing, Reference
from .proportions.measure import Measured, measure
from .proportions.norms import Norm, by_kind, norm_over
from .proportions.registry import Registry, Role
from .proportions.views import registry_of

WORN = 2.5
"""A trait that differs between photos by more than this many expected spreads is worn rather than built (own)."""
BETWEEN = 0.35
"""What two careful readings of one unchanged face differ by, in spreads of the norm (own estimate)."""


def flat(source: Reference | Drawing, spans: tuple[OwnSpan, ...] = ()) -> Landmarks:
    """Landmarks on the flat page: as they are, or in millimetres where the sheet's corners are known."""
    marks = source.marks.landmarks(source.image.size, spans)
    if source.sheet is None or not marks.points:
        return marks
    names = list(marks.points)
    xy = np.array([marks.points[n] for n in names], float)
    page = to_page(xy, source.sheet.corners, source.sheet.mm)
    scale = _scale(xy, page)
    points = {n: (float(x), float(y)) for n, (x, y) in zip(names, page, strict=True)}
    return replace(marks, points=points, spread={n: s * scale for n, s in marks.spread.items()}, size=None)


@dataclass(frozen=True)
class OnPage:
    """Landmarks on the flat page, in pixels of about the picture's size; ``back`` is the homography to the picture, 3 × 3."""

    marks: Landmarks
    back: Array
    px_per_mm: float | None


def on_page(source: Reference | Drawing, spans: tuple[OwnSpan, ...] = ()) -> OnPage:
    """A drawing made flat for checking. Where no corners are known everything is as it is on the picture.

    Raises
    ------
    PictureError
        The corners are not a page's.
    """
    marks = flat(source, spans)
    if source.sheet is None or not marks.points:
        return OnPage(marks, np.eye(3), None)
    there = source.marks.points
    names = list(marks.points)
    mm = np.array([marks.points[n] for n in names], float)
    k = 1 / _scale(np.array([there[n] for n in names], float), mm)
    points = {n: (float(x), float(y)) for n, (x, y) in zip(names, mm * k, strict=True)}
    w, h = source.sheet.mm
    corners = np.array([[0, 0], [w, 0], [w, h], [0, h]], float) * k
    level = replace(marks, points=points, spread=dict(source.marks.spread))
    return OnPage(level, homography(corners, np.array(source.sheet.corners, float)), k)


def _scale(before: Array, after: Array) -> float:
    a, b = (float(np.linalg.norm(p - p.mean(0))) for p in (before, after))
    return b / a if a > 0 else 1.0


def straight(marks: Landmarks, distance_m: float | None = None) -> Landmarks:
    """A front face as it is seen head-on from afar: its own turn and a near lens undone, what that leaves uncertain in its spreads."""
    turn = marks.turn
    if marks.view != "front" or not marks.points or (turn is None and distance_m is None):
        return marks if turn is None else replace(marks, turn=None)
    schema = marks.schema
    xy: Array = marks.array()
    spread, shared = marks.spreads(), None
    if distance_m is not None:
        xy = from_distance(xy, distance_m, schema)
    if turn is not None:
        shared = shared_errors(xy, turn, schema)
        xy = undone(xy, turn, schema)[0]
        spread = spread / max(float(np.cos(np.radians(turn.yaw))), 0.1)  # across, a pixel of a turned face counts for more
    new = from_array(xy, schema, states=marks.states, size=None, spans=marks.spans, shared=shared, undone=turn)
    return replace(new, spread={n: float(s) for n, s in zip(schema.names, spread, strict=True) if s > 0 and n in new.points})


def straightened(ref: Reference, spans: tuple[OwnSpan, ...] = ()) -> Landmarks:
    """Landmarks of a reference with page, distance and turn undone, and brought to rest where it makes a face."""
    marks = straight(replace(flat(ref, spans), turn=ref.turn), ref.distance_m)
    return rested(marks, ref.expression, ref.degree, ref.level_by) if ref.expression else marks


def rested(marks: Landmarks, name: str, degree: float = 1.0, by: LevelBy = LevelBy.CENTRE) -> Landmarks:
    """A front face's landmarks with the expression it makes taken out; the same where the expression or too much of the face is unknown."""
    known = expressions().get(name)
    if known is None or known == NEUTRAL or degree <= 0 or marks.view != "front" or not marks.points:
        return marks
    xy = levelled(marks.array(FRONT), by)
    calm = at_rest(xy, weaker(known, degree))
    if calm is None:
        return marks
    back = fit(xy[there(xy)], marks.array(FRONT)[there(xy)])  # levelling only turned and shifted it
    new = back(calm)
    points = {n: (float(new[i, 0]), float(new[i, 1])) for n, i in FRONT.index.items() if np.isfinite(new[i]).all()}
    return replace(marks, points={**marks.points, **points})


def measure_reference(ref: Reference, spans: tuple[OwnSpan, ...] = ()) -> Measured:
    """Readings of one reference; one that is not marked yet has none.

    Raises
    ------
    LandmarkError
    """
    return measure(straightened(ref, spans), by=ref.level_by)


def profile_of(references: tuple[Reference, ...]) -> Reference | None:
    """The first reference whose profile is marked."""
    return next((r for r in references if r.marks.view == "profile" and r.marks.points), None)


def head_mm(ref: Reference | Drawing) -> float | None:
    """True height of the head on a sheet whose size is known, millimetres."""
    marks = flat(ref)
    if ref.sheet is None or "vertex" not in marks.points or "gnathion" not in marks.points:
        return None
    a, b = np.array(marks.points["vertex"]), np.array(marks.points["gnathion"])
    return float(np.linalg.norm(b - a))


VAGUE = 0.02
"""Uncertainty up to which a reading that has no norm is trusted, in its own unit (own)."""


def trusted(m: Measured, against: Norm) -> Array:
    """Which readings of a turned head can still be trusted, shape ``(readings,)``: those known more closely than people
    differ, by what undoing the turn leaves uncertain of each and by its points' own spreads.
    """
    return np.isfinite(m.values) & (m.noise <= np.where(np.isfinite(against.sd), against.sd, VAGUE))


@dataclass(frozen=True)
class Pooled:
    """Several references taken together. Arrays in registry order; ``spread`` in the transform's unit, nan below two."""

    measured: Measured
    count: Array
    spread: Array
    worn: tuple[str, ...]
    """Readings that change between the photos more than careful measuring does."""


def pool(character: Character, view: str = "front") -> Pooled | None:
    """Mean over the references of one view, each for the trait groups it feeds; ``None`` where there is none."""
    refs = [r for r in character.references if r.marks.view == view and r.marks.points]
    if not refs:
        return None
    reg = registry_of(view, character.spans)
    each = [measure_reference(r, character.spans) for r in refs]
    sure = np.array([[_counts(m, reg, i, r) for i in range(len(reg.readings))] for m, r in zip(each, refs, strict=True)])
    any_sure: Array = np.asarray(sure.any(0))
    loose = np.array([[_feeds(r, reg, i) for i in range(len(reg.readings))] for r in refs])
    use = np.where(any_sure, sure, loose)
    g = np.where(use, by_kind(reg, forward, np.array([m.values for m in each])), np.nan)
    n = np.isfinite(g).sum(0)
    total = np.nansum(g, 0)
    mean = np.where(n > 0, total / np.maximum(n, 1), np.nan)
    left = np.nansum((g - mean) ** 2, 0)
    spread = np.where(n > 1, np.sqrt(left / np.maximum(n - 1, 1)), np.nan)
    noise = np.sqrt(np.nansum(np.where(np.isfinite(g), np.array([m.noise for m in each]) ** 2, 0), 0)) / np.maximum(n, 1)
    against = norm_over("adult", reg)
    with np.errstate(invalid="ignore"):
        odd = spread > WORN * BETWEEN * against.g_sd
    worn = tuple(r.key for r, o in zip(reg.readings, odd, strict=True) if o and r.role is not Role.BALANCE)
    values = by_kind(reg, backward, mean)
    states = tuple(
        None if not np.isfinite(v) else State.PLACED if s else State.ESTIMATED for v, s in zip(values, any_sure, strict=True)
    )
    return Pooled(Measured(reg, values, states, noise), n, spread, worn)


def _feeds(ref: Reference, reg: Registry, i: int) -> bool:
    return not ref.feeds or reg.readings[i].group in ref.feeds


def _counts(m: Measured, reg: Registry, i: int, ref: Reference) -> bool:
    return _feeds(ref, reg, i) and m.states[i] is State.PLACED


def groups(view: str = "front") -> tuple[str, ...]:
    """Trait groups a reference of this view can feed."""
    if view not in SCHEMAS:
        return ()
    return tuple(dict.fromkeys(r.group for r in registry_of(view).readings if r.role is not Role.BALANCE))
