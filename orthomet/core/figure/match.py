"""Whether head and body are of one age, in words and why; and the cures on either side.

Thresholds are own, tried against measured bodies of several ages and figures that look right (the tests name them).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

from .choices import FEWEST, MOST
from .youth import EYES, Part, Youth, measure_youth, table, value_at, youth_of

TOLERANCE, SHORT, TALL, LICENCE = 0.40, 0.45, 0.40, 0.25
NARROWER = 0.20
"""The taller a body is than its face says, the slighter it has to be: by this much of the difference."""
OVER_RIBS = 1.05
"""Shoulders are at least this much wider than the rib cage, on the youngest bodies too."""
SLIGHT = 0.15
"""A slender body is this much slighter than it has to be."""
PLAIN = 0.22
"""Traits nearer than this to the grown (or the asked) age are not named as speaking for another."""


class Verdict(StrEnum):
    MATCH = "match"
    TOO_SHORT = "too_short"
    TOO_WIDE = "too_wide"
    TOO_THIN = "too_thin"
    SLENDER = "slender"
    LARGER = "larger_than_life"


GOOD = (Verdict.MATCH, Verdict.SLENDER, Verdict.LARGER)
TITLES = {
    Verdict.MATCH: "Head and body match", Verdict.TOO_SHORT: "The body is short for this head", Verdict.TOO_WIDE: "The body is heavy for this head",
    Verdict.TOO_THIN: "The body is slight for this head", Verdict.SLENDER: "A slender body carries this head", Verdict.LARGER: "Larger than life",
}  # fmt: skip


def wanted(face: float, length: float) -> float:
    """How young the body's widths ought to read under a face, on a body of this length."""
    return face + NARROWER * max(0.0, face - length)


def judged(face: float, width: float, length: float) -> Verdict:
    """The verdict on three youth indices."""
    if length - max(face, 0.0) > SHORT:
        return Verdict.TOO_SHORT
    tall = face - length > TALL
    want = wanted(face, length)
    if width < (want - TOLERANCE if face >= 0 else 2 * face - TOLERANCE):
        return Verdict.TOO_WIDE
    if width > max(want, 0.0) + TOLERANCE + (0.3 if tall else 0.0):
        return Verdict.TOO_THIN
    if tall:
        return Verdict.SLENDER
    if face < -LICENCE and min(width, length) < -LICENCE:
        return Verdict.LARGER
    return Verdict.MATCH


def compact(face: float) -> dict[str, float]:
    """The body whose every trait reads as young as the face."""
    return _body(face, face)


def slender(face: float, heads: float) -> dict[str, float]:
    """The body of a chosen height under a young face: widths let down, the length given to the legs, ribs never longer."""
    length = youth_of("heads_tall", heads)
    out = _body(wanted(face, length) - SLIGHT, length)
    return out | {"heads_tall": heads}


def _body(width: float, length: float) -> dict[str, float]:
    heads = min(max(value_at("heads_tall", length), FEWEST), MOST)
    rows = {k: r.part for k, r in table().items() if r.part is not Part.FACE and k != "heads_tall"}
    out = {"heads_tall": heads} | {k: value_at(k, width if part is Part.WIDTH else length) for k, part in rows.items()}
    return out | {"shoulder_hw": max(out["shoulder_hw"], OVER_RIBS * out["ribcage_hw"])}


def slender_height(y: Youth, heads: float | None) -> float:
    """How many heads tall the slender cure is: as chosen, or as the body is, but tall enough to be called slender."""
    least = value_at("heads_tall", y.face - TALL - 0.05)
    chosen = heads if heads is not None else value_at("heads_tall", y.length)
    return min(max(chosen, least, FEWEST), MOST)


def head_for(values: Mapping[str, float], y: Youth) -> dict[str, float]:
    """The least change of the head that suits the body: what counts most for age moves most."""
    target = _suiting(y.face, y.width, y.length)
    keys = [k for k in y.traits if table()[k].part is Part.FACE and k != EYES[1]]
    if EYES[0] not in keys and EYES[1] in y.traits:
        keys.append(EYES[1])
    share = sum(table()[k].weight for k in keys)
    squares = sum(table()[k].weight ** 2 for k in keys)
    out = {}
    for k in keys:
        now = max(y.traits[e] for e in EYES if e in y.traits) if k in EYES else y.traits[k]
        j = now + (target - y.face) * table()[k].weight * share / squares
        for key in [e for e in EYES if e in values] if k in EYES else [k]:
            value = value_at(key, j)
            if key not in EYES or (value < values[key]) == (target < y.face):  # eyes that were not the loud ones stay
                out[key] = value
    return out


