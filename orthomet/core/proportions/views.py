"""Readings of the profile and of the figure, and the registry of any view with the artist's own spans in it.

A profile is measured as if it looked to the right. Stations bear the same keys as in the front view: they are the same
readings, seen from the side. Limb lengths are straight distances, so a posed limb that lies in the picture plane keeps
its length. Definitions after Farkas (1994) for the face and after common practice for the figure.
"""

from __future__ import annotations

from functools import cache, lru_cache

from ..errors import LandmarkError
from ..kinds import Kind
from ..landmarks.own import DIVISORS, OWN_GROUP, OwnSpan, spans_problem
from ..landmarks.views import FIGURE, OWN, PROFILE, own_ends, schema_with
from .forms import EW, FW, HH, HW, Form, along, distance, span, x, y
from .registry import Reading, Registry, Role, front_registry

SIZE, STATION, SIGNED = Kind.SIZE, Kind.STATION, Kind.SIGNED
OBS, DER, IND = Role.OBSERVED, Role.DERIVED, Role.INDEPENDENT


def _reading(
    key: str, label: str, kind: Kind, group: str, over: Form, words: str, meaning: str, by: Form = HH, role: Role = OBS
) -> Reading:
    low, high = words.split("/")
    return Reading(key, label, meaning, kind, group, ((over, by),), role, low, high)


def _slope(key: str, label: str, group: str, ahead: Form, down: Form, words: str, meaning: str) -> Reading:
    low, high = words.split("/")
    return Reading(key, label, meaning, SIGNED, group, ((ahead, down),), OBS, low, high, True)


@cache
def profile_registry() -> Registry:
    """All readings of the profile."""
    front = front_registry()
    stations = [
        ("hairline", "trichion"), ("glabella", "glabella"), ("brow", "brow_peak"), ("nasion", "nasion"), ("eye", "exocanthion"),
        ("nose_base", "subnasale"), ("mouth", "stomion"), ("ear_top", "superaurale"), ("ear_bottom", "subaurale"),
    ]  # fmt: skip
    rows = []
    for name, point in stations:
        seen = front[f"{name}_station"]
        rows.append(Reading(seen.key, seen.label, f"{seen.meaning.split(';')[0]}, from the side", STATION, seen.group,
                            ((y(point) - y("vertex"), HH),), OBS, "high", "low"))  # fmt: skip
    fb, sl = "behind/ahead", "short/long"
    rows += [
        _reading("nose_length_hh", "Nose length", SIZE, "Nose", y("subnasale") - y("nasion"), sl, "nose root to nose base, in heads"),
        _reading("nose_depth_hh", "Nose out", SIZE, "Nose", x("pronasale") - x("subnasale"), "flat/far out", "tip ahead of the base, in heads"),
        _slope("nose_slope_deg", "Nose slope", "Nose", x("pronasale") - x("nasion"), y("pronasale") - y("nasion"), "steep/flat", "nose bridge off the plumb line, in degrees"),
        _slope("nose_under_deg", "Underside of the nose", "Nose", y("subnasale") - y("pronasale"), x("pronasale") - x("subnasale"), "hanging/turned up", "base below the tip against the level line, in degrees"),
        _reading("upper_lip_out_hh", "Upper lip out", SIGNED, "Mouth", x("labiale_superius") - x("subnasale"), fb, "its edge ahead of the nose base, in heads"),
        _reading("lower_lip_out_hh", "Lower lip out", SIGNED, "Mouth", x("labiale_inferius") - x("labiale_superius"), fb, "its edge ahead of the upper lip's, in heads"),
        _reading("chin_hh", "Chin", SIZE, "Mouth", y("gnathion") - y("stomion"), sl, "mouth line to chin, in heads"),
        _reading("chin_out_hh", "Chin forward", SIGNED, "Head", x("pogonion") - x("subnasale"), fb, "the chin's foremost point ahead of the nose base, in heads"),
        _slope("forehead_slope_deg", "Forehead slope", "Head", x("glabella") - x("trichion"), y("glabella") - y("trichion"), "bulging/fleeing", "hairline to brow ridge off the plumb line, in degrees"),
        _slope("face_slope_deg", "Face slope", "Head", x("pogonion") - x("glabella"), y("pogonion") - y("glabella"), "chin behind/chin ahead", "brow ridge to chin off the plumb line, in degrees"),
        _slope("jaw_slope_deg", "Jaw line", "Head", y("gnathion") - y("gonion"), x("gnathion") - x("gonion"), "level/steep", "jaw corner to chin against the level line, in degrees"),
        _reading("jaw_depth_hh", "Jaw depth", SIZE, "Head", x("gnathion") - x("gonion"), sl, "jaw corner to chin along the level line, in heads"),
        _reading("head_depth_hh", "Head depth", SIZE, "Head", x("glabella") - x("opisthocranion"), "shallow/deep", "brow ridge to the back of the skull, in heads"),
        _reading("ear_place_hd", "Ear place", STATION, "Head", x("tragion") - x("opisthocranion"), "far back/far forward", "front edge of the ear, from the back of the skull (0) to the brow ridge (1)", x("glabella") - x("opisthocranion")),
        _reading("ear_length_hh", "Ear length", SIZE, "Head", y("subaurale") - y("superaurale"), sl, "top to lobe, in heads"),
        _reading("neck_depth_hh", "Neck depth", SIZE, "Head", distance("neck_front", "neck_back"), "thin/thick", "front to back, in heads"),
    ]  # fmt: skip
    return Registry(PROFILE, tuple(rows))


