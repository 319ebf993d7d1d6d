"""Every reading of the front face, defined once: key, words, kind and formula. Adding a ratio is one entry here.

Definitions (levelled picture plane): stations run from the crown (0) to the chin (1); widths and gaps are distances
along the level axis, heights along the plumb axis; a pair's size is the mean of both sides. Sources: landmarks and
indices after Farkas, *Anthropometry of the Head and Face* (1994), from memory; what artists ask for beside them is
common practice.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from enum import StrEnum
from functools import cache, cached_property
from typing import Any

from ..errors import UnknownName
from ..kinds import Kind
from ..landmarks.schema import FRONT, Schema
from .forms import AXIS, EW, FW, HH, HW, Form, both, centre, height, span, width, x, y


class Role(StrEnum):
    INDEPENDENT = "independent"  # planned
    DERIVED = "derived"  # follows from planned ones, never planned itself
    OBSERVED = "observed"  # measured and compared with its norm; the plan says nothing on it
    BALANCE = "balance"  # left against right, and against the centre line


class Rule(StrEnum):
    """What a reading says of its landmarks."""

    SIZE = "size"  # a length, or a share of one
    STATION = "station"  # how far down the head something lies
    ANGLE = "angle"
    LEVEL = "level"  # the left one of a pair below the right one
    CENTRE = "centre"  # the middle of a pair off the face's centre line
    OFFSET = "offset"  # a midline point off the centre line
    BLOCK = "block"  # all features together off the centre line
    GAZE = "gaze"  # a pupil off the middle of its opening


UNEVENNESS = (Rule.LEVEL, Rule.CENTRE, Rule.OFFSET)
"""What is kept of a face's left and right, and what an artist may choose on top."""


class Tolerance(StrEnum):
    """By which rule of the tolerance table a check judges a reading; NONE: it is not compared."""

    STATION = "station"
    LEVEL = "level"
    BIG = "big"
    INTERVAL = "interval"
    LENGTH = "length"
    NONE = ""


Quotient = tuple[Form, Form]
_MEASURES = ((HH, "heads"), (FW, "face widths"), (EW, "eyes"), (HW, "head widths"))


@dataclass(frozen=True)
class Reading:
    """One proportion. ``quotients`` multiply; with ``angle`` the value is atan2 of the one quotient, in degrees."""

    key: str
    label: str
    meaning: str
    kind: Kind
    group: str
    quotients: tuple[Quotient, ...]
    role: Role
    low: str = "small"
    high: str = "large"
    angle: bool = False
    by_words: str = ""
    """What it is counted in, where that is none of the head's own measures."""
    rule: Rule = Rule.SIZE
    tolerance: Tolerance = Tolerance.LENGTH
    side: str = ""
    """``l`` or ``r`` where it is about one side of a pair alone."""
    pair: str = ""
    """Key of the same reading of the other side."""
    about: str = ""
    """Of an unevenness: the landmark it is about, or the pair's name without its side."""

    @property
    def over(self) -> Form:
        """The length this reading is about."""
        return self.quotients[0][0]

    @cached_property
    def needs(self) -> frozenset[str]:
        return frozenset().union(*(a.needs | b.needs for a, b in self.quotients))

    @property
    def unit(self) -> str:
        if self.angle:
            return "°"
        by = self.quotients[0][1]
        return next((words for form, words in _MEASURES if by == form), self.by_words)


@dataclass(frozen=True)
class Registry:
    """An ordered set of readings over one schema. The artist's own spans join by :meth:`plus`."""

    schema: Schema
    readings: tuple[Reading, ...]

    @cached_property
    def index(self) -> dict[str, int]:
        return {r.key: i for i, r in enumerate(self.readings)}

    @property
    def keys(self) -> list[str]:
        return [r.key for r in self.readings]

    def __getitem__(self, key: str) -> Reading:
        try:
            return self.readings[self.index[key]]
        except KeyError:
            raise UnknownName("reading", key, self.keys) from None

    def of_role(self, *roles: Role) -> tuple[Reading, ...]:
        return tuple(r for r in self.readings if r.role in roles)

    def plus(self, extra: Iterable[Reading]) -> Registry:
        return Registry(self.schema, (*self.readings, *extra))


