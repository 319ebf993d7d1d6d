"""The plan: decisions applied to a measured reference, made feasible, and scored."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property, partial

import numpy as np

from ..head.outline import RESIDUAL_KEYS
from ..head.points import Asymmetry, plan_points
from ..kept import remembered
from ..kinds import Array
from ..proportions.measure import Measured, measure_array
from ..proportions.norms import Norm, norm
from ..proportions.registry import UNEVENNESS, Registry, Role, front_registry
from ..styles.library import Style, style
from .decisions import Decisions
from .feasible import Active, Allowance, allow, decree, nearest_feasible
from .passed_on import asked_of_derived, passed_on
from .scores import Likeness, NoticedKept, likeness, noticed_kept, style_score
from .space import Space, face_space

NOTICED = 5


@dataclass(frozen=True)
class Limit:
    """One limit the plan met, in words, and the trait that pays most for it."""

    words: str
    share: float
    pays: str
    asked: float
    got: float


@dataclass(frozen=True)
class Plan:
    """A feasible plan. Arrays are in the order of ``space.keys`` unless they say otherwise."""

    space: Space
    traits: Array
    raw: Array
    reference: Array
    centre: Array
    assumed: tuple[str, ...]
    limits: tuple[Limit, ...]
    likeness: Likeness
    style: float | None
    noticed: tuple[str, ...]
    kept: NoticedKept
    asymmetry: Asymmetry = field(default_factory=Asymmetry)
    outline: tuple[float, ...] = ()
    """What the head's outline departs by from what its widths make of it."""

    @cached_property
    def points(self) -> Array:
        """The plan's own landmarks in head units (x about the midline, y the station), schema order."""
        return plan_points(self.table, self.asymmetry)

    @property
    def measured(self) -> bool:
        """Whether any trait of a reference steers this plan; without one there is no likeness to speak of."""
        return len(self.assumed) < len(self.space.keys)

    @property
    def registry(self) -> Registry:
        return front_registry()

    @cached_property
    def table(self) -> Mapping[str, float]:
        return dict(zip(self.space.keys, self.traits.tolist(), strict=True)) | dict(zip(RESIDUAL_KEYS, self.outline))

    @cached_property
    def values(self) -> Array:
        """Every reading of the registry, planned ones and those that follow; nan where the plan says nothing."""
        reg = front_registry()
        out = measure_array(self.points, reg)
        out[np.array([r.role is Role.OBSERVED for r in reg.readings])] = np.nan
        out[self.space.in_registry] = self.traits
        return out


class Basis:
    """Norm and style laid out over the space: what does not change while a reference or a decision is dragged."""

    def __init__(self, against: Norm, toward: Style):
        space = self.space = face_space()
        at = space.in_registry
        self.mean, self.g_mean, self.g_sd = against.mean[at], against.g_mean[at], against.g_sd[at]
        self.sd = space.encoded_sd(self.mean, against.sd[at])
        self.style = np.array(
            [toward.readings[k].mean if k in toward.readings else m for k, m in zip(space.keys, self.mean, strict=True)]
        )
        self.g_style = space_forward(space, self.style)
        self.x_mean, self.x_style = space.encode(self.mean), space.encode(self.style)
        self.allowance = decree(space, [self.x_mean, self.x_style])
        self.groups = tuple(t.group for t in space.traits)


def basis(against: Norm | str, toward: Style) -> Basis:
    """The basis of a norm and a style."""
    mu = norm(against) if isinstance(against, str) else against
    return _basis(mu, toward)


@remembered(48)
def _basis(mu: Norm, toward: Style) -> Basis:
    return Basis(mu, toward)


def space_forward(space: Space, values: Array) -> Array:
    """Transform of every trait by its kind, in one pass."""
    station, v = space.is_station, np.array(values, float)
    c = np.clip(v[station], 1e-6, 1 - 1e-6)
    v[station] = np.log(c / (1 - c))
    with np.errstate(invalid="ignore", divide="ignore"):
        v[space.is_size] = np.where(v[space.is_size] > 0, np.log(np.abs(v[space.is_size])), np.nan)
    return v


def space_backward(space: Space, g: Array) -> Array:
    station, v = space.is_station, np.array(g, float)
    v[station] = 1 / (1 + np.exp(-v[station]))
    v[space.is_size] = np.exp(v[space.is_size])
    return v


