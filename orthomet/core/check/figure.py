"""A drawn figure against its plan: lengths with foreshortening discounted, girths, shoulder and hip lines, heads tall.

A limb drawn shorter than planned is turned out of the picture, and told as a range; one drawn longer than it can be is a finding. Widths of
the trunk may look narrower, never wider. Thicknesses are the same from everywhere.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace

import numpy as np

from ..errors import LandmarkError
from ..figure.skeleton import Skeleton
from ..landmarks.points import Landmarks, State
from ..pose.lift import Lift, Segment, Verdict, lift
from ..pose.model import STANDING, Pose
from ..proportions.measure import measure
from ..proportions.views import figure_registry
from .check import Finding, on_page_words
from .rows import tolerance_table
from .stance import LINES, Stance, slope_of, stance_of
from .view import ViewCheck

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
HEAD_UP = 0.975
"""A head seen shorter than this share of the limbs' scale leans, and heads tall cannot be counted by it."""
WORDS = {"upper_arm": "upper arm", "forearm": "forearm", "hand": "hand", "thigh": "thigh", "shin": "shin", "foot": "foot", "shoulders": "shoulder line",
         "hips": "hip line"}  # fmt: skip
SIDE = {"l": "left", "r": "right"}
WIDTHS = ("shoulder_hh", "ribcage_hh", "waist_hh", "pelvis_hh", "hip_hh", "head_width_hh")
READING = {"shin": "shin_hh", "thigh": "thigh_hh", "shoulders": "acromion_hh", "hips": "hip_hh", "trunk": "trunk_hh"}


@dataclass(frozen=True, eq=False)
class FigureCheck(ViewCheck):
    lift: Lift
    lines: dict[str, float]
    """Slope of shoulder and hip line on the drawing, degrees; positive falls to the picture's right."""


def check_figure(
    drawing: Landmarks, s: Skeleton, plan: Mapping[str, float], meant: Collection[str] = (), noise: float | None = None,
    px_per_mm: float | None = None, poses: Collection[Pose] = (STANDING,),
) -> FigureCheck:  # fmt: skip
    """Compare a figure's landmarks with a planned body.

    ``noise`` is how well the points are marked, one standard deviation in heads. Where the drawing shows one of the ``poses``, from any
    side, lengths are compared as they are seen in it, and what is shorter is a finding, too; in any other a shorter limb is only turned.

    Raises
    ------
    LandmarkError
        Not a figure, or no limb on it.
    """
    if drawing.view != "figure":
        raise LandmarkError(f"A figure's check needs figure landmarks; these show a {drawing.view}.")
    loose = {n for n in drawing.points if drawing.state(n) in (State.ESTIMATED, State.HIDDEN)}
    sure = replace(drawing, points={n: p for n, p in drawing.points.items() if n not in loose})
    table = tolerance_table()
    noise = table.noise if noise is None else noise
    lifted = lift(s, sure, noise=noise)
    stance = stance_of(sure.points, s, poses)
    lines = {}
    for name, key in LINES.items():
        a, c = sure.points.get(f"{key}_r"), sure.points.get(f"{key}_l")
        if a is not None and c is not None:
            lines[name] = slope_of(np.array(a), np.array(c))
    found = [
        *_tilts(sure, lines, stance, noise),
        *_lengths(lifted, stance, noise, px_per_mm),
        *_others(sure, lifted, plan, stance is None or stance.pose.plain, noise, px_per_mm),
    ]
    found.sort(key=lambda f: -f.severity)
    silent = set(meant)
    judged = [x.name for x in lifted.segments if x.name in WORDS or x.name[:-2] in WORDS]
    off = {f.kind + f.reading for f in found}
    named = dict.fromkeys(_reading(x) for x in judged)
    passed = [k for k in named if f"length{k}" not in off]
    return FigureCheck(tuple(f for f in found if f.reading not in silent), tuple(passed), tuple(k for k in meant if k in {f.reading for f in found}),
                       noise, "figure", lifted, lines)  # fmt: skip