IND, DER, OBS = Role.INDEPENDENT, Role.DERIVED, Role.OBSERVED
SIZE, STATION, SIGNED = Kind.SIZE, Kind.STATION, Kind.SIGNED


def _one(
    key: str, label: str, kind: Kind, group: str, over: Form, by: Form, role: Role, words: str, meaning: str,
    tolerance: Tolerance = Tolerance.LENGTH, rule: Rule = Rule.SIZE,
) -> Reading:  # fmt: skip
    low, high = words.split("/")
    return Reading(key, label, meaning, kind, group, ((over, by),), role, low, high, rule=rule, tolerance=tolerance)


def _uneven(
    key: str, label: str, meaning: str, over: Form, rule: Rule, about: str, tolerance: Tolerance = Tolerance.LEVEL
) -> Reading:
    low, high = ("right low", "left low") if rule is Rule.LEVEL else ("to the right", "to the left")
    return Reading(
        key, label, meaning, SIGNED, "Balance", ((over, HH),), Role.BALANCE, low, high, rule=rule, tolerance=tolerance, about=about
    )  # fmt: skip


def _stations() -> list[Reading]:
    rows = [
        ("hairline", "Hairline", "Head", ("trichion",), IND, "where the forehead meets the hair"),
        ("glabella", "Between the brows", "Head", ("glabella",), OBS, "the swelling between the brows"),
        ("brow", "Brow line", "Eyes", both("brow_peak"), IND, "mean of both brow peaks"),
        ("nasion", "Nose root", "Nose", ("nasion",), DER, "where the nose leaves the forehead"),
        ("eye", "Eye line", "Eyes", both("endocanthion") + both("exocanthion"), IND, "mean of the four eye corners"),
        ("nose_base", "Nose base", "Nose", ("subnasale",), IND, "where the nose meets the upper lip"),
        ("mouth", "Mouth line", "Mouth", ("stomion",), IND, "where the lips meet"),
        ("ear_top", "Ear top", "Head", both("superaurale"), IND, "mean of both ear tops"),
        ("ear_bottom", "Ear bottom", "Head", both("subaurale"), IND, "mean of both ear lobes"),
    ]
    return [
        _one(
            f"{k}_station",
            label,
            STATION,
            group,
            y(*pts) - y("vertex"),
            HH,
            role,
            "high/low",
            f"{m}; crown 0, chin 1",
            Tolerance.STATION,
            Rule.STATION,
        )
        for k, label, group, pts, role, m in rows
    ]