@cache
def figure_registry() -> Registry:
    """All readings of the figure."""
    tall = y("floor") - y("vertex")
    nw, sl, tt = "narrow/wide", "short/long", "thin/thick"

    def down(top: str, bottom: str) -> Form:
        a = y(f"{top}_l", f"{top}_r") if f"{top}_l" in FIGURE.index else y(top)
        b = y(f"{bottom}_l", f"{bottom}_r") if f"{bottom}_l" in FIGURE.index else y(bottom)
        return b - a

    upper, fore = along("acromion", "radiale"), along("radiale", "stylion")
    thigh, shin = along("trochanterion", "patella"), along("patella", "malleolus")

    def thick(where: str) -> Form:
        return along(f"{where}_outer", f"{where}_inner")

    def planned(key: str, label: str, group: str, over: Form, words: str, meaning: str, by: Form = HH) -> Reading:
        return _reading(key, label, SIZE, group, over, words, meaning, by, IND)

    def follows(key: str, label: str, group: str, over: Form, by: Form, words: str, meaning: str, kind: Kind = SIZE) -> Reading:
        return _reading(key, label, kind, group, over, words, meaning, by, DER)

    hw, edge = "in head widths", "edge to edge, in heads"
    rows = [
        planned("heads_tall", "Heads tall", "Whole", tall, "few/many", "crown to floor, in heads"),
        follows("crotch_station_fig", "Crotch", "Whole", down("vertex", "perineum"), tall, "high/low", "of the whole height; crown 0, floor 1", STATION),
        planned("head_width_hh", "Skull width", "Head", HW, nw, "the skull at its widest, in heads"),
        planned("neck_hw", "Neck width", "Head", span("neck_side"), "thin/thick", f"side to side, {hw}", HW),
        planned("neck_length_hh", "Neck length", "Trunk", down("gnathion", "suprasternale"), sl, "chin to the pit of the neck, in heads"),
        planned("trunk_hh", "Trunk", "Trunk", down("acromion", "perineum"), sl, "shoulder joints to crotch, in heads"),
        planned("shoulder_hh", "Shoulders, outline", "Trunk", span("shoulder_side"), nw, "outer outline, in heads"),
        follows("acromion_hh", "Shoulder joints", "Trunk", span("acromion"), HH, nw, "joint to joint, in heads"),
        planned("ribcage_hh", "Rib cage", "Trunk", span("ribcage_side"), nw, "side to side, in heads"),
        planned("waist_hh", "Waist", "Trunk", span("waist_side"), nw, "side to side, in heads"),
        planned("pelvis_hh", "Pelvis", "Trunk", span("iliocristale"), nw, "crest to crest, in heads"),
        planned("hip_hh", "Hips", "Trunk", span("hip_side"), nw, "outer outline, in heads"),
        follows("shoulder_hw", "Shoulders by head", "Trunk", span("shoulder_side"), HW, nw, f"outer outline, {hw}"),
        follows("ribcage_hw", "Rib cage by head", "Trunk", span("ribcage_side"), HW, nw, f"side to side, {hw}"),
        follows("shoulder_hip", "Shoulders by hips", "Trunk", span("shoulder_side"), span("hip_side"), "pear/wedge", "how many hip widths the shoulders are wide"),
        planned("upper_arm_hh", "Upper arm", "Arms", upper, sl, "shoulder joint to elbow, in heads"),
        planned("forearm_hh", "Forearm", "Arms", fore, sl, "elbow to wrist, in heads"),
        planned("hand_hh", "Hand", "Arms", along("stylion", "dactylion"), sl, "wrist to fingertip, in heads"),
        planned("hand_width_hh", "Hand, width", "Arms", thick("hand"), nw, "across the knuckles, in heads"),
        follows("arm_balance", "Upper arm to forearm", "Arms", upper, fore, "forearm long/upper arm long", "how many forearms the upper arm is"),
        follows("thigh_hh", "Thigh", "Legs", thigh, HH, sl, "hip joint to knee, in heads"),
        follows("shin_hh", "Shin", "Legs", shin, HH, sl, "knee to ankle, in heads"),
        planned("leg_balance", "Thigh to shin", "Legs", thigh, "shin long/thigh long", "how many shins the thigh is", shin),
        planned("ankle_height_hh", "Ankle height", "Legs", y("floor") - y("malleolus_l", "malleolus_r"), "low/high", "ankle to floor, in heads"),
        planned("foot_hh", "Foot", "Legs", along("heel", "toe_tip"), sl, "heel to toe tip as seen, in heads"),
        planned("foot_width_hh", "Foot, width", "Legs", thick("foot"), nw, "at the ball, in heads"),
        planned("upper_arm_girth_hh", "Upper arm, thickness", "Girths", thick("upper_arm"), tt, edge),
        planned("forearm_girth_hh", "Forearm, thickness", "Girths", thick("forearm"), tt, edge),
        planned("wrist_girth_hh", "Wrist, thickness", "Girths", thick("wrist"), tt, edge),
        planned("thigh_girth_hh", "Thigh, thickness", "Girths", thick("thigh"), tt, edge),
        planned("knee_girth_hh", "Knee, thickness", "Girths", thick("knee"), tt, edge),
        planned("calf_girth_hh", "Calf, thickness", "Girths", thick("calf"), tt, edge),
        planned("ankle_girth_hh", "Ankle, thickness", "Girths", thick("ankle"), tt, edge),
        follows("forearm_taper", "Forearm taper", "Girths", thick("forearm"), thick("wrist"), "straight/heavy", "how many wrists the forearm is thick"),
        follows("calf_taper", "Calf taper", "Girths", thick("calf"), thick("ankle"), "straight/heavy", "how many ankles the calf is thick"),
    ]  # fmt: skip
    return Registry(FIGURE, tuple(rows))


