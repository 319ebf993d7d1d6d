"""Named moves: what an artist would do to a drawing. Each is a displacement of some landmarks, largest step one head.

Positive amplitudes go down, wider, bigger, apart, or toward the picture's right.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..kinds import Array, there
from ..landmarks.schema import FRONT, Schema

EYE = ("endocanthion", "exocanthion", "palpebrale_superius", "palpebrale_inferius", "lid_crease", "pupil",
       "iris_medial", "iris_lateral", "pupil_medial", "pupil_lateral")  # fmt: skip
IRIS = ("iris_medial", "iris_lateral", "pupil_medial", "pupil_lateral")
BROW = ("brow_inner", "brow_peak", "brow_outer", "brow_lower_peak")
NOSE = ("subnasale", "alare", "pronasale")
WHOLE_NOSE = (*NOSE, "nasion")
MOUTH = ("labiale_superius", "stomion", "labiale_inferius", "sublabiale", "cheilion")
FEATURES = (*EYE, *BROW, *WHOLE_NOSE, *MOUTH)
EARS = ("superaurale", "subaurale")


@dataclass(frozen=True)
class Move:
    """``field`` has shape ``(n, 2)``; ``more`` and ``less`` are the instruction for a positive and negative amount."""

    name: str
    more: str
    less: str
    reading: str
    field: Array
    shifts: bool = False
    """Everything goes one way, so its amount is told; otherwise the change of its reading is."""
    turn: float = 0.0
    """Radians it turns its points by for each head of its amount; 0 for a move that turns nothing."""
    schema: Schema = FRONT

    @cached_property
    def names(self) -> frozenset[str]:
        """Landmarks it takes along."""
        return frozenset(self.schema.names[i] for i in np.flatnonzero(np.abs(self.field).max(1) > 0))


class _Builder:
    def __init__(self, points: Array):
        self.x = points
        self.there = there(points)
        self.out: list[Move] = []
        ends = [FRONT.index["zygion_l"], FRONT.index["zygion_r"]]
        here = points[ends][self.there[ends]]
        self.middle = float(here[:, 0].mean()) if len(here) == 2 else float(np.nanmean(points[:, 0]))

    def find(self, names: Sequence[str], side: str = "") -> list[int]:
        out = []
        for n in names:
            if n in FRONT.index:
                out.append(FRONT.index[n])
            else:
                out += [FRONT.index[f"{n}_{s}"] for s in side or "lr"]
        return [i for i in out if self.there[i]]

    def add(self, name: str, more: str, less: str, reading: str, field: Array, shifts: bool = False, turns: bool = False) -> None:
        size = np.abs(field).max()
        if size > 1e-9:
            self.out.append(Move(name, more, less, reading, field / size, shifts, 1 / size if turns else 0.0))

    def shift(self, name: str, names: Sequence[str], reading: str, axis: int, words: str, side: str = "") -> None:
        """All points one way: axis 1 down, axis 0 to the right."""
        f = np.zeros_like(self.x)
        f[self.find(names, side), axis] = 1
        more, less = ("Lower {}", "Raise {}") if axis == 1 else ("Move {} to the right", "Move {} to the left")
        self.add(name, more.format(words), less.format(words), reading, f, shifts=True)

    def scale(self, name: str, names: Sequence[str], reading: str, words: str) -> None:
        i = self.find(names)
        f = np.zeros_like(self.x)
        f[i, 0] = self.x[i, 0] - self.middle
        self.add(name, f"Widen {words}", f"Narrow {words}", reading, f)

    def apart(self, name: str, names: Sequence[str], reading: str, words: str) -> None:
        i = self.find(names)
        f = np.zeros_like(self.x)
        f[i, 0] = np.sign(self.x[i, 0] - self.middle)
        self.add(name, f"Move {words} apart", f"Move {words} together", reading, f)

    def about_own_centre(
        self, name: str, names: Sequence[str], reading: str, axes: str, words: tuple[str, str], sides: str = "lr"
    ) -> None:
        f = np.zeros_like(self.x)
        for s in sides:
            i = self.find(names, s)
            ends = self.find(names[:2] if names[:2] == EYE[:2] else names, s)
            if len(ends) < 2:
                return
            c = self.x[ends].mean(0)
            if "x" in axes:
                f[i, 0] = self.x[i, 0] - c[0]
            if "y" in axes:
                f[i, 1] = self.x[i, 1] - c[1]
        self.add(name, words[0], words[1], reading, f)

    def tilt(self, name: str, names: Sequence[str], reading: str, words: str) -> None:
        """A turn shows between left and right: with one side alone there is none to name."""
        i = self.find(names)
        if not any(len(self.find((n,))) == 2 for n in names):
            return
        c = self.x[i].mean(0)
        f = np.zeros_like(self.x)
        f[i, 0], f[i, 1] = -(self.x[i, 1] - c[1]), self.x[i, 0] - c[0]
        self.add(name, f"Turn {words} clockwise", f"Turn {words} anticlockwise", reading, f, turns=True)


_Row = tuple[str, tuple[str, ...], str, str]
# name, landmarks, reading it is about, words
_DOWN: tuple[_Row, ...] = (
    ("crown up/down", ("vertex",), "face_ratio", "the crown"), ("chin up/down", ("gnathion",), "chin_hh", "the chin"),
    ("hairline up/down", ("trichion",), "hairline_station", "the hairline"), ("brows up/down", BROW, "brow_station", "the brows"),
    ("eyes up/down", EYE, "eye_station", "the eyes"), ("eyes and brows up/down", (*EYE, *BROW), "eye_station", "eyes and brows"),
    ("nose base up/down", NOSE, "nose_base_station", "the nose base"), ("whole nose up/down", WHOLE_NOSE, "nose_base_station", "the whole nose"),
    ("nose root up/down", ("nasion",), "nose_length_hh", "the nose root"), ("mouth up/down", MOUTH, "mouth_station", "the mouth"),
    ("nose and mouth up/down", (*NOSE, *MOUTH), "mouth_station", "nose and mouth"),
    ("mouth and chin up/down", (*MOUTH, "gnathion"), "mouth_station", "mouth and chin"),
    ("features up/down", FEATURES, "eye_station", "all features"), ("ears up/down", EARS, "ear_top_station", "the ears"),
    ("ear tops up/down", ("superaurale",), "ear_top_station", "the ear tops"), ("ear lobes up/down", ("subaurale",), "ear_bottom_station", "the ear lobes"),
)  # fmt: skip
_ACROSS: tuple[_Row, ...] = (
    ("head wider/narrower", tuple(dict.fromkeys(m.base for m in FRONT.landmarks)), "face_width_hh", "the whole head"),
    ("outline wider/narrower", ("zygion", "euryon", "gonion", "chin_side", "frontotemporale", *EARS), "face_width_hh", "the outline"),
    ("cheeks wider/narrower", ("zygion",), "face_width_hh", "the cheeks"), ("skull wider/narrower", ("euryon", *EARS), "head_width_hh", "the skull"),
    ("jaw wider/narrower", ("gonion",), "jaw_width_fw", "the jaw"), ("jaw and chin wider/narrower", ("gonion", "chin_side"), "jaw_width_fw", "jaw and chin"),
    ("chin wider/narrower", ("chin_side",), "chin_width_fw", "the chin"), ("features wider/narrower", FEATURES, "outer_span_fw", "all features"),
    ("nose wider/narrower", ("alare",), "nose_width_fw", "the nose"), ("mouth wider/narrower", ("cheilion",), "mouth_width_fw", "the mouth"),
    ("neck wider/narrower", ("neck_side",), "neck_width_hw", "the neck"), ("hair wider/narrower", ("hair_side",), "hair_width_hw", "the hair"),
)  # fmt: skip
_SIDEWAYS: tuple[_Row, ...] = (
    ("mouth sideways", MOUTH, "offset_stomion_hh", "the mouth"), ("nose sideways", WHOLE_NOSE, "offset_subnasale_hh", "the nose"),
    ("eyes sideways", (*EYE, *BROW), "centre_endocanthion_hh", "the eyes"), ("features sideways", FEATURES, "centre_endocanthion_hh", "all features"),
    ("chin sideways", ("gnathion",), "offset_gnathion_hh", "the chin"), ("crown sideways", ("vertex",), "offset_vertex_hh", "the crown"),
)  # fmt: skip


def moves(points: Array) -> list[Move]:
    """All named moves a drawing with these landmarks (registered, head units) allows."""
    b = _Builder(points)
    for name, pts, reading, words in _DOWN:
        b.shift(name, pts, reading, 1, words)
    for name, pts, reading, words in _ACROSS:
        b.scale(name, pts, reading, words)
    b.apart("eyes apart/together", EYE, "eye_gap_ew", "the eyes")
    b.apart("eyes and brows apart/together", (*EYE, *BROW), "eye_gap_ew", "eyes and brows")
    b.apart("brows apart/together", BROW, "brow_gap_ew", "the brows")
    eye_scales = (("xy", "bigger/smaller", "Enlarge {}", "Shrink {}"), ("x", "wider/narrower", "Widen {}", "Narrow {}"))
    lids = tuple(n for n in EYE if n not in (*IRIS, "pupil"))
    for sides, who, tag in (("lr", "the eyes", "eyes"), ("l", "the left eye", "left eye"), ("r", "the right eye", "right eye")):
        key = "eye_width_fw" if len(sides) == 2 else f"eye_width_{sides}_fw"
        for axes, what, more, less in eye_scales:
            b.about_own_centre(f"{tag} {what}", EYE, key, axes, (more.format(who), less.format(who)), sides)
        pair = (f"Enlarge {who}, the iris kept,", f"Shrink {who}, the iris kept,")
        b.about_own_centre(f"{tag} bigger/smaller, iris kept", lids, key, "xy", pair, sides)
        f = np.zeros_like(points)
        f[b.find(("palpebrale_superius", "lid_crease"), sides), 1] = -0.6
        f[b.find(("palpebrale_inferius",), sides), 1] = 0.4
        key = "eye_opening_ew" if len(sides) == 2 else f"eye_opening_{sides}_ew"
        b.add(f"{tag} open/close", f"Open {who}", f"Close {who}", key, f)
        key = "iris_ew" if len(sides) == 2 else f"iris_{sides}_ew"
        iris = "the irises" if len(sides) == 2 else f"the {tag.split()[0]} iris"
        b.about_own_centre(f"{tag} iris bigger/smaller", IRIS, key, "x", (f"Enlarge {iris}", f"Shrink {iris}"), sides)
    b.about_own_centre("brows longer/shorter", BROW, "brow_length_ew", "x", ("Lengthen the brows", "Shorten the brows"))
    f = np.zeros_like(points)
    f[b.find(("brow_lower_peak",)), 1] = 1
    b.add("brows thicker/thinner", "Thicken the brows", "Thin the brows", "brow_thickness_ew", f)
    for s, who in (("l", "left"), ("r", "right")):
        b.shift(f"{who} eye up/down", EYE, "level_exocanthion_hh", 1, f"the {who} eye", s)
        b.shift(f"{who} eye sideways", EYE, "centre_exocanthion_hh", 0, f"the {who} eye", s)
        b.shift(f"{who} eye and brow sideways", (*EYE, *BROW), "centre_exocanthion_hh", 0, f"the {who} eye and brow", s)
        b.shift(f"{who} brow up/down", BROW, "level_brow_peak_hh", 1, f"the {who} brow", s)
        b.shift(f"{who} mouth corner up/down", ("cheilion",), "level_cheilion_hh", 1, f"the {who} mouth corner", s)
        b.shift(f"{who} ear up/down", EARS, "level_superaurale_hh", 1, f"the {who} ear", s)
        b.shift(f"{who} jaw corner sideways", ("gonion",), "centre_gonion_hh", 0, f"the {who} jaw corner", s)
        b.about_own_centre(
            f"{who} brow longer/shorter",
            BROW,
            f"brow_length_{s}_ew",
            "x",
            (f"Lengthen the {who} brow", f"Shorten the {who} brow"),
            s,
        )
    for name, pts, reading, words in _SIDEWAYS:
        b.shift(name, pts, reading, 0, words)
    b.tilt("mouth tilt", MOUTH, "level_cheilion_hh", "the mouth")
    b.tilt("eyes tilt", (*EYE, *BROW), "level_exocanthion_hh", "the eyes")
    b.tilt("features tilt", FEATURES, "level_exocanthion_hh", "all features")
    f = np.zeros_like(points)
    for s in "lr":
        f[b.find(("exocanthion",), s), 1], f[b.find(("endocanthion",), s), 1] = -1, 1
    b.add("outer corners up/down", "Raise the outer eye corners", "Lower the outer eye corners", "eye_tilt_deg", f)
    for name, pts, sign, reading, words in (
        ("upper lip thicker/thinner", ("labiale_superius",), -1.0, "upper_lip_hh", "upper lip"),
        ("lower lip thicker/thinner", ("labiale_inferius",), 1.0, "lower_lip_hh", "lower lip"),
    ):
        f = np.zeros_like(points)
        f[b.find(pts), 1] = sign
        b.add(name, f"Thicken the {words}", f"Thin the {words}", reading, f)
    return b.out
