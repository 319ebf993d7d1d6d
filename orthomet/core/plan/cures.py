"""A cure for head and body as plan edits: what has to be chosen and moved so that the plan becomes what the cure says."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from math import exp, log

from ..figure.choices import FigureChoices
from ..figure.match import Match
from .decisions import Decisions
from .figure import NECK, FigurePlan, figure_offset
from .plan import Plan, offset_for

CURES = {"compact": "Compact body", "slender": "Slender body", "head": "The head changed"}
GOES_ALONG = {
    "waist_hh": 1.0, "pelvis_hh": 0.8, "hip_hh": 0.7, "upper_arm_girth_hh": 0.9, "forearm_girth_hh": 0.8, "wrist_girth_hh": 0.7, "thigh_girth_hh": 0.8,
    "knee_girth_hh": 0.8, "calf_girth_hh": 0.8, "ankle_girth_hh": 0.7, "hand_width_hh": 0.6, "foot_width_hh": 0.5,
}  # fmt: skip
"""How far other widths follow where shoulders and rib cage change, by logarithm (own; hips less than the rest)."""
HEAD_KEYS = {
    "eye_width_fw": "eye_width_fw", "eye_station": "eye_station", "nose_length_hh": "nose_length_hh", "mouth_width_fw": "mouth_width_fw",
    "chin_hh": "mouth_station", "eye_height_hh": "eye_opening_ew",
}  # fmt: skip
"""Reading a cure names → trait that is planned for it."""
WITH_EYES = ("brow_station", "ear_top_station")


@dataclass(frozen=True)
class Cured:
    """Offsets that are set (whole, not added), and the figure's choices."""

    offsets: Mapping[str, float]
    figure: FigureChoices


def cured(
    name: str,
    m: Match,
    plan: Plan,
    d: Decisions,
    figure: FigurePlan,
    choices: FigureChoices,
    replan: Callable[[FigureChoices], FigurePlan],
) -> Cured:
    """One of a match's cures as edits. ``replan`` is the body's plan under other choices, all else as it is."""
    values = m.cures[name]
    if name == "head":
        return Cured(_head(values, plan, d), choices)
    chosen = choices.model_copy(update={"heads": round(float(values["heads_tall"]), 3)})
    body = replan(chosen)
    head_width = body.build.head_width
    wanted = {
        "heads_tall": values["heads_tall"], "trunk_hh": values["trunk_hh"], "shoulder_hh": values["shoulder_hw"] * head_width,
        "ribcage_hh": values["ribcage_hw"] * head_width,
    }  # fmt: skip
    narrower = sum(log(wanted[k] / body.by_key[k].asked) for k in ("shoulder_hh", "ribcage_hh")) / 2
    for key, share in GOES_ALONG.items():
        wanted[key] = body.by_key[key].asked * exp(share * narrower)
    offsets = {k: figure_offset(body, d, k, float(v)) for k, v in wanted.items()}
    offsets[NECK] = offset_for(plan, d, NECK, float(values["neck_hw"]))
    return Cured(offsets, chosen)


def _head(values: Mapping[str, float], plan: Plan, d: Decisions) -> dict[str, float]:
    wanted = {}
    for key, value in values.items():
        trait = HEAD_KEYS[key]
        wanted[trait] = 1 - value if key == "chin_hh" else value
    if "eye_height_hh" in values:
        wide = wanted.get("eye_width_fw", plan.table["eye_width_fw"])
        wanted["eye_opening_ew"] = values["eye_height_hh"] / (wide * plan.table["face_width_hh"])
        narrower = wanted["eye_opening_ew"] / plan.table["eye_opening_ew"]
        wanted["iris_ew"] = plan.table["iris_ew"] * narrower  # an iris as tall as before would hold the lids open
    if "eye_station" in wanted:
        by = wanted["eye_station"] - plan.table["eye_station"]
        for key in WITH_EYES:
            wanted[key] = min(max(plan.table[key] + by, 0.02), 0.98)
    return {k: offset_for(plan, d, k, float(v)) for k, v in wanted.items()}
