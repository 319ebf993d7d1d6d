"""The body in the plan: every independent reading of the figure, planned by the same rule as the face's, held to what a body can be.

``g(plan) = (1 − s)·g(canon) + s·g(style) + e·(g(reference) − g(norm)) + o``. The norm is the measured body of the character's age, the canon
what the artist chose instead (the same body where nothing was chosen): with the measured canon, s = 0 and e = 1 the plan is the reference.
Head and neck widths are the head's own plan; limits can be waived as meant.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import cache, cached_property

import numpy as np

from ..datafiles import load_folder
from ..errors import OrthometError
from ..figure.build import JOINTED, Build, Form, build_of, readings_of
from ..figure.canons import KEPT, Canon, at_age, canon, with_feminine, with_heads
from ..figure.choices import BY_AGE, FigureChoices
from ..kept import remembered
from ..kinds import Array, forward
from ..proportions.norms import norm_over
from ..proportions.registry import Reading, Role
from ..proportions.views import figure_registry
from ..styles.library import Style
from .decisions import Decisions
from .feasible import Allowance, decree, nearest_feasible
from .plan import Limit
from .space import LimitTable, Space

FREE = 1e6
"""Slack of a limit that is waived."""
USUAL_SPREAD = 0.06
"""Of a reading whose spread no norm gives, as a share of it (own)."""
NECK, HEAD_WIDTH, HEADS = "neck_width_hw", "head_width_hh", "heads_tall"
"""Of the head's plan."""


@cache
def figure_space() -> Space:
    """The traits of a body that are planned here, and its limits."""
    reg = figure_registry()
    table = load_folder("orthomet.core.plan.data", LimitTable)["figure"]
    traits = tuple(r for r in reg.of_role(Role.INDEPENDENT) if r.key not in KEPT)
    return Space(traits, table, reg)


@cache
def _spreads() -> Array:
    """Relative spread of every trait."""
    norm, reg = norm_over("adult", figure_registry()), figure_registry()
    at = [reg.index[k] for k in figure_space().keys]
    rel = norm.sd[at] / norm.mean[at]
    return np.where(np.isfinite(rel), rel, USUAL_SPREAD)


@dataclass(frozen=True)
class BodyTrait:
    """One planned reading of the body: measured, norm and spread, style's where it has one, asked for, and what a body can be."""

    reading: Reading
    reference: float | None
    norm: float
    sd: float
    style: float | None
    asked: float
    plan: float

    @property
    def key(self) -> str:
        return self.reading.key


@dataclass(frozen=True)
class FigurePlan:
    """A planned body. Traits in the order of :func:`figure_space`."""

    traits: tuple[BodyTrait, ...]
    limits: tuple[Limit, ...]
    waived: tuple[str, ...]
    """Limits that are meant to be broken, and are."""
    canon: Canon
    build: Build
    measured: bool
    """Whether a reference figure steers it."""

    @cached_property
    def readings(self) -> dict[str, float]:
        """Every reading of the figure, planned ones and those that follow."""
        return readings_of(self.build)

    @cached_property
    def by_key(self) -> dict[str, BodyTrait]:
        return {t.key: t for t in self.traits}

    @property
    def heads(self) -> float:
        return self.build.heads


def chosen_canon(choices: FigureChoices, age: float) -> Canon:
    """The canon a character's body starts from; one this library lacks is the measured body of its age."""
    try:
        c = at_age(_years(age)) if choices.canon == BY_AGE else canon(choices.canon)
    except OrthometError:
        c = at_age(_years(age))
    if choices.heads is not None:
        c = with_heads(c, choices.heads)
    if "feminine" in choices.form:
        c = with_feminine(c, choices.form["feminine"])
    return c


def _years(age: float) -> float:
    """Growth ends at 18: nobody older has a body of their own age."""
    return float(min(age, 18.0)) if age < 18 else 30.0


FIRM = 50.0
"""So many times less heads tall give way where they are chosen than where they follow from the canon (own)."""
RUBBER_FROM = 0.5
"""Style weight from which on its kind of limbs is taken over (own)."""


def form_of(choices: FigureChoices, c: Canon, toward: Style | None = None, weight: float = 0.0) -> Form:
    """The canon's form, drawn toward the style's where it has one, with what is set by hand."""
    drawn = {k: (1 - weight) * getattr(c.form, k) + weight * v for k, v in (toward.form if toward else {}).items()}
    return c.form.with_values(drawn | {k: v for k, v in choices.form.items() if k != "feminine"})


def _limbs(choices: FigureChoices, c: Canon, toward: Style, weight: float) -> str:
    if choices.limbs:
        return choices.limbs
    return toward.limbs if toward.limbs and weight >= RUBBER_FROM else c.limbs or JOINTED