def _reading(name: str) -> str:
    return READING.get(name) or READING.get(name[:-2]) or f"{name[:-2]}_hh"


def _said(name: str) -> str:
    return WORDS[name] if name in WORDS else f"{SIDE[name[-1]]} {WORDS[name[:-2]]}"


def _lengths(lifted: Lift, stance: Stance | None, noise: float, px_per_mm: float | None) -> list[Finding]:
    out = []
    for x in lifted.segments:
        if x.name in ("trunk", "shoulders", "hips"):
            continue
        tolerance = max(LENGTH_SHARE * x.planned, 3 * np.sqrt(2) * noise)
        scale, seen, wanted, off = lifted.scale, x.seen, x.planned, x.over
        told = stance is not None and not x.name.startswith("foot")  # feet are drawn as they fall
        if stance is not None and told:
            scale, seen = stance.scale, x.seen * lifted.scale / stance.scale
            wanted, slack = stance.lengths[x.name]
            tolerance, off = tolerance + slack, seen - wanted
        if abs(off) <= tolerance if told else x.verdict is not Verdict.TOO_LONG:
            continue
        if off < 0:
            out.append(_short(x.name, off, wanted, seen, scale, float(tolerance), px_per_mm))
            continue
        px, percent = off * scale, 100 * (1 - wanted / seen)
        say = f"Make the {_said(x.name)} {percent:.0f} % shorter ({on_page_words(px, px_per_mm)})"
        out.append(
            Finding(_reading(x.name), "length", off, px, "longer", float(tolerance), off / tolerance, (), say, None, off, None, _ends(x.name),
                    f"{on_page_words(px, px_per_mm)} shorter")
        )  # fmt: skip
    return out


def _tilts(drawing: Landmarks, lines: Mapping[str, float], stance: Stance | None, noise: float) -> list[Finding]:
    """Shoulder and hip line against the pose's own."""
    out = []
    for name, slope in lines.items():
        if stance is None or name not in stance.slopes:
            continue
        a, c = (np.array(drawing.points[f"{LINES[name]}_{x}"]) for x in "rl")
        wide = float(np.hypot(*(c - a))) / stance.scale
        tolerance = TILT + float(np.degrees(3 * np.sqrt(2) * noise / max(wide, 0.1)))
        off = slope - stance.leaning - stance.slopes[name]
        if abs(off) <= tolerance:
            continue
        way = "right" if off > 0 else "left"
        say = f"Raise the {name[:-1]} line at the picture’s {way} by {abs(off):.0f}°"
        heads = float(np.sin(np.radians(off))) * wide
        out.append(
            Finding(READING[name], "tilt", heads, heads * stance.scale, f"falls {way}", float(np.radians(tolerance)) * wide, abs(off) / tolerance, (),
                    say, None, heads, None, frozenset({f"{LINES[name]}_l", f"{LINES[name]}_r"}), f"{abs(off):.0f}°")
        )  # fmt: skip
    return out


def _short(name: str, off: float, wanted: float, seen: float, scale: float, tolerance: float, px_per_mm: float | None) -> Finding:
    """A segment shorter than the pose has it: drawn too short, or turned away after all."""
    px, turned = -off * scale, np.degrees(np.arccos(np.clip(seen / max(wanted, 1e-9), 0, 1)))
    amount = on_page_words(px, px_per_mm)
    say = f"Make the {_said(name)} {100 * (wanted / max(seen, 1e-9) - 1):.0f} % longer ({amount}), or it is turned {turned:.0f}°"
    return Finding(
        _reading(name),
        "length",
        off,
        px,
        "shorter",
        tolerance,
        -off / tolerance,
        (),
        say,
        None,
        off,
        None,
        _ends(name),
        f"{amount} longer",
    )


def _ends(name: str) -> frozenset[str]:
    """Landmarks that a shorter segment moves."""
    kind, _, side = name.rpartition("_")
    chain = {"upper_arm": ("radiale", "stylion", "dactylion"), "forearm": ("stylion", "dactylion"), "hand": ("dactylion",),
             "thigh": ("patella", "malleolus", "heel", "toe_tip"), "shin": ("malleolus", "heel", "toe_tip"), "foot": ("toe_tip",)}  # fmt: skip
    return frozenset(f"{n}_{side}" for n in chain.get(kind, ()))


