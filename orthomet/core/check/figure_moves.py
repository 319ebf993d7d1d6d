"""Named moves of a figure: bones longer or shorter with all that hangs on them, parts larger, wider, thicker, higher, tilted.

What lies along a bone goes along with it by its share; what lies beyond goes along whole, so that a longer forearm takes its hand with it.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from ..kinds import Array, there
from ..landmarks.views import FIGURE
from .moves import Move

BONES = {
    "upper_arm": ("acromion", "radiale"), "forearm": ("radiale", "stylion"), "hand": ("stylion", "dactylion"), "thigh": ("trochanterion", "patella"),
    "shin": ("patella", "malleolus"), "foot": ("heel", "toe_tip"),
}  # fmt: skip
LIMBS = {"arm": ("upper_arm", "forearm", "hand"), "leg": ("thigh", "shin", "foot")}
ALONG = {
    "upper_arm": ("upper_arm_outer", "upper_arm_inner"), "forearm": ("forearm_outer", "forearm_inner", "wrist_outer", "wrist_inner"),
    "hand": ("knuckle", "hand_outer", "hand_inner"), "thigh": ("thigh_outer", "thigh_inner", "knee_outer", "knee_inner"),
    "shin": ("calf_outer", "calf_inner", "ankle_outer", "ankle_inner"), "foot": ("foot_outer", "foot_inner"),
}  # fmt: skip
WORDS = {"upper_arm": "upper arm", "forearm": "forearm", "hand": "hand", "thigh": "thigh", "shin": "shin", "foot": "foot"}
MANY = {
    "upper_arm": "upper arms",
    "forearm": "forearms",
    "hand": "hands",
    "thigh": "thighs",
    "shin": "shins",
    "foot": "feet",
    "arm": "arms",
    "leg": "legs",
}
SIDE = {"l": "left", "r": "right"}
HEAD = ("vertex", "gnathion", "euryon_l", "euryon_r")
ENDS = {"hand": ("stylion", "hand_outer", "hand_inner"), "foot": ("heel", "foot_outer", "foot_inner")}
"""What is larger as a whole: about which landmark, and the ends of its width."""
THICK = {
    "upper_arm": "the upper arms", "forearm": "the forearms", "wrist": "the wrists", "thigh": "the thighs", "knee": "the knees", "calf": "the calves",
    "ankle": "the ankles", "hand": "the hands", "foot": "the feet",
}  # fmt: skip
WIDE = {
    "shoulder_side": ("shoulder_hh", "the shoulders"), "ribcage_side": ("ribcage_hh", "the rib cage"), "waist_side": ("waist_hh", "the waist"),
    "iliocristale": ("pelvis_hh", "the pelvis"), "hip_side": ("hip_hh", "the hips"), "euryon": ("head_width_hh", "the skull"),
}  # fmt: skip


def bone_of(limb: str, bone: str) -> tuple[str, ...]:
    """A bone and all beyond it on its limb."""
    chain = LIMBS[limb]
    return chain[chain.index(bone) :]


def on_bones(bones: Iterable[str], side: str) -> list[str]:
    """Everything that lies on bones, their inner ends left out."""
    out = []
    for b in bones:
        inner, outer = BONES[b]
        out += [f"{n}_{side}" for n in (*ALONG[b], outer, *((inner,) if b == "foot" else ()))]
    return out


class _Builder:
    def __init__(self, points: Array):
        self.x, self.there, self.out = points, there(points), list[Move]()

    def at(self, names: Iterable[str]) -> list[int]:
        return [i for i in (FIGURE.index[n] for n in names) if self.there[i]]

    def spot(self, name: str) -> Array | None:
        i = FIGURE.index[name]
        return self.x[i] if self.there[i] else None

    def none(self) -> Array:
        return np.zeros_like(self.x)

    def add(
        self, name: str, more: str, less: str, reading: str, field: Array | None, shifts: bool = False, turns: bool = False
    ) -> None:
        size = float(np.hypot(*field.T).max()) if field is not None else 0.0
        if field is not None and size > 1e-9:
            self.out.append(Move(name, more, less, reading, field / size, shifts, 1 / size if turns else 0.0, FIGURE))

    def axis(self) -> Array:
        """Down the trunk, a unit vector; down the picture where nothing tells."""
        top, low = (self.at((f"{n}_l", f"{n}_r")) for n in ("acromion", "trochanterion"))
        if len(top) < 2 or len(low) < 2:
            return np.array([0.0, 1.0])
        d = self.x[low].mean(0) - self.x[top].mean(0)
        return np.asarray(d / max(float(np.hypot(*d)), 1e-9))

    def bone(self, bone: str, side: str) -> tuple[Array, float] | None:
        """Which way a bone goes, and how long it is."""
        a, b = (self.spot(f"{n}_{side}") for n in BONES[bone])
        if a is None or b is None:
            return None
        long = float(np.hypot(*(b - a)))
        return ((b - a) / long, long) if long > 1e-6 else None

    def longer(self, limb: str, bones: Sequence[str], side: str) -> Array | None:
        """Bones of one limb longer, each by its share of them all."""
        known = {b: way for b in bones if (way := self.bone(b, side)) is not None}
        if len(known) < len(bones):
            return None
        total, field = sum(long for _, long in known.values()), self.none()
        for b, (u, long) in known.items():
            root = self.spot(f"{BONES[b][0]}_{side}")
            assert root is not None
            for i in self.at(f"{n}_{side}" for n in (*ALONG[b], BONES[b][1])):
                t = float(np.clip((self.x[i] - root) @ u / long, 0, 1))
                field[i] += u * t * long / total
            beyond = bone_of(limb, b)[1:]
            field[self.at(on_bones(beyond, side))] += u * long / total
        return field

    def shifted(self, names: Iterable[str], by: Array) -> Array:
        field = self.none()
        field[self.at(names)] = by
        return field

    def grown(self, names: Iterable[str], about: str) -> Array | None:
        c = self.spot(about)
        if c is None:
            return None
        i, field = self.at(names), self.none()
        field[i] = self.x[i] - c
        return field

    def apart(self, a: str, b: str) -> Array | None:
        """Two points away from each other, half the step each."""
        p, q = self.spot(a), self.spot(b)
        if p is None or q is None or float(np.hypot(*(p - q))) < 1e-6:
            return None
        u = (p - q) / np.hypot(*(p - q))
        return self.shifted((a,), u / 2) + self.shifted((b,), -u / 2)


def _sum(*fields: Array | None) -> Array | None:
    whole = [f for f in fields if f is not None]
    return np.sum(whole, 0) if len(whole) == len(fields) else None


def figure_moves(points: Array, known: bool = True, judged: frozenset[str] | None = None) -> list[Move]:
    """All named moves that a drawn figure with these landmarks allows: ``(n, 2)`` in the view's order, heads as drawn. In a pose that is not
    ``known`` nobody can tell a shoulder that is too high from an arm that is too long: then it is the arm. ``judged`` are the bones of which
    the drawing tells how long they are, all of them without it: where one of a pair is turned away, nothing says that both are too long.
    """
    b = _Builder(points)
    _bones(b, judged)
    for where, words in THICK.items():
        thick = [b.apart(f"{where}_outer_{s}", f"{where}_inner_{s}") for s in "lr"]
        flat = where in ("hand", "foot")
        more, less, key = ("Widen", "Narrow", f"{where}_width_hh") if flat else ("Thicken", "Thin", f"{where}_girth_hh")
        b.add(f"{where} thickness", f"{more} {words}", f"{less} {words}", key, _sum(*thick))
    for point, (key, words) in WIDE.items():
        b.add(f"{point} width", f"Widen {words}", f"Narrow {words}", key, b.apart(f"{point}_l", f"{point}_r"))
    _whole(b)
    if known:
        _shoulders(b)
    return b.out


def _bones(b: _Builder, judged: frozenset[str] | None) -> None:
    def told(bones: Sequence[str], sides: str) -> bool:
        return judged is None or all(f"{x}_{s}" in judged for x in bones[:2] for s in sides)

    for limb, chain in LIMBS.items():
        for bones in (*((x,) for x in chain), chain):
            kind = bones[0] if len(bones) == 1 else limb
            key = f"{bones[0]}_hh"
            if kind in ENDS:
                _larger(b, kind, key, told((kind,), "lr"))
                if not b.at(f"{n}_{s}" for n in ENDS[kind][1:] for s in SIDE):
                    continue  # without its width nobody can tell whether it is longer or larger
            field = {s: b.longer(limb, bones, s) if told(bones, s) else None for s in SIDE}
            for s, side in SIDE.items():
                who = f"the {side} {WORDS.get(kind, limb)}" if len(bones) == 1 else f"the whole {side} {limb}"
                b.add(f"{side} {kind} longer/shorter", f"Make {who} longer", f"Make {who} shorter", key, field[s])
            pair = f"both {MANY[kind]}" if len(bones) == 1 else "arms and hands" if limb == "arm" else "the whole legs"
            floor = _floor(b, field) if limb == "leg" else None
            both = _sum(*field.values()) if floor is None else _sum(*field.values(), floor)
            b.add(f"{MANY[kind]} longer/shorter", f"Make {pair} longer", f"Make {pair} shorter", key, both)


def _larger(b: _Builder, bone: str, key: str, both: bool) -> None:
    """A hand or a foot as a whole, about its inner end."""
    root, *_ = ENDS[bone]
    grown = {s: b.grown(on_bones((bone,), s), f"{root}_{s}") for s in SIDE}
    for s, side in SIDE.items():
        b.add(f"{side} {bone} larger/smaller", f"Enlarge the {side} {bone}", f"Shrink the {side} {bone}", key, grown[s])
    if both:
        b.add(
            f"{MANY[bone]} larger/smaller", f"Enlarge both {MANY[bone]}", f"Shrink both {MANY[bone]}", key, _sum(*grown.values())
        )


def _floor(b: _Builder, field: dict[str, Array | None]) -> Array | None:
    """The floor under legs that grow: as far down as the feet go."""
    heels = [f[i, 1] for s, f in field.items() if f is not None for i in b.at((f"heel_{s}", f"toe_tip_{s}", f"malleolus_{s}"))]
    return b.shifted(("floor",), np.array([0.0, float(np.max(heels)) if heels else 0.0]))


def _whole(b: _Builder) -> None:
    down = b.axis()
    legs = [n for s in SIDE for n in on_bones(LIMBS["leg"], s)]
    hips = ("trochanterion_l", "trochanterion_r", "hip_side_l", "hip_side_r", "iliocristale_l", "iliocristale_r", "perineum")
    head = b.shifted((*HEAD, "neck_side_l", "neck_side_r"), -down)
    b.add("neck longer/shorter", "Make the neck longer", "Make the neck shorter", "neck_length_hh", head)
    b.add("head larger/smaller", "Enlarge the head", "Shrink the head", "heads_tall", b.grown(HEAD, "gnathion"))
    below = b.shifted((*hips, *legs), down) + b.shifted(("floor",), np.array([0.0, 1.0]))
    b.add("trunk longer/shorter", "Make the trunk longer", "Make the trunk shorter", "trunk_hh", below)
    body = [n for n in FIGURE.names if n not in HEAD]
    b.add(
        "body larger/smaller",
        "Make the body below the head larger",
        "Make the body below the head smaller",
        "heads_tall",
        b.grown(body, "gnathion"),
    )
    for key, words, pair, along in (
        ("acromion_hh", "shoulder line", "acromion", LIMBS["arm"]),
        ("hip_hh", "hip line", "trochanterion", LIMBS["leg"]),
    ):
        ends = [b.spot(f"{pair}_{s}") for s in "rl"]
        if ends[0] is None or ends[1] is None:
            continue
        right = 1.0 if ends[1][0] > ends[0][0] else -1.0  # a positive amount lowers the picture's right
        outer = {"acromion": "shoulder_side", "trochanterion": "hip_side"}[pair]
        field, wide = b.none(), float(np.hypot(*(ends[1] - ends[0])))
        for s, sign in (("l", right), ("r", -right)):
            field[b.at([f"{pair}_{s}", f"{outer}_{s}", *on_bones(along, s)])] = sign * down / 2
        if wide > 1e-6:
            b.add(
                f"{words} tilt",
                f"Lower the {words} at the picture’s right",
                f"Raise the {words} at the picture’s right",
                key,
                field,
            )
            b.out[-1] = _turning(b.out[-1], wide)


def _shoulders(b: _Builder) -> None:
    down = b.axis()
    arms = [n for s in SIDE for n in on_bones(LIMBS["arm"], s)]
    shoulders = ("acromion_l", "acromion_r", "shoulder_side_l", "shoulder_side_r", "suprasternale")
    b.add(
        "shoulders up/down",
        "Lower the shoulders",
        "Raise the shoulders",
        "neck_length_hh",
        b.shifted((*shoulders, *arms), down),
        True,
    )
    for s, side in SIDE.items():
        one = b.shifted((f"acromion_{s}", f"shoulder_side_{s}"), down)
        b.add(f"{side} shoulder up/down", f"Lower the {side} shoulder", f"Raise the {side} shoulder", "acromion_hh", one, True)


def _turning(m: Move, wide: float) -> Move:
    """A tilt told in degrees: each end goes by its amount."""
    return Move(m.name, m.more, m.less, m.reading, m.field, False, 2.0 / wide, m.schema)