def _sizes() -> list[Reading]:
    eye_open = height("palpebrale_superius", "palpebrale_inferius")
    iris = width("iris_lateral", "iris_medial")
    nose_mouth = y("stomion") - y("subnasale")
    eye_line = y(*both("endocanthion"), *both("exocanthion"))
    brow_line = y(*both("brow_peak"))
    face = y("gnathion") - y("trichion")
    upper, lower = y("stomion") - y("labiale_superius"), y("labiale_inferius") - y("stomion")
    nw, sl, fl = "narrow/wide", "short/long", "thin/full"
    BIG, INTERVAL, NONE = Tolerance.BIG, Tolerance.INTERVAL, Tolerance.NONE
    rows: list[tuple[Any, ...]] = [
        ("eye_width_fw", "Eye width", SIZE, "Eyes", EW, FW, IND, nw, "corner to corner, in face widths"),
        ("eye_gap_ew", "Gap between", SIGNED, "Eyes", span("endocanthion"), EW, IND, "close/wide", "between the inner corners, in eye widths", INTERVAL),
        ("eye_opening_ew", "Eye opening", SIZE, "Eyes", eye_open, EW, IND, "hooded/open", "upper lid to lower lid, in eye widths"),
        ("iris_ew", "Iris", SIZE, "Eyes", iris, EW, IND, "small/large", "iris across, in eye widths"),
        ("pupil_iris", "Pupil", SIZE, "Eyes", width("pupil_lateral", "pupil_medial"), iris, OBS, "small/large", "pupil across, in iris widths"),
        ("lid_visible_eo", "Lid showing", SIZE, "Eyes", height("lid_crease", "palpebrale_superius"), eye_open, OBS, "hidden/deep", "crease to lid edge, in openings"),
        ("brow_length_ew", "Brow length", SIZE, "Eyes", width("brow_outer", "brow_inner"), EW, IND, sl, "inner to outer end, in eye widths"),
        ("brow_thickness_ew", "Brow thickness", SIZE, "Eyes", height("brow_peak", "brow_lower_peak"), EW, IND, "thin/thick", "at its peak, in eye widths"),
        ("brow_gap_ew", "Brow gap", SIGNED, "Eyes", span("brow_inner"), EW, OBS, "close/wide", "between the brows' inner ends, in eye widths", INTERVAL),
        ("brow_peak_ew", "Brow peak place", SIGNED, "Eyes", width("brow_peak", "endocanthion"), EW, OBS, "inward/outward", "from the inner corner along the eye, in eye widths"),
        ("brow_eye_hh", "Brow to eye", SIZE, "Eyes", eye_line - brow_line, HH, DER, "tight/open", "brow line to eye line, in heads", INTERVAL),
        ("eye_height_hh", "Eye height", SIZE, "Eyes", eye_open, HH, DER, "low/tall", "upper lid to lower lid, in heads"),
        ("outer_span_fw", "Outer corners apart", SIZE, "Eyes", span("exocanthion"), FW, DER, nw, "between the outer corners, in face widths", BIG),
        ("eyes_across", "Eyes across the face", SIZE, "Eyes", FW, EW, DER, "few/many", "how many eye widths the face is wide"),
        ("eye_mouth_hh", "Eye to mouth", SIZE, "Mouth", y("stomion") - eye_line, HH, DER, sl, "eye line to mouth line, in heads", INTERVAL),
        ("eye_mouth_fw", "Eye to mouth by width", SIZE, "Mouth", y("stomion") - eye_line, FW, DER, sl, "eye line to mouth line, in face widths"),
        ("nose_length_hh", "Nose length", SIZE, "Nose", y("subnasale") - y("nasion"), HH, IND, sl, "root to base, in heads"),
        ("nose_width_fw", "Nose width", SIZE, "Nose", span("alare"), FW, IND, nw, "wing to wing, in face widths"),
        ("mouth_width_fw", "Mouth width", SIZE, "Mouth", span("cheilion"), FW, IND, nw, "corner to corner, in face widths"),
        ("upper_lip_hh", "Upper lip", SIZE, "Mouth", upper, HH, IND, fl, "its red, at the middle, in heads"),
        ("lower_lip_hh", "Lower lip", SIZE, "Mouth", lower, HH, IND, fl, "its red, at the middle, in heads"),
        ("upper_lip_share", "Upper lip's share", STATION, "Mouth", upper, upper + lower, DER, fl, "of the red of both lips", NONE),
        ("philtrum_share", "Philtrum share", STATION, "Mouth", y("labiale_superius") - y("subnasale"), y("gnathion") - y("subnasale"), DER, sl, "nose base to the upper lip's edge, of nose base to chin", INTERVAL),
        ("nose_mouth_hh", "Nose to mouth", SIZE, "Mouth", nose_mouth, HH, DER, sl, "nose base to mouth line, in heads", INTERVAL),
        ("mouth_nose", "Mouth by nose", SIZE, "Mouth", span("cheilion"), span("alare"), DER, nw, "mouth width in nose widths"),
        ("cheilion_alare_fw", "Corner past nostril", SIGNED, "Mouth", (span("cheilion") - span("alare")) * 0.5, FW, DER, "inside/outside", "mouth corner beyond the nostril wing, in face widths"),
        ("cheilion_pupil_fw", "Corner past pupil", SIGNED, "Mouth", (span("cheilion") - span("pupil")) * 0.5, FW, OBS, "inside/outside", "mouth corner beyond the pupil, in face widths"),
        ("face_width_hh", "Face width", SIZE, "Head", FW, HH, IND, nw, "cheek to cheek, in heads", BIG),
        ("head_width_hh", "Skull width", SIZE, "Head", HW, HH, IND, nw, "the skull at its widest, in heads", BIG),
        ("jaw_width_fw", "Jaw width", SIZE, "Head", span("gonion"), FW, IND, nw, "corner to corner, in face widths", BIG),
        ("chin_width_fw", "Chin width", SIZE, "Head", span("chin_side"), FW, IND, nw, "side to side, in face widths"),
        ("temple_width_fw", "Temple width", SIZE, "Head", span("frontotemporale"), FW, OBS, nw, "temple to temple, in face widths"),
        ("face_ratio", "Height by width", SIZE, "Head", HH, FW, DER, "broad/tall", "head height in face widths", BIG),
        ("chin_hh", "Chin", SIZE, "Mouth", y("gnathion") - y("stomion"), HH, DER, sl, "mouth line to chin, in heads", INTERVAL),
        ("forehead_hh", "Forehead", SIZE, "Head", brow_line - y("trichion"), HH, DER, "low/high", "hairline to brow line, in heads", INTERVAL),
        ("upper_third", "Upper third", STATION, "Head", brow_line - y("trichion"), face, DER, sl, "hairline to brow, of hairline to chin"),
        ("middle_third", "Middle third", STATION, "Head", y("subnasale") - brow_line, face, DER, sl, "brow to nose base, of hairline to chin"),
        ("lower_third", "Lower third", STATION, "Head", y("gnathion") - y("subnasale"), face, DER, sl, "nose base to chin, of hairline to chin"),
        ("eye_chin_triangle", "Eyes–chin triangle", SIZE, "Head", y("gnathion") - y(*both("exocanthion")), span("exocanthion"), DER, "flat/steep", "height of the triangle of outer corners and chin, in its base"),
        ("ear_length_hh", "Ear length", SIZE, "Head", height("superaurale", "subaurale"), HH, DER, sl, "top to lobe, in heads"),
        ("neck_width_hw", "Neck width", SIZE, "Head", span("neck_side"), HW, IND, "thin/thick", "side to side, in head widths"),
        ("neck_length_hh", "Neck length", SIZE, "Head", y("suprasternale") - y("gnathion"), HH, OBS, sl, "chin to the pit of the neck, in heads"),
        ("hair_height_hh", "Hair above the skull", SIGNED, "Hair", y("vertex") - y("hair_top"), HH, OBS, "flat/high", "hair mass over the crown, in heads"),
        ("hair_width_hw", "Hair width", SIZE, "Hair", span("hair_side"), HW, OBS, nw, "hair mass at its widest, in head widths"),
        ("parting_offset_hw", "Parting", SIGNED, "Hair", x("parting") - AXIS, HW, OBS, "to the right/to the left", "the parting's offset toward the character's left, in head widths"),
    ]  # fmt: skip
    return [_one(*row) for row in rows]


