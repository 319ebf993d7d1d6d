"""The other views beside the front face, profile and figure, and the schema of a set of points with own parts in it.

Names after Farkas (1994) for the profile and after the ISAK and ANSUR landmark lists for the figure, from memory. A profile
may face either way; a figure may be seen from the front or from behind, so left and right are not checked there.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import cache
from itertools import combinations

from .schema import FRONT, Landmark, Schema

OWN = re.compile(r"own_([a-z0-9]{1,24})_([ab])")
"""An end of one of the artist's own spans: ``own_<id>_a`` and ``own_<id>_b``."""


def _profile() -> Schema:
    rows = [
        ("vertex", "crown", "Head", True),
        ("gnathion", "chin, lowest", "Head", True),
        ("trichion", "hairline", "Head", True),
        ("glabella", "between the brows", "Head", True),
        ("nasion", "nose root", "Nose", True),
        ("pronasale", "nose tip", "Nose", True),
        ("subnasale", "nose base", "Nose", True),
        ("stomion", "mouth line", "Mouth", True),
        ("pogonion", "chin, foremost", "Head", True),
        ("gonion", "jaw corner", "Head", True),
        ("tragion", "ear, front edge", "Ears", True),
        ("opisthocranion", "back of the skull", "Head", True),
        ("labiale_superius", "upper lip's edge", "Mouth", False),
        ("labiale_inferius", "lower lip's edge", "Mouth", False),
        ("sublabiale", "fold under the lip", "Mouth", False),
        ("exocanthion", "eye, outer corner", "Eyes", False),
        ("brow_peak", "brow peak", "Eyes", False),
        ("superaurale", "ear top", "Ears", False),
        ("subaurale", "ear bottom", "Ears", False),
        ("neck_front", "neck, front", "Neck", False),
        ("neck_back", "neck, back", "Neck", False),
    ]
    return _schema("profile", [Landmark(*r) for r in rows])


def _figure() -> Schema:
    mid = [
        ("vertex", "crown", "Head", True),
        ("gnathion", "chin", "Head", True),
        ("floor", "floor under the feet", "Legs", True),
        ("perineum", "crotch", "Trunk", True),
        ("suprasternale", "pit of the neck", "Trunk", False),
    ]
    paired = [
        ("acromion", "shoulder joint", "Trunk", True),
        ("radiale", "elbow", "Arms", True),
        ("stylion", "wrist", "Arms", True),
        ("trochanterion", "hip joint", "Legs", True),
        ("patella", "knee", "Legs", True),
        ("malleolus", "ankle", "Legs", True),
        ("shoulder_side", "shoulder, outline", "Trunk", False),
        ("ribcage_side", "rib cage, side", "Trunk", False),
        ("waist_side", "waist, side", "Trunk", False),
        ("hip_side", "hip, outline", "Trunk", False),
        ("knuckle", "knuckles", "Arms", False),
        ("dactylion", "fingertip", "Arms", False),
        ("heel", "heel", "Legs", False),
        ("toe_tip", "toe tip", "Legs", False),
        ("upper_arm_outer", "upper arm, outer edge", "Girths", False),
        ("upper_arm_inner", "upper arm, inner edge", "Girths", False),
        ("forearm_outer", "forearm, outer edge", "Girths", False),
        ("forearm_inner", "forearm, inner edge", "Girths", False),
        ("wrist_outer", "wrist, outer edge", "Girths", False),
        ("wrist_inner", "wrist, inner edge", "Girths", False),
        ("thigh_outer", "thigh, outer edge", "Girths", False),
        ("thigh_inner", "thigh, inner edge", "Girths", False),
        ("calf_outer", "calf, outer edge", "Girths", False),
        ("calf_inner", "calf, inner edge", "Girths", False),
        ("euryon", "skull, side", "Head", False),
        ("neck_side", "neck, side", "Trunk", False),
        ("iliocristale", "pelvis, side", "Trunk", False),
        ("hand_outer", "hand, outer edge", "Arms", False),
        ("hand_inner", "hand, inner edge", "Arms", False),
        ("knee_outer", "knee, outer edge", "Girths", False),
        ("knee_inner", "knee, inner edge", "Girths", False),
        ("ankle_outer", "ankle, outer edge", "Girths", False),
        ("ankle_inner", "ankle, inner edge", "Girths", False),
        ("foot_outer", "foot, outer edge", "Legs", False),
        ("foot_inner", "foot, inner edge", "Legs", False),
    ]
    marks = [Landmark(*r) for r in mid]
    for n, w, g, e in paired:
        marks += [Landmark(f"{n}_l", f"left {w}", g, e), Landmark(f"{n}_r", f"right {w}", g, e)]
    marks.sort(key=lambda m: not m.essential)
    return _schema("figure", marks)


def _schema(view: str, marks: list[Landmark]) -> Schema:
    """Only essential points must keep apart: in a profile or a posed figure the others may well coincide."""
    loose = {frozenset((a.name, b.name)) for a, b in combinations(marks, 2) if not (a.essential and b.essential)}
    return Schema(view, tuple(marks), frozenset(loose))


PROFILE = _profile()
FIGURE = _figure()
SCHEMAS = {s.view: s for s in (FRONT, PROFILE, FIGURE)}
VIEW_WORDS = {"front": "Face, front", "profile": "Face, profile", "figure": "Figure"}


def own_ends(names: Iterable[str]) -> tuple[str, ...]:
    """The artist's own points among names, sorted."""
    return tuple(sorted(n for n in names if OWN.fullmatch(n)))


@cache
def schema_with(view: str, own: tuple[str, ...] = ()) -> Schema:
    """A view's schema with own points behind its landmarks; ``own`` as :func:`own_ends` gives them."""
    return SCHEMAS[view].plus(Landmark(n, f"end {n[-1].upper()}", "Own") for n in own)


def known_somewhere(name: str) -> bool:
    """Whether any view has this landmark, or it is the end of an own span."""
    return bool(OWN.fullmatch(name)) or any(name in s.index for s in SCHEMAS.values())