def turned_words(c: FigureCheck) -> list[str]:
    """What of a drawn figure is turned out of the picture, as ranges, and how its lines slope."""
    out = []
    for x in c.lift.segments:
        low, high = x.angle
        if x.verdict is Verdict.FORESHORTENED and low > 12 and x.name[:-2] in WORDS and not x.name.startswith(("hand", "foot")):
            said = _said(x.name)
            out.append(f"{said[0].upper()}{said[1:]}: {low:.0f} to {high:.0f}° out of the picture.")
    for name, slope in c.lines.items():
        if abs(slope) >= 1:
            out.append(f"{name.capitalize()} fall {abs(slope):.0f}° to the picture’s {'right' if slope > 0 else 'left'}.")
    return out


def _others(
    drawing: Landmarks, lifted: Lift, plan: Mapping[str, float], upright: bool, noise: float, px_per_mm: float | None
) -> list[Finding]:
    """Thicknesses, widths that are too wide, and heads tall where the figure stands straight."""
    at = drawing.points
    known: dict[str, float] = {}
    if "vertex" in at and "gnathion" in at:
        head = float(np.hypot(at["gnathion"][0] - at["vertex"][0], at["gnathion"][1] - at["vertex"][1]))
        share = head / lifted.scale
        table = measure(drawing).table
        known = {k: v * share for k, v in table.items()}
        known.pop("heads_tall", None)
        if "heads_tall" in table and upright and share > HEAD_UP:
            known["heads_tall"] = table["heads_tall"]
    labels = {r.key: r for r in figure_registry().readings}
    out = []
    for key, value in known.items():
        wanted = plan.get(key)
        if wanted is None or key not in labels:
            continue
        d = value - wanted
        if key.endswith("girth_hh") or key in ("hand_width_hh",):
            tolerance = max(min(max(GIRTH_SHARE * wanted, GIRTH_LEAST), GIRTH_MOST), 3 * np.sqrt(2) * noise)
            kind = "girth"
        elif key in WIDTHS:
            tolerance, kind = max(WIDTH_SHARE * wanted, 4 * np.sqrt(2) * noise), "width"
            if d < 0:
                continue
        elif key == "heads_tall" and _straight(lifted.segments):
            tolerance, kind = max(TALL_SHARE * wanted, 4 * np.sqrt(2) * noise * wanted), "height"
        else:
            continue
        if abs(d) <= tolerance:
            continue
        r = labels[key]
        px = abs(d) * lifted.scale
        thick = (r.high if d > 0 else r.low) or ("larger" if d > 0 else "smaller")
        if kind == "height":
            say = f"{value:.1f} heads tall, planned {wanted:.1f}: make the body {abs(d):.1f} heads {'shorter' if d > 0 else 'taller'}"
        else:
            percent = 100 * abs(wanted / value - 1)
            say = f"Make the {r.label.lower().replace(', thickness', '')} {percent:.0f} % {_less(kind, d)} ({abs(d):.2f} heads, {on_page_words(px, px_per_mm)})"
        out.append(
            Finding(
                key,
                kind,
                d,
                px,
                thick,
                float(tolerance),
                abs(d) / tolerance,
                (),
                say,
                None,
                abs(d),
                None,
                frozenset(),
                f"{on_page_words(px, px_per_mm)}",
            )
        )
    return out


def _less(kind: str, d: float) -> str:
    return {"girth": ("thinner", "thicker"), "width": ("narrower", "wider")}[kind][0 if d > 0 else 1]


def _straight(segments: Collection[Segment]) -> bool:
    """Whether legs and trunk are seen full length: only then is the figure's height its own."""
    legs = [x for x in segments if x.name.startswith(("thigh", "shin"))]
    return len(legs) == 4 and all(x.verdict is not Verdict.FORESHORTENED for x in legs)