def registry_of(view: str, spans: tuple[OwnSpan, ...] = ()) -> Registry:
    """Readings of a view, the artist's own spans of that view behind them.

    Raises
    ------
    LandmarkError
        Spans that do not go together.
    """
    return _with_own(view, tuple(s for s in spans if s.view == view))


@lru_cache(maxsize=64)
def _with_own(view: str, spans: tuple[OwnSpan, ...]) -> Registry:
    base = {"front": front_registry, "profile": profile_registry, "figure": figure_registry}[view]()
    if not spans:
        return base
    sentence = spans_problem(spans)
    if sentence:
        raise LandmarkError(sentence)
    schema = schema_with(view, own_ends(e for s in spans for e in s.ends))
    lengths = {s.id: distance(*s.ends) for s in spans}
    rows = []
    for s in spans:
        other = next((o for o in spans if s.by == f"own:{o.id}"), None)
        by = lengths[other.id] if other else {"hh": HH, "fw": FW, "hw": HW, "ew": EW}[s.by]
        words = f"lengths of “{other.name}”" if other else DIVISORS[s.by]
        over = ((lengths[s.id], by),)
        rows.append(Reading(s.key, s.name, f"end to end, in {words}", SIZE, OWN_GROUP, over, OBS, "short", "long", False, words))
    return Registry(schema, (*base.readings, *rows))


@cache
def every_reading() -> dict[str, Reading]:
    """Readings of all views by key; where views share one, the front view's."""
    return {r.key: r for reg in (figure_registry(), profile_registry(), front_registry()) for r in reg.readings}


def known_reading(key: str) -> bool:
    """Whether a key names a reading of any view, or an own span's."""
    return key in every_reading() or bool(OWN.fullmatch(f"{key}_a"))