def make_plan(
    measured: Measured,
    decisions: Decisions,
    noticed: tuple[str, ...] = (),
    toward: Style | None = None,
    against: Norm | None = None,
) -> Plan:
    """Apply the decisions to a measured reference.

    Traits whose landmarks are missing are planned at the centre and named in ``assumed``. ``noticed`` are the artist's
    own five, by key; without them the five most unusual sure readings are used. ``toward`` and ``against``
    are the style and the norm where they are not the library's.
    """
    base = basis(against or decisions.norm, toward or style(decisions.style))
    space = base.space
    ref = measured.values[space.in_registry]
    g_ref = space_forward(space, ref)
    seen = np.isfinite(g_ref)
    s = np.array([decisions.weight_of(g) for g in base.groups])
    e = np.array([decisions.emphasis_of(k) for k in space.keys])
    o = np.array([decisions.offsets.get(k, 0.0) for k in space.keys])
    aged = np.array([decisions.centre.get(k, 0.0) for k in space.keys])
    g_centre = (1 - s) * base.g_mean + s * base.g_style + aged
    d = np.where(seen, g_ref - base.g_mean, 0.0)
    g_raw = g_centre + e * d + o
    asked = asked_of_derived(decisions)
    if asked:
        back = partial(space_backward, space)
        g_raw = passed_on(space, asked, g_raw, g_centre, base.g_mean, g_ref, base.g_sd, back)
    if not decisions.overlap:
        gap = space.index["eye_gap_ew"]
        g_raw[gap] = g_raw[gap] if seen[gap] and ref[gap] < 0 else max(g_raw[gap], 0.0)
    centre, raw = space_backward(space, g_centre), space_backward(space, g_raw)
    as_it_is = seen & (e == 1) & (s == 0) & (o == 0) & (aged == 0) & (not asked)
    plain = np.where(as_it_is, ref, raw)  # exact, not to rounding
    x_ref = space.encode(np.where(seen, ref, centre))
    x_centre, x_raw = space.encode(centre), space.encode(plain)
    allowance = allow(space, x_ref, base.allowance, decisions.overlap)
    found = nearest_feasible(space, x_raw, x_centre, base.sd, allowance, base.x_mean)
    traits = plain if found.rounds == 0 else space.decode(found.x)
    g_plan = space_forward(space, traits)
    a = np.where(seen, d, np.nan) / base.g_sd
    p, m = (g_plan - g_centre) / base.g_sd, (g_plan - e * d - aged - base.g_mean) / base.g_sd
    ranked = rank_unusual(measured, a, space)
    own = [space.index[k] for k in noticed if k in space.index and np.isfinite(a[space.index[k]])]
    five = own or [space.index[k] for k in ranked]
    return Plan(
        space, traits, plain, ref, centre,
        tuple(k for k, ok in zip(space.keys, seen, strict=True) if not ok),
        _in_words(space, found.active, plain, traits, base.sd, allowance, x_centre),
        likeness(a, p, (g_centre - base.g_mean) / base.g_sd),
        style_score(m, (base.g_style - base.g_mean) / base.g_sd),
        tuple(ranked), noticed_kept(a, p, five), _asymmetry(measured, decisions), decisions.outline,
    )  # fmt: skip


def rank_unusual(measured: Measured, a: Array, space: Space) -> list[str]:
    """The five traits farthest from the norm, in spreads, among those that are sure."""
    sure = np.array([measured.sure(k) for k in space.keys])
    far = np.where(sure & np.isfinite(a), np.abs(a), -1.0)
    order = np.argsort(-far, kind="stable")[:NOTICED]
    return [space.keys[i] for i in order if far[i] > 0]


def _in_words(
    space: Space, active: tuple[Active, ...], raw: Array, got: Array, sd: Array, allowance: Allowance, x_centre: Array
) -> tuple[Limit, ...]:
    """Least distance spreads a limit evenly; the trait that asked for most is named as the one that pays."""
    out = []
    asked = np.abs(space.encode(raw) - x_centre) / sd
    for a in active:
        pays = int(np.argmax(np.abs(a.pull) * (1 + asked)))
        if a.row >= 0:
            words = space.table.rows[a.row].say
        else:
            low = bool(a.pull[a.trait] > 0)
            edge = space.decode(allowance.low if low else allowance.high)[a.trait]
            words = f"{space.traits[a.trait].label} goes no {'lower' if low else 'further'} than {edge:.3f}"
        out.append(Limit(words, a.share, space.keys[pays], float(raw[pays]), float(got[pays])))
    return tuple(out)


def _asymmetry(measured: Measured, decisions: Decisions) -> Asymmetry:
    """What is kept of the reference's left–right difference, and what the artist chose on top."""
    k, reg = decisions.balance, front_registry()
    uneven = {r.key for r in reg.readings if r.rule in UNEVENNESS}
    kept = {key: v * k for key, v in measured.table.items() if key in uneven} if k else {}
    for key, v in decisions.uneven.items():
        if key in uneven:
            kept[key] = kept.get(key, 0.0) + v
    return Asymmetry(kept)


def offset_for(plan: Plan, decisions: Decisions, key: str, value: float) -> float:
    """The offset ``o`` that makes the raw plan of one trait equal ``value``, everything else as it is decided.

    ``plan`` must be the plan of these ``decisions``. Stations are held inside 0…1 and sizes above 0.
    """
    i = plan.space.index[key]
    at = np.array(plan.raw)
    at[i] = value
    if plan.space.is_station[i]:
        at[i] = min(max(value, 0.002), 0.998)
    elif plan.space.is_size[i]:
        at[i] = max(value, 1e-3)
    g = space_forward(plan.space, at) - space_forward(plan.space, plan.raw)
    return decisions.offsets.get(key, 0.0) + float(g[i])


@dataclass(frozen=True)
class Cost:
    """What one trait (or, with an empty key, the style's pull as a whole) takes from the likeness, and why."""

    key: str
    lost: float
    """In points of likeness."""
    why: str


def costs(plan: Plan, decisions: Decisions, most: int = 4) -> list[Cost]:
    """The dearest losses of likeness, largest first; below half a point nothing is said."""
    held = {li.pays for li in plan.limits}
    out = [Cost("", plan.likeness.centre_loss, "the style's pull")]
    for k, loss in zip(plan.space.keys, plan.likeness.loss.tolist(), strict=True):
        e = decisions.emphasis_of(k)
        why = (
            "moved by hand"
            if k in decisions.offsets
            else "held by a limit"
            if k in held
            else "dropped"
            if e == 0
            else "softened"
            if e < 1
            else "shifted"
        )
        out.append(Cost(k, loss, why))
    return sorted((c for c in out if c.lost >= 0.5), key=lambda c: -c.lost)[:most]