def _angles_and_areas() -> list[Reading]:
    eye_open = height("palpebrale_superius", "palpebrale_inferius")
    tilt = (height("exocanthion", "endocanthion"), EW)
    brow = (height("brow_outer", "brow_inner"), width("brow_outer", "brow_inner"))
    return [
        Reading("eye_tilt_deg", "Corner tilt", "outer corner above the inner one, in degrees", SIGNED, "Eyes", (tilt,), IND, "down", "up", True, rule=Rule.ANGLE, tolerance=Tolerance.LEVEL),
        Reading("brow_tilt_deg", "Brow tilt", "outer end above the inner one, in degrees", SIGNED, "Eyes", (brow,), OBS, "down", "up", True, rule=Rule.ANGLE, tolerance=Tolerance.NONE),
        Reading("eye_area_face", "Eye area", "both eyes' boxes as a share of the face's box", SIZE, "Eyes",
                ((EW * 2, FW), (eye_open, HH)), DER, tolerance=Tolerance.NONE),
    ]  # fmt: skip


_SIDED: list[tuple[str, str, str, Callable[[str], Form], Form, str, str]] = [
    ("eye_width_{}_fw", "{} eye width", "Balance", lambda s: width("exocanthion", "endocanthion", s), FW, "narrow", "wide"),
    ("eye_opening_{}_ew", "{} eye opening", "Balance", lambda s: height("palpebrale_superius", "palpebrale_inferius", s), EW, "hooded", "open"),
    ("iris_{}_ew", "{} iris", "Balance", lambda s: width("iris_lateral", "iris_medial", s), EW, "small", "large"),
    ("brow_length_{}_ew", "{} brow length", "Balance", lambda s: width("brow_outer", "brow_inner", s), EW, "short", "long"),
    ("ear_length_{}_hh", "{} ear length", "Balance", lambda s: height("superaurale", "subaurale", s), HH, "short", "long"),
]  # fmt: skip