def plan_figure(
    measured: Mapping[str, float],
    decisions: Decisions,
    choices: FigureChoices,
    age: float,
    toward: Style,
    head: Mapping[str, float],
    neck_axis: float | None = None,
) -> FigurePlan:
    """The body of a character.

    ``measured`` are the readings of its reference figure (none: the canon alone steers), ``head`` the traits of its head's plan, from which
    the widths of head and neck come; ``neck_axis`` as :func:`..figure.heads.neck_axis` tells it.
    """
    space = figure_space()
    c = chosen_canon(choices, age)
    norm = at_age(_years(age))
    mu = np.array([norm.readings[k] for k in space.keys])
    middle = np.array([c.readings[k] for k in space.keys])
    rows = [toward.readings.get(k) for k in space.keys]
    own = np.array([r.mean if r is not None and r.mean > 0 else m for r, m in zip(rows, middle, strict=True)])
    weight = np.array([decisions.weight_of(t.group) if r is not None else 0.0 for t, r in zip(space.traits, rows, strict=True)])
    ref = np.array([_measured(measured, k, m) for k, m in zip(space.keys, mu, strict=True)])
    seen = np.isfinite(ref)
    e = np.array([decisions.emphasis_of(k) for k in space.keys])
    o = np.array([decisions.offsets.get(k, 0.0) for k in space.keys])
    leads = own if choices.heads is None else _of_heads(c, own, choices.heads)
    centre = (1 - weight) * np.log(middle) + weight * np.log(leads)
    raw = centre + np.where(seen, e * (np.log(np.where(seen, ref, 1.0)) - np.log(mu)), 0.0) + o
    if choices.heads is not None:  # heads that are chosen are chosen, whatever style and reference add
        raw[space.index[HEADS]] = np.log(choices.heads) + o[space.index[HEADS]]
    raw = np.clip(raw, np.log(1e-3), np.log(1e3))
    sd = _spreads()
    firm = (np.array(space.keys) == HEADS) & (choices.heads is not None)  # these pay for no limit while others can
    allowance = _allowed(
        space, tuple(np.log(middle)), tuple(np.log(leads)), tuple(np.log(np.where(seen, ref, mu))), choices.meant
    )
    found = nearest_feasible(space, raw, centre, np.where(firm, sd / FIRM, sd), allowance, np.log(middle))
    still = (o == 0) & (weight == 0)  # where nothing is asked for the numbers are kept exactly, not to rounding
    asked = np.where(still & ~seen, middle, np.where(still & (e == 1) & (middle == mu) & ~firm, ref, np.exp(raw)))
    got = np.where(np.abs(found.x - raw) < 1e-12, asked, np.exp(found.x))
    traits = tuple(
        BodyTrait(t, float(ref[i]) if seen[i] else None, float(mu[i]), float(sd[i] * mu[i]), float(own[i]) if rows[i] is not None else None,
                  float(asked[i]), float(got[i]))
        for i, t in enumerate(space.traits)
    )  # fmt: skip
    readings = {t.key: t.plan for t in traits}
    readings |= {
        "head_width_hh": float(head.get(HEAD_WIDTH, c.readings["head_width_hh"])),
        "neck_hw": float(head.get(NECK, c.readings["neck_hw"])),
    }
    pull = decisions.style_weight
    build = build_of(readings, form_of(choices, c, toward, pull), _limbs(choices, c, toward, pull), neck_axis)
    limits = []
    for a in found.active:
        pays = int(np.argmax(np.abs(a.pull) * (1 + np.abs(raw - centre) / sd)))
        if a.row >= 0:
            words = space.table.rows[a.row].say
        else:
            edge = float(np.exp((allowance.low if a.pull[a.trait] > 0 else allowance.high)[a.trait]))
            words = f"{space.traits[a.trait].label} goes no {'lower' if a.pull[a.trait] > 0 else 'further'} than {edge:.2f}"
        limits.append(Limit(words, a.share, space.keys[pays], float(asked[pays]), float(got[pays])))
    broken = space.room(found.x) < -1e-6
    waived = tuple(r.name for r, b in zip(space.table.rows, broken, strict=True) if b and r.name in choices.meant)
    return FigurePlan(traits, tuple(limits), waived, c, build, bool(seen.any()))


def _of_heads(c: Canon, own: Array, heads: float) -> Array:
    """A style's body, ``(T,)``, brought to as many heads as are chosen, as the canon is."""
    keys = figure_space().keys
    its = dict(zip(keys, map(float, own), strict=True))
    at = with_heads(replace(c, readings={**c.readings, **its}), heads)
    return np.array([at.readings[k] for k in keys])


def _measured(measured: Mapping[str, float], key: str, norm: float) -> float:
    """A measured reading; a foot seen from the front is foreshortened, and no measure of its length."""
    v = measured.get(key)
    if v is None or not np.isfinite(v) or v <= 0 or (key == "foot_hh" and v < 0.5 * norm):
        return float("nan")
    return float(v)


@remembered(16)
def _allowed(
    space: Space, canon: tuple[float, ...], style: tuple[float, ...], reference: tuple[float, ...], meant: tuple[str, ...]
) -> Allowance:
    """What canon, style and reference break already is granted; limits that are meant to be broken are no limits."""
    a = decree(space, [np.array(canon), np.array(style), np.array(reference)])
    free = np.array([r.name in meant for r in space.table.rows])
    return replace(a, slack=np.where(free, a.slack - FREE, a.slack))


def figure_offset(plan: FigurePlan, decisions: Decisions, key: str, value: float) -> float:
    """The offset that makes a body trait's plan equal ``value``, everything else as decided."""
    t = plan.by_key[key]
    wanted = max(value, 1e-3)
    return decisions.offsets.get(key, 0.0) + float(forward(t.reading.kind, wanted) - forward(t.reading.kind, t.asked))