def _suiting(face: float, width: float, length: float) -> float:
    """The face's youth nearest to its own under which the body is right."""
    if judged(face, width, length) in GOOD:
        return face
    steps = [k / 200 for k in range(1, 1001)]
    for d in steps:
        for j in (face - d, face + d):
            if judged(j, width, length) in GOOD:
                return (
                    j + (0.03 if j > face else -0.03) if judged(j + (0.03 if j > face else -0.03), width, length) in GOOD else j
                )
    return max(length, width)


@dataclass(frozen=True)
class Match:
    """Youth, verdict, the sentence that says why, cures by name and what is said of each when it is taken."""

    youth: Youth
    verdict: Verdict
    says: str
    cures: Mapping[str, Mapping[str, float]]
    after: Mapping[str, Verdict]


def matched(values: Mapping[str, float], heads: float | None = None) -> Match:
    """Judge readings of a head and a body (registry keys); ``heads``: how tall the slender cure shall be.

    Raises
    ------
    OrthometError
        Too little is known to judge.
    """
    y = measure_youth(values)
    verdict = judged(y.face, y.width, y.length)
    cures = {
        "compact": compact(y.face),
        "slender": slender(y.face, slender_height(y, heads)),
        "head": head_for(values, y),
    }
    after = {name: _judge({**values, **cure}) for name, cure in cures.items()}
    return Match(y, verdict, _sentence(y, verdict), cures, after)


def _judge(values: Mapping[str, float]) -> Verdict:
    y = measure_youth(values)
    return judged(y.face, y.width, y.length)


SPEAKS = {
    "eye_width_fw": ("big eyes", "small eyes"), "eye_height_hh": ("tall eyes", "low eyes"), "eye_station": ("a low eye line", "a high eye line"),
    "nose_length_hh": ("a short nose", "a long nose"), "mouth_width_fw": ("a small mouth", "a wide mouth"), "chin_hh": ("a short chin", "a long chin"),
    "neck_hw": ("a thin neck", "a thick neck"), "shoulder_hw": ("narrow shoulders", "broad shoulders"), "ribcage_hw": ("a narrow rib cage", "a broad rib cage"),
    "heads_tall": ("few heads", "many heads"), "trunk_hh": ("a short trunk", "a long trunk"),
}  # fmt: skip
"""Words for a trait that reads younger, and for one that reads older, than the other side asks."""


def speaking(y: Youth, part: Part, against: float, most: int = 3) -> list[str]:
    """Traits of a part that speak for another age than ``against``, in words, the loudest first."""
    far = {k: y.traits[k] - against for k in y.traits if table()[k].part is part and not (k == EYES[1] and EYES[0] in y.traits)}
    loud = sorted((k for k in far if abs(far[k]) > PLAIN), key=lambda k: -abs(far[k]) * table()[k].weight)
    return [SPEAKS[k][0 if far[k] > 0 else 1] for k in loud[:most]]


def _age_words(j: float) -> str:
    if j < -0.25:
        return "older than grown up"
    names = (
        (0.18, "a grown person's"),
        (0.45, "a child's of about ten"),
        (0.8, "a child's of about five"),
        (1.25, "a small child's"),
    )
    return next((w for edge, w in names if j < edge), "younger than any child's")


def _joined(words: list[str]) -> str:
    return words[0] if len(words) == 1 else ", ".join(words[:-1]) + " and " + words[-1]


def _sentence(y: Youth, verdict: Verdict) -> str:
    face = speaking(y, Part.FACE, 0.0)
    head = f"The face reads as {_age_words(y.face)}" + (f" ({_joined(face)})" if face else "") + ". "
    width = speaking(y, Part.WIDTH, wanted(y.face, y.length))
    length = speaking(y, Part.LENGTH, y.face)
    if verdict is Verdict.TOO_SHORT:
        return (
            head
            + f"The body is shorter than that: {_joined(length or ['its length'])} {'speak' if len(length) != 1 else 'speaks'} for a younger head."
        )
    if verdict is Verdict.TOO_WIDE:
        return head + f"The body is too heavy for it: {_joined(width or ['its widths'])}."
    if verdict is Verdict.TOO_THIN:
        return head + f"The body is too slight for it: {_joined(width or ['its widths'])}."
    if verdict is Verdict.SLENDER:
        return head + "The body is taller than that, and slight enough to carry it."
    if verdict is Verdict.LARGER:
        return head + "Eyes so small let the body be larger than life."
    return head + "The body is of the same age."