def _balance() -> list[Reading]:
    out = []
    for pattern, label, group, form, by, low, high in _SIDED:
        for s, other, word in (("l", "r", "Left"), ("r", "l", "Right")):
            text = f"the character's {word.lower()} side alone"
            out.append(
                Reading(
                    pattern.format(s), label.format(word), text, SIZE, group, ((form(s), by),), Role.BALANCE, low, high,
                    tolerance=Tolerance.LEVEL, side=s, pair=pattern.format(other),
                )
            )  # fmt: skip
    bases = dict.fromkeys(m.base for m in FRONT.landmarks if m.side)
    words = {m.base: m.words.removeprefix("left ") for m in FRONT.landmarks if m.side}
    for b in bases:
        w = words[b]
        level = y(f"{b}_l") - y(f"{b}_r")
        out.append(_uneven(f"level_{b}_hh", f"Level, {w}", f"{w}: left one below the right one, in heads", level, Rule.LEVEL, b))
        if b != "zygion":
            text = f"{w}: middle of the pair off the face's centre line, toward the left, in heads"
            out.append(_uneven(f"centre_{b}_hh", f"Centre, {w}", text, centre(b) - AXIS, Rule.CENTRE, b))
    for m in FRONT.landmarks:
        if not m.side and m.group != "Hair":
            text = f"{m.words} off the face's centre line, toward the left, in heads"
            out.append(_uneven(f"offset_{m.name}_hh", f"Centre, {m.words}", text, x(m.name) - AXIS, Rule.OFFSET, m.name))
    block = (centre("endocanthion") + centre("exocanthion") + centre("alare") + centre("cheilion")) * 0.25 - AXIS
    text = "eyes, nose and mouth together off the centre line"
    out.append(_uneven("feature_offset_hh", "Centre, all features", text, block, Rule.BLOCK, "", Tolerance.NONE))
    gaze = {s: x(f"pupil_{s}") - (x(f"endocanthion_{s}") + x(f"exocanthion_{s}")) * 0.5 for s in "lr"}
    both_gazes = (
        ("gaze_l_ew", "Left gaze", "pupil off the middle of its opening, in eye widths", gaze["l"], "to the right", "to the left", "l", "gaze_r_ew"),
        ("gaze_r_ew", "Right gaze", "pupil off the middle of its opening, in eye widths", gaze["r"], "to the right", "to the left", "r", "gaze_l_ew"),
        ("gaze_agreement_ew", "Gaze agrees", "difference of the two gazes, in eye widths", gaze["l"] - gaze["r"], "crossed", "apart", "", ""),
    )  # fmt: skip
    for key, label, meaning, over, low, high, side, pair in both_gazes:
        out.append(
            Reading(
                key, label, meaning, SIGNED, "Balance", ((over, EW),), Role.BALANCE, low, high,
                rule=Rule.GAZE, tolerance=Tolerance.NONE, side=side, pair=pair,
            )
        )  # fmt: skip
    return out


@cache
def front_registry() -> Registry:
    """All readings of the front face."""
    return Registry(FRONT, (*_stations(), *_sizes(), *_angles_and_areas(), *_balance()))
