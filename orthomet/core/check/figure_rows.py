"""What of a drawn figure is compared with its plan: bones, head, neck, trunk, tilts, thicknesses, widths, heads tall; heads.

Where the drawing shows a known pose every length has one that it ought to be seen at. In any other a bone can only be too long: one seen
shorter is turned out of the picture, and says nothing.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import partial

import numpy as np

from ..kinds import Array
from ..landmarks.points import Landmarks
from ..landmarks.views import FIGURE
from ..pose.lift import ENDS, SURE, TOO_LONG, BonesSeen, Segment, Verdict
from ..proportions.registry import Reading
from ..proportions.views import figure_registry
from .check import Finding
from .figure_moves import LIMBS, SIDE, WORDS, bone_of, on_bones
from .instruct import amount_words, on_page_words
from .rows import tolerance_table
from .stance import LINES, Stance, slope_of
from .view import AsDrawn, ViewRow, of_length

GIRTH_SHARE, GIRTH_LEAST, GIRTH_MOST = 0.10, 0.012, 0.06
"""A thickness may differ by this share, within these bounds in heads (own, after the face's)."""
WIDTH_SHARE = 0.04
"""A width may differ by this share (own, after the face's)."""
LENGTH_SHARE = 0.035
"""A bone of the pose may differ by this share of its planned length (own)."""
TILT = 3.5
"""Degrees a shoulder or hip line may depart from the pose's (own)."""
TALL_SHARE = 0.02
"""Heads tall may differ by this share (own)."""
HEAD_SHARE, NECK_SHARE, TRUNK_SHARE = 0.04, 0.06, 0.05
"""How much head, place of the shoulders and trunk may differ in a known pose: heads, heads, a share (own): heads nod, spines bend."""
HEAD_UP = 0.975
"""A head seen shorter than this share of the limbs' scale leans, and heads tall cannot be counted by it."""
WIDTHS = ("shoulder_hh", "ribcage_hh", "waist_hh", "pelvis_hh", "hip_hh", "head_width_hh")
TILTED = {"shoulders": "acromion_hh", "hips": "hip_hh"}


def said(name: str) -> str:
    """A segment in words: “left forearm”, “shoulder line”."""
    return f"{name[:-1]} line" if name in LINES else f"{SIDE[name[-1]]} {WORDS[name[:-2]]}"


def reading_of(name: str) -> str:
    """The reading that tells a segment's length."""
    return TILTED[name] if name in TILTED else "trunk_hh" if name == "trunk" else f"{name[:-2]}_hh"


@dataclass(frozen=True, eq=False)
class Seen:
    """A drawn figure, ready to be compared. ``at``: its sure landmarks in heads as drawn."""

    at: Mapping[str, Array]
    lifted: BonesSeen
    stance: Stance | None
    scale: float
    """Pixels a head."""
    noise: Array
    """How well each landmark is marked, one standard deviation in heads, ``(n,)`` in the view's order."""
    px_per_mm: float | None

    def doubt(self, form: Array, factor: float | None = None) -> float:
        """How far a length over the landmarks may be off by their marking alone, heads; by so many of their deviations, a face's usually."""
        factor = tolerance_table().noise_factor if factor is None else factor
        return factor * float(np.sqrt(form**2 @ np.repeat(self.noise, 2) ** 2))

    @property
    def upright(self) -> bool:
        return self.stance is None or self.stance.pose.plain

    def form(self, *terms: tuple[str, Array]) -> Array:
        """Coefficients over the flattened landmarks."""
        out = np.zeros((len(FIGURE.names), 2))
        for name, v in terms:
            out[FIGURE.index[name]] += v
        return out.ravel()

    def page(self, heads: float) -> str:
        return on_page_words(heads * self.scale, self.px_per_mm)


def seen_of(drawing: Landmarks, lifted: BonesSeen, stance: Stance | None, noise: float, px_per_mm: float | None) -> Seen:
    """A figure's sure landmarks with how they were lifted and the pose they show, if any is known."""
    scale = stance.scale if stance is not None else lifted.scale
    each = np.hypot(noise, drawing.spreads(FIGURE) / scale)
    return Seen({n: np.array(p) / scale for n, p in drawing.points.items()}, lifted, stance, scale, each, px_per_mm)


def figure_rows(f: Seen, plan: Mapping[str, float]) -> list[ViewRow]:
    """Everything that can be compared."""
    return [*_bones(f), *_middle(f, plan), *_tilts(f), *_readings(f, plan)]


# ---- lengths


def _bones(f: Seen) -> Iterator[ViewRow]:
    for x in f.lifted.segments:
        if x.name in ("trunk", *LINES):
            continue
        a, b = ENDS[x.name]
        d = f.at[b] - f.at[a]
        seen = float(np.hypot(*d))
        form = f.form((b, d / max(seen, 1e-9)), (a, -d / max(seen, 1e-9)))
        usual = max(LENGTH_SHARE * x.planned, f.doubt(form))
        drawn = None
        if f.stance is not None and x.name in f.stance.lengths and not x.name.startswith("foot"):  # feet are drawn as they fall
            wanted, slack = f.stance.lengths[x.name]
            off, tolerance = seen - wanted, float(usual + slack)
            drawn = of_length(x.planned, wanted, off, tolerance)
        else:
            wanted, least = x.planned, TOO_LONG * x.planned + f.doubt(form, SURE)
            off = max(x.over, x.from_joint) if x.verdict is Verdict.TOO_LONG or x.from_joint > least else 0.0
            if not off and x.verdict is Verdict.FORESHORTENED:
                continue
            tolerance = float(min(least, 0.99 * off) if off else usual)
        yield ViewRow(reading_of(x.name), form, off, tolerance, partial(_length, f, x, wanted, tolerance), drawn)


def _length(f: Seen, x: Segment, wanted: float, tolerance: float, off: float) -> Finding:
    seen, page = wanted + off, f.page(off)
    moved = frozenset(_beyond(x.name))
    key, px = reading_of(x.name), off * f.scale
    if off > 0:
        say = f"Make the {said(x.name)} {100 * (1 - wanted / seen):.0f} % shorter ({page})"
        return Finding(
            key, "length", off, px, "longer", tolerance, off / tolerance, (), say, None, -off, None, moved, f"{page} shorter"
        )
    turned = np.degrees(np.arccos(np.clip(seen / max(wanted, 1e-9), 0, 1)))
    say = f"Make the {said(x.name)} {100 * (wanted / max(seen, 1e-9) - 1):.0f} % longer ({page}), or it is turned {turned:.0f}°"
    return Finding(
        key, "length", off, px, "shorter", tolerance, -off / tolerance, (), say, None, -off, None, moved, f"{page} longer"
    )


def _beyond(name: str) -> list[str]:
    """Landmarks that a shorter segment moves."""
    kind, side = name[:-2], name[-1]
    limb = next(k for k, chain in LIMBS.items() if kind in chain)
    return on_bones(bone_of(limb, kind), side)


def _middle(f: Seen, plan: Mapping[str, float]) -> Iterator[ViewRow]:
    """Head, shoulders under it, and trunk, where the pose is known; of any other only that the head is no longer than it can be."""
    at, half = f.at, 0.5
    pairs = {k: [f"{k}_l", f"{k}_r"] for k in ("acromion", "trochanterion")}
    known = {k: names for k, names in pairs.items() if all(n in at for n in names)}
    spots = {k: [(n, half) for n in names] for k, names in known.items()} | {
        n: [(n, 1.0)] for n in ("vertex", "gnathion") if n in at
    }
    for name, a, b, key, least in (
        ("head", "vertex", "gnathion", "heads_tall", HEAD_SHARE),
        ("neck", "gnathion", "acromion", "neck_length_hh", NECK_SHARE),
        ("trunk", "acromion", "trochanterion", "trunk_hh", 0.0),
    ):
        if a not in spots or b not in spots:
            continue
        d = np.sum([k * at[n] for n, k in spots[b]], 0) - np.sum([k * at[n] for n, k in spots[a]], 0)
        seen = float(np.hypot(*d))
        u = np.asarray(d / max(seen, 1e-9))
        form = f.form(*((n, k * u) for n, k in spots[b]), *((n, -k * u) for n, k in spots[a]))
        if f.stance is not None and name in f.stance.lengths:
            wanted, slack = f.stance.lengths[name]
            off = seen - wanted
        elif name == "head":
            wanted, slack, off = 1.0, 0.0, max(0.0, seen - 1.0)
        else:
            continue
        tolerance = float(max(least, TRUNK_SHARE * wanted if name == "trunk" else 0.0, f.doubt(form)) + slack)
        drawn = None
        if f.stance is not None and name in f.stance.lengths and key in plan:
            drawn = _tall(plan[key], wanted, off, tolerance) if name == "head" else of_length(plan[key], wanted, off, tolerance)
        yield ViewRow(key, form, off, tolerance, partial(_middle_said, f, name, key, wanted, tolerance), drawn)


def _tall(planned: float, wanted: float, off: float, tolerance: float) -> AsDrawn:
    """Heads tall by how large the head is drawn on the planned body."""
    k = wanted / max(wanted + off, 0.1)
    return AsDrawn(planned, k * planned, planned * tolerance / wanted)


def _middle_said(f: Seen, name: str, key: str, wanted: float, tolerance: float, off: float) -> Finding:
    amount = amount_words(off, off * f.scale, f.px_per_mm)
    if name == "head":
        verb, way = ("Shrink", "smaller") if off > 0 else ("Enlarge", "larger")
        say = f"{verb} the head {100 * abs(wanted / (wanted + off) - 1):.0f} % ({amount})"
    elif name == "neck":
        verb, way = ("Raise", "up") if off > 0 else ("Lower", "down")
        say = f"{verb} the shoulders by {amount}"
    else:
        verb, way = "Make", "shorter" if off > 0 else "longer"
        say = f"Make the trunk {100 * abs(wanted / (wanted + off) - 1):.0f} % {way} ({amount})"
    return Finding(key, "length", off, off * f.scale, verb.lower(), tolerance, abs(off) / tolerance, (), say, None, -off, None, frozenset(),
                   f"{f.page(off)} {way}")  # fmt: skip


# ---- tilts


def _tilts(f: Seen) -> Iterator[ViewRow]:
    """Shoulder and hip line against the pose's own."""
    if f.stance is None:
        return
    for name, key in LINES.items():
        right, left = f.at.get(f"{key}_r"), f.at.get(f"{key}_l")
        if right is None or left is None or name not in f.stance.slopes:
            continue
        wide = float(np.hypot(*(left - right)))
        off = slope_of(right, left) - f.stance.leaning - f.stance.slopes[name]
        sign = 1.0 if left[0] >= right[0] else -1.0
        down = np.array([0.0, sign])
        form = f.form((f"{key}_l", down), (f"{key}_r", -down))
        tolerance = float(np.radians(TILT) * wide + f.doubt(form))
        yield ViewRow(
            TILTED[name], form, float(np.sin(np.radians(off))) * wide, tolerance, partial(_tilt, f, name, wide, tolerance)
        )


def _tilt(f: Seen, name: str, wide: float, tolerance: float, off: float) -> Finding:
    way, degrees = "right" if off > 0 else "left", abs(np.degrees(np.arcsin(np.clip(off / wide, -1, 1))))
    say = f"Raise the {said(name)} at the picture’s {way} by {degrees:.0f}°"
    moved = frozenset({f"{LINES[name]}_l", f"{LINES[name]}_r"})
    return Finding(TILTED[name], "tilt", off, off * f.scale, f"falls {way}", tolerance, abs(off) / tolerance, (), say, None, -off, None, moved,
                   f"{degrees:.0f}°")  # fmt: skip


# ---- readings


def _readings(f: Seen, plan: Mapping[str, float]) -> Iterator[ViewRow]:
    """Thicknesses, widths that are too wide, and heads tall where the figure stands straight."""
    if "vertex" not in f.at or "gnathion" not in f.at:
        return
    head = float(np.hypot(*(f.at["gnathion"] - f.at["vertex"])))
    for r in figure_registry().readings:
        wanted = plan.get(r.key)
        if wanted is None or not r.over.needs <= set(f.at):
            continue
        if r.key.endswith("girth_hh") or r.key == "hand_width_hh":
            kind, usual, factor = "girth", min(max(GIRTH_SHARE * wanted, GIRTH_LEAST), GIRTH_MOST), None
        elif r.key in WIDTHS:
            kind, usual, factor = "width", WIDTH_SHARE * wanted, 4.0
        elif r.key == "heads_tall" and f.upright and head > HEAD_UP and _straight(f.lifted):
            kind, usual, factor = "height", TALL_SHARE * wanted, 4.0
        else:
            continue
        form, value = _form(f, r)
        off, tolerance = value - wanted, max(usual, f.doubt(form, factor))
        if kind == "width" and off < -tolerance:
            continue  # what is narrower is turned
        told = partial(_reading, f, r, kind, wanted, float(tolerance))
        yield ViewRow(r.key, form, off, float(tolerance), told, AsDrawn(wanted, value, float(tolerance)))


def _form(f: Seen, r: Reading) -> tuple[Array, float]:
    """A reading's length over the landmarks, first order at the drawing, and its value in heads."""
    form = r.over.row(FIGURE)
    at = np.zeros((len(FIGURE.names), 2))
    for n, p in f.at.items():
        if n in FIGURE.index:
            at[FIGURE.index[n]] = p
    value = float(form @ at.ravel())
    for (a, b), weight in r.over.lengths.items():
        d = f.at[b] - f.at[a]
        far = max(float(np.hypot(*d)), 1e-9)
        value += weight * far
        form = form + f.form((b, weight * d / far), (a, -weight * d / far))
    return form, value


def _reading(f: Seen, r: Reading, kind: str, wanted: float, tolerance: float, off: float) -> Finding:
    value = wanted + off
    thick = (r.high if off > 0 else r.low) or ("larger" if off > 0 else "smaller")
    if kind == "height":
        way = "shorter" if off > 0 else "taller"
        say = f"{value:.1f} heads tall, planned {wanted:.1f}: make the body {abs(off):.1f} heads {way}"
    else:
        way = {"girth": ("thinner", "thicker"), "width": ("narrower", "wider")}[kind][0 if off > 0 else 1]
        percent = 100 * abs(wanted / max(value, 1e-9) - 1)
        say = f"Make the {r.label.lower().replace(', thickness', '')} {percent:.0f} % {way} ({abs(off):.2f} heads, {f.page(off)})"
    return Finding(r.key, kind, off, off * f.scale, thick, tolerance, abs(off) / tolerance, (), say, None, -off, None, frozenset(),
                   f"{f.page(off)} {way}")  # fmt: skip


def _straight(lifted: BonesSeen) -> bool:
    """Whether legs and trunk are seen full length: only then is the figure's height its own."""
    legs = [x for x in lifted.segments if x.name.startswith(("thigh", "shin"))]
    return len(legs) == 4 and all(x.verdict is not Verdict.FORESHORTENED for x in legs)
